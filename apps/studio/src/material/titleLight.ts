import { cellsOf, type TitleReader } from '@flimzy/core/analyse';
import { drawTitle } from '@flimzy/stage';
import { LRUCache } from 'lru-cache';

/** Pixels of the longer side of the frame in which a title is drawn for that: eight for each cell. */
const SIDE = 64;

/** Titles that are known at once, each in one moment of its motion (1 kB): while one stands it is the same from frame to frame. */
const KEPT = 1000;

/** Gives what the titles of a piece cover, drawn small with the fonts that are there by now. */
export function titleLights(format: { width: number; height: number }): TitleReader {
  const scale = SIDE / Math.max(format.width, format.height);
  const [width, height] = [Math.round(format.width * scale), Math.round(format.height * scale)];
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
  const known = new LRUCache<string, Float32Array>({ max: KEPT });
  return (title) => {
    if (!context) return null;
    const name = JSON.stringify(title);
    const there = known.get(name);
    if (there) return there;
    context.clearRect(0, 0, width, height);
    drawTitle(context, title, { frame: format, scale });
    const cells = cellsOf(context.getImageData(0, 0, width, height).data, width, height);
    known.set(name, cells);
    return cells;
  };
}
