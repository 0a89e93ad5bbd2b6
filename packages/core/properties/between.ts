import { z } from 'zod';
import { defineProperty } from './property';

/** What is seen between two frames of a clip that runs slowly: the one again, or both mixed. */
export const Between = z.enum(['repeated', 'blended']);
export type Between = z.infer<typeof Between>;

const WORDS: Record<Between, string> = { repeated: 'Frames repeated', blended: 'Frames blended' };

export const between = defineProperty({
  schema: Between,
  plain: 'repeated',
  always: false,
  side: 'picture',
  label: 'Between frames',
  keys: false,
  seldom: true,
  say: (value) => WORDS[value],
  title: (value, clips) => `${WORDS[value]}: ${clips}`,
});
