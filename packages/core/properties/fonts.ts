import { z } from 'zod';

/** The families that ship, for different tempers. What they look like is in `stage/fonts.ts`. */
export const FontId = z.enum(['plain', 'poster', 'tall', 'book', 'elegant', 'round', 'sign', 'hand', 'marker', 'brush', 'typed', 'even']);
export type FontId = z.infer<typeof FontId>;

export const FONT_NAMES: Record<FontId, string> = {
  plain: 'Plain',
  poster: 'Poster',
  tall: 'Tall',
  book: 'Book',
  elegant: 'Elegant',
  round: 'Round',
  sign: 'Sign',
  hand: 'Hand',
  marker: 'Marker',
  brush: 'Brush',
  typed: 'Typed',
  even: 'Even',
};
