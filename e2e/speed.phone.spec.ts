import { execFileSync } from 'node:child_process';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { speedOf } from '@flimzy/core/piece';
import { frameLength, frameStart } from '@flimzy/core/time';
import { readCodes } from '../demo/read';
import { framesDue } from './frames';
import { alike } from './previewed';
import {
  CODED,
  TINY,
  addFromShelf,
  bringIn,
  clip,
  doAction,
  expect,
  exportTo,
  goTo,
  mainClips,
  openPiece,
  pieceOf,
  press,
  samplesOf,
  selectClip,
  test,
  typeInto,
} from './studio';

/** Start, length (frames) and speed of the clips of the main track. */
const runs = async (page: Page) => {
  const frame = frameLength((await pieceOf(page)).format.rate);
  return (await mainClips(page)).map((one) => [one.start / frame, one.length / frame, Math.round(speedOf(one) * 1000) / 1000]);
};
const choose = (page: Page, name: string) => press(page.getByTestId('speed-panel').getByRole('radio', { name, exact: true }));

test('clips run faster, slower, backwards and in part; the rest follows or stays, and every frame is the right one', async ({
  page,
}, info) => {
  await openPiece(page, 'Speed', [], { ...TINY, rate: { num: 30_000, den: 1001 } });
  await bringIn(page, CODED('hilltop'), CODED('beach-run'));
  await addFromShelf(page, ['hilltop', 'beach-run']);
  await expect(clip(page, 1)).toBeAttached();
  await goTo(page, '0.10');
  await selectClip(page, 0);
  await typeInto(page, 'card-length', '4.00');
  await goTo(page, '4.10');
  await selectClip(page, 1);
  await typeInto(page, 'card-length', '2.00');
  await expect
    .poll(() => runs(page))
    .toEqual([
      [0, 120, 1],
      [120, 60, 1],
    ]);

  // A part of the first, from in to out, twice as fast: what follows says that it moves, and does.
  await goTo(page, '1.00');
  await doAction(page, 'in');
  await goTo(page, '3.00');
  await doAction(page, 'out');
  await selectClip(page, 0);
  await doAction(page, 'speed');
  const panel = page.getByTestId('speed-panel');
  await expect(panel.getByTestId('speed-rest')).toHaveText('The clip after it moves with its end.');
  await choose(page, 'From in to out');
  await choose(page, '200 %');
  await expect
    .poll(() => runs(page))
    .toEqual([
      [0, 30, 1],
      [30, 30, 2],
      [60, 30, 1],
      [90, 60, 1],
    ]);
  await expect(panel.getByTestId('speed-percent')).toHaveValue('200 %');

  // The last one backwards, and then as long as is typed.
  await press(panel.getByRole('button', { name: 'Close' }));
  await goTo(page, '3.20');
  await selectClip(page, 3);
  await doAction(page, 'speed');
  await choose(page, 'Backwards');
  await typeInto(page, 'speed-length', '3.00');
  await expect
    .poll(() => runs(page))
    .toEqual([
      [0, 30, 1],
      [30, 30, 2],
      [60, 30, 1],
      [90, 90, -0.667],
    ]);
  await expect(panel.getByTestId('speed-percent')).toHaveValue('66.7 % backwards');
  await expect(page.getByText('−67 %')).toBeVisible();

  // Shorter with the rest staying leaves a gap, which it can fill again.
  await press(panel.getByRole('button', { name: 'Close' }));
  await page.keyboard.press('Escape'); // the ends of what is selected reach over its neighbours
  await goTo(page, '2.10');
  await selectClip(page, 2);
  await doAction(page, 'speed');
  await choose(page, 'The rest stays');
  await choose(page, '150 %');
  await expect
    .poll(() => runs(page))
    .toEqual([
      [0, 30, 1],
      [30, 30, 2],
      [60, 20, 1.5],
      [90, 90, -0.667],
    ]);
  await typeInto(page, 'speed-percent', '50');
  await expect(panel.getByText('It cannot go at that speed here.')).toBeVisible();
  await press(panel.getByTestId('speed-fill'));
  await expect.poll(async () => (await runs(page))[2]).toEqual([60, 30, 1]);
  await choose(page, 'The rest follows');
  await press(panel.getByRole('button', { name: 'Close' }));

  const piece = await pieceOf(page);
  for (const n of [45, 60, 91, 150]) await alike(page, piece, frameStart(n, piece.format.rate), 270, `frame ${n}`);
  const file = path.join(info.outputDir, 'out.mp4');
  await exportTo(page, file);
  await page.keyboard.press('Escape');
  expect(readCodes(file, 360, 640, () => 360)).toEqual(await framesDue(page, piece));

  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await runs(page))[2]).toEqual([60, 20, 1.5]);

  // What is between two frames of a slow clip is mixed of both, in the preview as on the server.
  await goTo(page, '4.00');
  await selectClip(page, 3);
  await doAction(page, 'speed');
  await choose(page, 'Blended');
  await expect.poll(async () => (await mainClips(page))[3]?.between).toBe('blended');
  const blended = await pieceOf(page);
  for (const n of [121, 122]) await alike(page, blended, frameStart(n, blended.format.rate), 270, `blended frame ${n}`);
});

/** How much of a tone (Hz) a stretch of a file holds, as an amplitude; seconds. */
function toneIn(samples: Float32Array, hertz: number, from: number, to: number): number {
  let [re, im, count] = [0, 0, 0];
  for (let n = Math.round(from * 48_000); n < Math.round(to * 48_000); n += 1, count += 1) {
    const angle = (2 * Math.PI * hertz * n) / 48_000;
    re += samples[n * 2]! * Math.cos(angle);
    im += samples[n * 2]! * Math.sin(angle);
  }
  return (2 * Math.hypot(re, im)) / count;
}

test('the sound of a faster clip keeps its pitch or follows, or stays as it was on a track of its own', async ({ page }, info) => {
  const tone = info.outputPath('tone.mp4');
  const picture = ['-f', 'lavfi', '-i', 'color=gray:size=360x640:rate=30:duration=4'];
  const sound = ['-f', 'lavfi', '-i', 'sine=f=500:sample_rate=48000:duration=4'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...picture, ...sound, '-pix_fmt', 'yuv420p', '-c:a', 'aac', tone]);
  await openPiece(page, 'Pitch', [], TINY);
  await bringIn(page, tone);
  await addFromShelf(page, ['tone']);
  await selectClip(page, 0);
  await doAction(page, 'speed');
  await choose(page, '200 %');
  await expect.poll(async () => (await runs(page))[0]).toEqual([0, 60, 2]);
  const kept = path.join(info.outputDir, 'kept.mp4');
  await exportTo(page, kept);
  await page.keyboard.press('Escape');
  const loud = toneIn(samplesOf(kept), 500, 0.5, 1.5);
  expect(loud).toBeGreaterThan(0.05);
  expect(toneIn(samplesOf(kept), 1000, 0.5, 1.5)).toBeLessThan(loud / 30);

  await choose(page, 'Pitch follows');
  await expect.poll(async () => (await mainClips(page))[0]?.pitch).toBe('follows');
  const follows = path.join(info.outputDir, 'follows.mp4');
  await exportTo(page, follows, 2);
  await page.keyboard.press('Escape');
  expect(toneIn(samplesOf(follows), 1000, 0.5, 1.5)).toBeCloseTo(loud, 2);
  expect(toneIn(samplesOf(follows), 500, 0.5, 1.5)).toBeLessThan(loud / 30);

  await choose(page, 'Left as it is');
  await choose(page, '400 %');
  await expect.poll(async () => (await runs(page))[0]).toEqual([0, 30, 4]);
  const piece = await pieceOf(page);
  const apart = piece.tracks.flatMap((track) => (track.kind === 'sound' ? track.clips : []));
  expect(apart.map((one) => [one.length / frameLength(piece.format.rate), speedOf(one), one.link])).toEqual([[60, 2, undefined]]);
});
