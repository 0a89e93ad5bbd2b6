import { z } from 'zod';
import { defineProperty } from './property';

/** How a picture of another shape is laid into the frame: whole with bars, or covering it with the edges cut. */
export const Fit = z.enum(['fit', 'fill']);
export type Fit = z.infer<typeof Fit>;

export const fit = defineProperty({
  schema: Fit,
  plain: 'fill',
  always: true,
  side: 'picture',
  label: 'Fits by',
  keys: false,
  say: (value) => value,
  title: (value, clips) => (value === 'fill' ? `Fill the frame with ${clips}` : `Fit ${clips} into the frame`),
});
