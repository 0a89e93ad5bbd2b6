import path from 'node:path';
import { evaluate, pictureLayers, placePicture } from '@flimzy/core/frame';
import { pieceLength } from '@flimzy/core/piece';
import { frameLength, frameStart } from '@flimzy/core/time';
import { readCodes } from '../demo/read';
import { framesDue, sourceFrames } from './frames';
import {
  CODED,
  RESTED,
  SHARP,
  addFromShelf,
  bringIn,
  clip,
  drag,
  expect,
  exportTo,
  ffprobe,
  goTo,
  layout,
  makePiece,
  middleOf,
  pieceOf,
  press,
  selectClip,
  test,
} from './studio';

test.use(SHARP);

test('from three clips on the phone to a file: bring in, assemble, trim, split, delete both ways, undo, export', async ({ page }, info) => {
  await makePiece(page, 'Slice', 'vertical');
  await bringIn(page, CODED('hilltop'), CODED('beach-run'), CODED('dusk'));
  await addFromShelf(page, ['hilltop', 'beach-run', 'dusk']);
  await expect(clip(page, 2)).toBeAttached();
  await expect
    .poll(() => layout(page))
    .toEqual([
      [0, 180, 0],
      [180, 180, 0],
      [360, 180, 0],
    ]);
  expect((await pieceOf(page)).format.rate).toEqual({ num: 30, den: 1 });

  // Split the first clip at a typed time, and delete its second half so that the gap closes.
  await goTo(page, '2.10');
  await press(page.getByTestId('split'));
  await expect.poll(() => layout(page)).toHaveLength(4);
  await goTo(page, '3.00');
  await selectClip(page, 1);
  await press(page.getByTestId('delete-close'));
  await expect
    .poll(() => layout(page))
    .toEqual([
      [0, 70, 0],
      [70, 180, 0],
      [250, 180, 0],
    ]);

  // Pull the end of the second clip up; what follows follows.
  await goTo(page, '7.20');
  await selectClip(page, 1);
  const tail = page.locator('[data-handle="tail"]');
  let shown: { y: number } | null = null;
  await drag(page, await middleOf(tail), { x: 0, y: -70 }, null, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('after it follow');
    await expect(clip(page, 2).getByTestId('would-move')).toBeVisible();
    // A finger that rests lets go of what it caught on, which may move it once more.
    if (await page.evaluate(() => navigator.maxTouchPoints > 0)) await expect(page.locator(RESTED)).toBeAttached();
    shown = await clip(page, 2).boundingBox();
  });
  await expect.poll(async () => (await layout(page))[1]?.[1]).toBeLessThan(150);
  const [, second, third] = await layout(page);
  expect(third?.[0]).toBe(70 + (second?.[1] ?? 0));
  // What follows stands where it was shown before the finger lifted.
  await expect(page.getByTestId('would-move')).toHaveCount(0);
  const made = await clip(page, 2).boundingBox();
  expect(Math.abs((made?.y ?? 0) - ((shown as { y: number } | null)?.y ?? Infinity))).toBeLessThan(1);

  // Take a piece out of the middle and leave a gap; then take that back by its name.
  await goTo(page, '3.15');
  await press(page.getByTestId('split'));
  await expect.poll(() => layout(page)).toHaveLength(4);
  await goTo(page, '2.20');
  await selectClip(page, 1);
  await press(page.getByTestId('delete-leave'));
  await expect(page.getByTestId('gap')).toBeVisible();
  await expect.poll(() => layout(page)).toHaveLength(3);
  await expect(page.getByTestId('undo')).toHaveAttribute('aria-label', /Undo: Delete .*leave a gap/);
  await press(page.getByTestId('undo'));
  await expect.poll(() => layout(page)).toHaveLength(4);
  await expect(page.getByTestId('gap')).toHaveCount(0);

  // The history is there after a reload.
  await page.reload();
  await expect(page.getByTestId('redo')).toHaveAttribute('aria-label', /Redo: Delete/);
  await expect(page.getByTestId('undo')).toHaveAttribute('aria-label', /Undo: Split/);

  // The last clip goes, so that less is made.
  const before = await layout(page);
  await goTo(page, `${before.at(-1)![0]}f`);
  await selectClip(page, before.length - 1);
  await press(page.getByTestId('delete-close'));
  await expect.poll(() => layout(page)).toEqual(before.slice(0, -1));

  const file = path.join(info.outputDir, 'out.mp4');
  expect(await exportTo(page, file)).toBe('Slice.mp4');
  const piece = await pieceOf(page);
  const count = pieceLength(piece) / frameLength(piece.format.rate);
  expect(ffprobe('-select_streams', 'v', '-show_entries', 'stream=codec_name,pix_fmt,width,height,nb_frames', '-of', 'csv=p=0', file)).toBe(
    `h264,1080,1920,yuv420p,${count}`,
  );
  const facts = Object.values(piece.media)[0];
  const side = facts ? placePicture(facts, piece.format, 'fill').width : 0;
  expect(readCodes(file, 1080, 1920, () => side)).toEqual(await framesDue(page, piece));
});

test('the frame shown is the frame asked for: forward, back, by frame and at random, even and variable rates', async ({ page }) => {
  await makePiece(page, 'Exact', 'vertical');
  await bringIn(page, CODED('line-in-hand'), CODED('beach-run'));
  await addFromShelf(page, ['line-in-hand', 'beach-run']);
  await expect(clip(page, 1)).toBeAttached();
  const piece = await pieceOf(page);
  expect(piece.format.rate).toEqual({ num: 30_000, den: 1_001 });
  const canvas = page.getByTestId('picture');
  const frameOf = await sourceFrames(page, piece);
  const { codePoints, readCode } = await import('../demo/code');
  const wrong: string[] = [];
  for (const n of [0, 1, 2, 40, 39, 3, 178, 179, 180, 181, 250, 90, 300, 301, 302, 222, 259, 10, 200, 355]) {
    const { rate } = piece.format;
    await goTo(page, `${n}f`);
    const picture = pictureLayers(evaluate(piece, frameStart(n, rate)).layers).at(-1)?.picture;
    const expected = picture ? frameOf(picture) : null;
    await expect
      .poll(async () => {
        const png = await canvas.screenshot({ scale: 'css' });
        const grey = await greyOf(png);
        const points = codePoints(grey.width, grey.height, grey.width).map(({ x, y }) => grey.at(x, y));
        return readCode(points);
      })
      .toBe(expected)
      .catch(() => wrong.push(`frame ${n} should show ${expected}`));
  }
  expect(wrong).toEqual([]);
});

/** Decodes a PNG to grey values. */
async function greyOf(png: Buffer): Promise<{ width: number; height: number; at: (x: number, y: number) => number }> {
  const { createCanvas, loadImage } = await import('@napi-rs/canvas');
  const image = await loadImage(png);
  const canvas = createCanvas(image.width, image.height);
  const context = canvas.getContext('2d');
  context.drawImage(image, 0, 0);
  const { data } = context.getImageData(0, 0, image.width, image.height);
  return { width: image.width, height: image.height, at: (x, y) => data[(y * image.width + x) * 4 + 1] ?? 0 };
}
