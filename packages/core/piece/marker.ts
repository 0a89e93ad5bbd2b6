import { z } from 'zod';

/** Markers are told apart by a letter; each letter has a colour of its own in the app. */
export const MARKER_LETTERS = ['A', 'B', 'C', 'D', 'E', 'F'] as const;

/** A named moment, on a timeline or in a media item. */
export const Marker = z.object({
  id: z.string().min(1).max(120),
  /** In flicks: on the timeline, or in the material. */
  time: z.number().int().nonnegative(),
  name: z.string().max(120),
  letter: z.enum(MARKER_LETTERS),
  note: z.string().max(4_000),
});
export type Marker = z.infer<typeof Marker>;
