import { z } from 'zod';
import { defineProperty } from './property';

/** What fills the frame behind a picture that does not: black, or the picture itself, blurred. */
export const Backdrop = z.enum(['black', 'blur']);
export type Backdrop = z.infer<typeof Backdrop>;

export const backdrop = defineProperty({
  schema: Backdrop,
  plain: 'blur',
  always: true,
  side: 'picture',
  label: 'Backdrop',
  keys: false,
  say: (value) => value,
  title: (value, clips) => `${value === 'blur' ? 'Blur' : 'Black'} behind ${clips}`,
});
