import { z } from 'zod';
import { defineProperty, typedNumber } from './property';

/** Levels in dB; the lowest is silence. */
export const LEVEL_MIN = -60;
export const LEVEL_MAX = 14;

/** A level brought within what a clip or a track can have. dB. */
export const withinLevels = (level: number) => Math.max(LEVEL_MIN, Math.min(LEVEL_MAX, level));

/** A number with one digit after the point, its sign as it is set in type. */
export const sayTenths = (value: number) => value.toFixed(1).replace('-', '−');

/** A level as people read it. */
export const sayLevel = (level: number) => (level <= LEVEL_MIN ? 'off' : `${sayTenths(level)} dB`);

/** A percentage of full scale in dB, to a hundredth. */
const ofPercent = (percent: number) => (percent === 0 ? LEVEL_MIN : Math.round(20 * Math.log10(percent / 100) * 100) / 100);

/** A level as people type it: in dB, in percent of full, or "off". Null when it is none. dB. */
function read(text: string): number | null {
  if (/^\s*(off|silent)\s*$/i.test(text)) return LEVEL_MIN;
  const value = typedNumber(text, text.includes('%') ? /%/ : /db/i);
  if (value === null || (text.includes('%') && value < 0)) return null;
  const db = text.includes('%') ? ofPercent(value) : value;
  return db > LEVEL_MAX + 1e-9 ? null : withinLevels(db);
}

/** How loud a clip's sound is: dB, −60 (silent) to +14. */
export const level = defineProperty({
  schema: z.number().min(LEVEL_MIN).max(LEVEL_MAX),
  plain: 0,
  always: true,
  side: 'sound',
  label: 'Level',
  keys: false,
  say: sayLevel,
  figure: {
    read,
    hint: `A level is between ${LEVEL_MIN} and +${LEVEL_MAX} dB, or a percentage up to 500 %.`,
    step: (value, by) => withinLevels(Math.round((value + by * 0.5) * 10) / 10),
  },
  title: (value, clips) => `Level of ${clips} ${sayLevel(value)}`,
});
