import type { Rect } from '@flimzy/core/frame';
import type { Part } from '@flimzy/core/properties';
import { boxOfParts, filesOfParts } from '@flimzy/stage';
import { haveFonts } from './fonts';

export const measuring = document.createElement('canvas').getContext('2d');

/** The box around a title, by what it shows and how large the frame is: measuring it anew at every move of a finger would hold it up. */
const boxes = new WeakMap<readonly Part[], { width: number; height: number; box: Rect }>();

/** Around the parts of a title, in pixels of a frame; with the fonts that are there by now. */
export function boxOfTitle(parts: readonly Part[], format: { width: number; height: number }): Rect | null {
  const known = boxes.get(parts);
  if (known?.width === format.width && known.height === format.height) return known.box;
  if (!measuring) return null;
  const box = boxOfParts(measuring, parts, format);
  if (haveFonts(filesOfParts(parts))) boxes.set(parts, { width: format.width, height: format.height, box });
  return box;
}
