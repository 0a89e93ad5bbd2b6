import { z } from 'zod';
import { defineProperty, typedLevel } from './property';

/** Levels in dB; the lowest is silence. */
export const LEVEL_MIN = -60;
export const LEVEL_MAX = 14;

/** A level brought within what a clip or a track can have. dB. */
export const withinLevels = (level: number) => Math.max(LEVEL_MIN, Math.min(LEVEL_MAX, level));

/** A level as people read it. */
export const sayLevel = (level: number) => (level <= LEVEL_MIN ? 'off' : `${level.toFixed(1).replace('-', '−')} dB`);

/** A level as people type it: in dB, in percent of full, or "off". Null when it is none. dB. */
export const readLevel = (text: string) => {
  const db = typedLevel(text, LEVEL_MIN);
  return db === null || db > LEVEL_MAX + 1e-9 ? null : withinLevels(db);
};

export const LEVEL_HINT = `A level is between ${LEVEL_MIN} and +${LEVEL_MAX} dB, or a percentage up to 500 %.`;

/** How loud a clip's sound is: dB, −60 (silent) to +14. */
export const level = defineProperty({
  schema: z.number().min(LEVEL_MIN).max(LEVEL_MAX),
  plain: 0,
  always: true,
  side: 'sound',
  label: 'Level',
  keys: false,
  say: sayLevel,
  figure: { read: readLevel, hint: LEVEL_HINT, step: (value, by) => withinLevels(Math.round((value + by * 0.5) * 10) / 10) },
  title: (value, clips) => `Level of ${clips} ${sayLevel(value)}`,
});
