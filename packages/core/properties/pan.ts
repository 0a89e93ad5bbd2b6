import { z } from 'zod';
import { defineProperty, typedNumber } from './property';

export const Pan = z.number().min(-1).max(1);

/** Where between left and right, as people read it. */
export const sayPan = (pan: number) => (pan === 0 ? 'middle' : `${Math.round(Math.abs(pan) * 100)} % ${pan < 0 ? 'left' : 'right'}`);

/** As people type it: "30 left", "−30", "R 50", "middle". Null when it is none; −1 to 1. */
function read(text: string): number | null {
  if (/^\s*(middle|m|centre|center|c)\s*$/i.test(text)) return 0;
  const side = /l(eft)?\b/i.test(text) ? -1 : /r(ight)?\b/i.test(text) ? 1 : null;
  const percent = typedNumber(text.replace(/left|right|[lr]\b/gi, ''), /%/);
  if (percent === null || Math.abs(percent) > 100) return null;
  return ((side ?? 1) * (side === null ? percent : Math.abs(percent))) / 100 || 0;
}

/** Where a clip's sound stands: −1 (left) to 1 (right). */
export const pan = defineProperty({
  schema: Pan,
  plain: 0,
  always: false,
  side: 'sound',
  label: 'Pan',
  keys: false,
  say: sayPan,
  figure: {
    read,
    hint: 'Write how far, such as 30 left, 50 right, or middle.',
    step: (value, by) => Math.max(-1, Math.min(1, Math.round((value + by * 0.05) * 100) / 100)) || 0,
  },
  title: (value, clips) => `Pan of ${clips}: ${sayPan(value)}`,
});
