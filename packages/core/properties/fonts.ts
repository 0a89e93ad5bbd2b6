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

/** How thick letters are, as fonts count it (OpenType 1.9, OS/2 usWeightClass). */
export const Weight = z.number().int().min(100).max(900).multipleOf(100);
export type Weight = z.infer<typeof Weight>;

export const REGULAR: Weight = 400;

/** What weights are called, by their hundreds (OpenType 1.9). */
const WEIGHT_NAMES = ['Thin', 'Extra light', 'Light', 'Regular', 'Medium', 'Semibold', 'Bold', 'Extra bold', 'Black'];
export const weightName = (weight: Weight): string => WEIGHT_NAMES[weight / 100 - 1] ?? String(weight);
