import { z } from 'zod';
import { defineProperty } from './property';

/** How a clip differs from itself in one shape: moved by shares of the frame, and so many times as large. */
export const InShape = z.object({
  across: z.number().min(-2).max(2),
  down: z.number().min(-2).max(2),
  scale: z.number().min(0.2).max(5),
});
export type InShape = z.infer<typeof InShape>;

export const AS_EVERYWHERE: InShape = { across: 0, down: 0, scale: 1 };

export const InShapes = z.union([z.literal('none'), z.record(z.string().regex(/^\d{1,2}\.\d{2}$/), InShape)]);
export type InShapes = z.infer<typeof InShapes>;

/** What a shape is called among what clips differ in: its width by its height, to two digits, so that every size of a shape is one. */
export const shapeKey = ({ width, height }: { width: number; height: number }): string => (width / height).toFixed(2);

/** What is done to a clip's picture only where the piece is sent in another shape than its own. */
export const inShapes = defineProperty({
  schema: InShapes,
  plain: 'none',
  always: false,
  side: 'picture',
  label: 'In other shapes',
  keys: false,
  seldom: true,
  say: (value) => (value === 'none' ? 'as here' : `otherwise in ${Object.keys(value).length}`),
  title: (value, clips) => (value === 'none' ? `In other shapes as here: ${clips}` : `In another shape: ${clips}`),
});
