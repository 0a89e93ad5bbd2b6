import { placeOf, type Placed, type Rect } from '@flimzy/core/frame';
import type { Clip, Piece } from '@flimzy/core/piece';
import { partsOf, valueOf } from '@flimzy/core/properties';
import { boxOfPart, filesOfParts } from '@flimzy/stage';
import { boxOfTitle, measuring } from '../material/titleBox';
import { useFonts } from '../material/useFonts';
import { momentOf, sizeOf, type Framed } from '../open/framing';

/** A place in which only a box (pixels of the piece) is seen. */
function onlyBox(placed: Placed, box: Rect, { width, height }: { width: number; height: number }): Placed {
  return {
    ...placed,
    crop: { left: box.x / width, top: box.y / height, right: 1 - (box.x + box.width) / width, bottom: 1 - (box.y + box.height) / height },
  };
}

/** Where what is seen of a clip lies at a time: of a title, what it writes and draws, the rest of its frame being nothing. */
export function seenPlace(piece: Piece, { clip, media }: Framed, time: number): Placed {
  const placed = placeOf(clip, sizeOf(piece, media), piece.format, momentOf(clip, time));
  const overlay = valueOf(clip, 'overlay');
  const box = overlay === 'none' ? null : boxOfTitle(overlay.parts, piece.format);
  return box ? onlyBox(placed, box, piece.format) : placed;
}

/** Where one part of a clip's title lies at a time; null where it has only one, or none. */
export function placeOfPart(piece: Piece, { clip, media }: Framed, time: number, n: number): Placed | null {
  const parts = partsOf(valueOf(clip, 'overlay'));
  const part = parts[n];
  if (!part || parts.length < 2 || !measuring) return null;
  const placed = placeOf(clip, sizeOf(piece, media), piece.format, momentOf(clip, time));
  return onlyBox(placed, boxOfPart(measuring, part, piece.format), piece.format);
}

/** The same with so many pixels of the piece more around what is seen. */
export function withAir(placed: Placed, by: number): Placed {
  const { rect, crop } = placed;
  if (!crop) return placed;
  const [across, down] = [by / rect.width, by / rect.height];
  return { ...placed, crop: { left: crop.left - across, right: crop.right - across, top: crop.top - down, bottom: crop.bottom - down } };
}

/** Gets the fonts of a clip's title, and has what shows it drawn again when they are there. */
export function useFontsOf(clip: Clip | undefined): void {
  useFonts(filesOfParts(partsOf(clip ? valueOf(clip, 'overlay') : 'none')));
}
