import { pictureLayers, type FrameDescription, type Rect } from '@flimzy/core/frame';
import { ServerStage } from './canvas';

/** How many times smaller frames are drawn to find out where there is anything, and how many pixels of the piece more are taken around that. */
const ROUGHLY = 8;
const MARGIN = 2 * ROUGHLY;

/** A box around all that some frames draw, on even pixels, as 4:2:0 has it; a small one where they draw nothing. */
export function boxAround(frames: readonly FrameDescription[], { width, height }: { width: number; height: number }): Rect {
  const stage = new ServerStage(Math.round(width / ROUGHLY), Math.round(height / ROUGHLY), 1 / ROUGHLY);
  // Where a picture is, there may be something of it.
  for (const { picture } of frames.flatMap(({ layers }) => pictureLayers(layers)))
    stage.setPicture(picture.clip, Buffer.alloc(16, 255), 2, 2);
  let [left, top, right, low] = [width, height, 0, 0];
  for (const frame of frames) {
    stage.draw(frame, true);
    const box = stage.drawnBox();
    if (!box) continue;
    [left, top] = [Math.min(left, box.x * ROUGHLY), Math.min(top, box.y * ROUGHLY)];
    [right, low] = [Math.max(right, (box.x + box.width) * ROUGHLY), Math.max(low, (box.y + box.height) * ROUGHLY)];
  }
  if (right <= left) return { x: 0, y: 0, width: 4, height: 2 };
  const [x, y] = [Math.max(0, (left - MARGIN) & ~1), Math.max(0, (top - MARGIN) & ~1)];
  return { x, y, width: Math.min(width - x, (right + MARGIN - x + 1) & ~1), height: Math.min(height - y, (low + MARGIN - y + 1) & ~1) };
}
