import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { readCodes } from '../demo/read';
import { framesDue } from './frames';
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
  layout,
  mainClips,
  openPiece,
  pieceOf,
  press,
  selectClip,
  test,
  typeInto,
} from './studio';

test('what comes out of a roll and a range removal has the right frames', async ({ page }, info) => {
  await openPiece(page, 'Frames', [], TINY);
  await bringIn(page, CODED('hilltop'), CODED('beach-run'));
  await addFromShelf(page, ['hilltop', 'beach-run']);
  await expect(clip(page, 1)).toBeAttached();
  for (const [n, from, length] of [
    [0, '1.00', '3.00'],
    [1, '1.00', '3.00'],
  ] as const) {
    await goTo(page, `${n * 3}.15`);
    await selectClip(page, n);
    await typeInto(page, 'card-length', length);
    await typeInto(page, 'card-from', from);
  }
  await goTo(page, '3.00');
  await doAction(page, 'seam');
  await press(page.getByTestId('wheel10'));
  await page.keyboard.press('Escape');
  await goTo(page, '0.20');
  await doAction(page, 'in');
  await goTo(page, '1.20');
  await doAction(page, 'out');
  await doAction(page, 'take-out');
  await expect.poll(() => layout(page)).toHaveLength(3);
  const piece = await pieceOf(page);
  const file = path.join(info.outputDir, 'out.mp4');
  await exportTo(page, file);
  expect(readCodes(file, 360, 640, () => 360)).toEqual(await framesDue(page, piece));
});

test('what comes out of a J-cut sounds of the second clip before its picture', async ({ page }, info) => {
  const tone = (name: string, hertz: number) => {
    const file = info.outputPath(`${name}.mp4`);
    const sources = [
      '-f',
      'lavfi',
      '-i',
      'color=gray:size=360x640:rate=30:duration=5',
      '-f',
      'lavfi',
      '-i',
      `sine=f=${hertz}:sample_rate=48000:duration=5`,
    ];
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...sources, '-pix_fmt', 'yuv420p', '-c:a', 'aac', file]);
    return file;
  };
  await openPiece(page, 'Tones', [], TINY);
  await bringIn(page, tone('low', 300), tone('high', 1200));
  await addFromShelf(page, ['low', 'high']);
  await expect(clip(page, 1)).toBeAttached();
  for (const n of [0, 1]) {
    await goTo(page, `${n * 2}.20`);
    await selectClip(page, n);
    await typeInto(page, 'card-length', '2.00');
    await typeInto(page, 'card-from', '1.00');
  }
  await typeInto(page, 'card-sound-in', '-0.15');
  await expect.poll(async () => (await mainClips(page))[1]?.lead).toBe(15 * 23_520_000);
  const file = path.join(info.outputDir, 'out.mp4');
  await exportTo(page, file);
  const pcm = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 's16le', '-ac', '1', '-ar', '48000', 'pipe:1'], {
    maxBuffer: 1 << 26,
  });
  /** Cycles a second around a time, by counting crossings of zero in 50 ms. */
  const pitch = (seconds: number) => {
    let crossings = 0;
    for (let i = Math.round(seconds * 48_000); i < (seconds + 0.05) * 48_000; i += 1)
      if (pcm.readInt16LE(i * 2) < 0 !== pcm.readInt16LE(i * 2 + 2) < 0) crossings += 1;
    return crossings / 2 / 0.05;
  };
  expect(Math.abs(pitch(1.4) - 300)).toBeLessThan(30);
  expect(Math.abs(pitch(1.55) - 1200)).toBeLessThan(60);
  expect(Math.abs(pitch(2.2) - 1200)).toBeLessThan(60);
});
