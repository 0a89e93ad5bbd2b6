import { z } from 'zod';
import { defineProperty } from './property';

/** Whether a picture is mirrored: left to right, top to bottom, or both. */
export const Flip = z.enum(['none', 'across', 'down', 'both']);
export type Flip = z.infer<typeof Flip>;

const WORDS: Record<Flip, string> = {
  none: 'Not flipped',
  across: 'Flipped left to right',
  down: 'Flipped top to bottom',
  both: 'Flipped both ways',
};

export const flip = defineProperty({
  schema: Flip,
  plain: 'none',
  always: false,
  side: 'picture',
  label: 'Flip',
  keys: false,
  say: (value) => WORDS[value],
  title: (value, clips) => `${WORDS[value]}: ${clips}`,
});

/** The same, mirrored once more one way. */
export function flipped(flip: Flip, way: 'across' | 'down'): Flip {
  const across = (flip === 'across' || flip === 'both') !== (way === 'across');
  const down = (flip === 'down' || flip === 'both') !== (way === 'down');
  if (across && down) return 'both';
  return across ? 'across' : down ? 'down' : 'none';
}
