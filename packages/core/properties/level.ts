import { z } from 'zod';
import { defineProperty, typedNumber } from './property';

/** Levels in dB; the lowest is silence. */
export const LEVEL_MIN = -60;
export const LEVEL_MAX = 12;

const within = (level: number) => Math.max(LEVEL_MIN, Math.min(LEVEL_MAX, level));
const say = (level: number) => (level <= LEVEL_MIN ? 'off' : `${level.toFixed(1).replace('-', '−')} dB`);

/** How loud a clip's sound is: dB, −60 (silent) to +12. */
export const level = defineProperty({
  schema: z.number().min(LEVEL_MIN).max(LEVEL_MAX),
  plain: 0,
  always: true,
  side: 'sound',
  label: 'Level',
  keys: false,
  say,
  figure: {
    read: (text) => {
      const db = text.trim().toLowerCase() === 'off' ? LEVEL_MIN : typedNumber(text, /db/i);
      return db === null || db > LEVEL_MAX ? null : within(db);
    },
    hint: `A level is between ${LEVEL_MIN} and +${LEVEL_MAX} dB.`,
    step: (value, by) => within(value + by * 0.5),
  },
  title: (value, clips) => `Level of ${clips} ${say(value)}`,
});
