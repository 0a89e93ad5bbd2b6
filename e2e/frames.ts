import type { Page } from '@playwright/test';
import { evaluate, pictureLayers, sourceFrameAt, type FrameTimes, type PictureRef } from '@flimzy/core/frame';
import { pieceLength, type Piece } from '@flimzy/core/piece';
import { frameLength, frameStart } from '@flimzy/core/time';
import { home } from './studio';

/** Tells the source frame that shows a picture, by the frame times that the server measured. */
export async function sourceFrames(page: Page, piece: Piece): Promise<(picture: PictureRef) => number> {
  const tables = new Map<string, FrameTimes>();
  for (const id of Object.keys(piece.media))
    tables.set(id, (await (await page.request.get(`${home()}/api/media/${id}/frames`)).json()) as FrameTimes);
  return ({ media, time }) => sourceFrameAt(tables.get(media) as FrameTimes, time);
}

/** The source frame that each frame of a piece is due to show: of its uppermost picture, null where there is none. */
export async function framesDue(page: Page, piece: Piece): Promise<(number | null)[]> {
  const frameOf = await sourceFrames(page, piece);
  const { rate } = piece.format;
  return Array.from({ length: pieceLength(piece) / frameLength(rate) }, (_, n) => {
    const picture = pictureLayers(evaluate(piece, frameStart(n, rate)).layers).at(-1)?.picture;
    return picture ? frameOf(picture) : null;
  });
}
