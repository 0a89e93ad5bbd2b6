import { z } from 'zod';
import { defineProperty } from './property';

/** How interlaced material is seen: each frame made whole from its two fields (deinterlaced), or both fields as they were recorded. */
export const Fields = z.enum(['whole', 'recorded']);
export type Fields = z.infer<typeof Fields>;

const WORDS: Record<Fields, string> = { whole: 'Deinterlaced', recorded: 'Fields as recorded' };

export const fields = defineProperty({
  schema: Fields,
  plain: 'whole',
  always: false,
  side: 'picture',
  label: 'Fields',
  keys: false,
  seldom: true,
  say: (value) => WORDS[value],
  title: (value, clips) => `${WORDS[value]}: ${clips}`,
});
