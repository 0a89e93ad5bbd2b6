import { z } from 'zod';
import { defineProperty } from './property';

/** What becomes of the height of a sound that runs at another speed: it stays, or goes up and down with it. */
export const Pitch = z.enum(['kept', 'follows']);
export type Pitch = z.infer<typeof Pitch>;

const WORDS: Record<Pitch, string> = { kept: 'Pitch kept', follows: 'Pitch follows speed' };

export const pitch = defineProperty({
  schema: Pitch,
  plain: 'kept',
  always: false,
  side: 'sound',
  label: 'Pitch',
  keys: false,
  seldom: true,
  say: (value) => WORDS[value],
  title: (value, clips) => `${WORDS[value]}: ${clips}`,
});
