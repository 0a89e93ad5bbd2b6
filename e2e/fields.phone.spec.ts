import { execFileSync } from 'node:child_process';
import path from 'node:path';
import type { MediaItem } from '@flimzy/contract';
import { frameStart } from '@flimzy/core/time';
import { wrongs } from './axe';
import { alike, exportedFrame } from './previewed';
import type { Grey } from './ssim';
import { bringIn, clip, doAction, expect, exportTo, goTo, home, openPiece, pieceOf, press, selectClip, test } from './studio';

const SIZE = { width: 640, height: 360 };

/** How much lines differ from their neighbours more than from the lines beyond those: what combs do. Levels of 255. */
function combs({ data, width, height }: Grey): number {
  let sum = 0;
  for (let y = 1; y < height - 2; y += 1)
    for (let x = 0; x < width; x += 1) {
      const [a, b, c] = [data[(y - 1) * width + x] ?? 0, data[y * width + x] ?? 0, data[(y + 1) * width + x] ?? 0];
      sum += Math.max(0, Math.abs(b - (a + c) / 2) - Math.abs(a - c));
    }
  return sum / width / height;
}

test('interlaced material is made whole or left as it was recorded: seen side by side, chosen, and sent so', async ({ page }, info) => {
  const camcorder = 'camcorder';
  const file = info.outputPath(`${camcorder}.mp4`);
  const woven = ['-vf', 'tinterlace=interleave_top,setfield=tff,format=yuv420p', '-flags', '+ilme+ildct', '-x264opts', 'tff=1'];
  const picture = ['-f', 'lavfi', '-i', 'testsrc=size=640x480:rate=50,scroll=horizontal=0.03'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...picture, ...woven, '-t', '2', '-c:v', 'libx264', '-crf', '12', file]);

  await page.goto(`${home()}/piece/demo-first-flight`);
  await expect(clip(page, 0)).toBeAttached();
  await bringIn(page, file);
  const items = async () => (await (await page.request.get(`${home()}/api/media`)).json()) as MediaItem[];
  const brought = async () => (await items()).find(({ name, status }) => name === camcorder && status === 'ready')?.id;
  await expect.poll(brought).toBeTruthy();
  await openPiece(page, 'Fields', [{ media: (await brought()) ?? '', from: 0, frames: 45 }], SIZE);
  await goTo(page, '0:00.20');
  await selectClip(page, 0);
  await doAction(page, 'fields');
  const panel = page.getByTestId('fields-panel');
  await expect(panel.getByRole('radio', { name: 'Deinterlaced' })).toBeChecked();
  const wide = (n: number) =>
    panel
      .locator('img')
      .nth(n)
      .evaluate((node) => (node as HTMLImageElement).naturalWidth);
  for (const n of [0, 1]) await expect.poll(() => wide(n)).toBe(480);

  expect(await wrongs(page, 'all', '[data-testid="fields-panel"]')).toEqual([]);
  const piece = await pieceOf(page);
  const at = frameStart(20, piece.format.rate);
  const whole = await alike(page, piece, at, SIZE.width, 'deinterlaced');
  await press(panel.getByTestId('fields-recorded'));
  await expect(panel.getByRole('radio', { name: 'Fields as recorded' })).toBeChecked();
  const recorded = await alike(page, await pieceOf(page), at, SIZE.width, 'as recorded');
  expect(combs(recorded)).toBeGreaterThan(3 * combs(whole));
  const out = path.join(info.outputDir, 'out.mp4');
  await exportTo(page, out);
  expect(combs(exportedFrame(out, 20, SIZE))).toBeGreaterThan(combs(recorded) / 2);
});
