import type { Piece } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import type { PreviewEngine } from '../open/engine';

/** The pixels of one frame of a piece, drawn apart from the preview, `width` wide; null where it cannot be had. */
export async function stillPixels(engine: PreviewEngine | null, piece: Piece, time: Flicks, width: number): Promise<ImageData | null> {
  const picture = await engine?.still(piece, time, width);
  if (!picture) return null;
  const context = new OffscreenCanvas(picture.width, picture.height).getContext('2d');
  context?.drawImage(picture, 0, 0);
  const pixels = context?.getImageData(0, 0, picture.width, picture.height) ?? null;
  picture.close();
  return pixels;
}
