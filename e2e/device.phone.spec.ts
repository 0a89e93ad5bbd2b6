import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import type { Delivery, OpenedPiece, PieceSummary } from '@flimzy/contract';
import { frameLength } from '@flimzy/core/time';
import { expect, forSmall, home, OURS, openPiece, pieceOf, press, test } from './studio';

/** Work of some seconds, on a machine that has a second one to do meanwhile. */

/** Samples of a file, 48 kHz, mixed to one channel. */
function samplesOf(file: string): Float32Array {
  const bytes = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-ac', '1', '-ar', '48000', '-f', 'f32le', '-'], { maxBuffer: 1e9 });
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
}

/** By how many samples the second is behind the first, from a stretch of it. */
function lagOf(one: Float32Array, other: Float32Array, from: number): number {
  let best = { lag: NaN, likeness: 0 };
  for (let lag = -2400; lag <= 2400; lag += 1) {
    let likeness = 0;
    for (let i = from; i < from + 24_000; i += 1) likeness += one[i]! * other[i + lag]!;
    if (likeness > best.likeness) best = { lag, likeness };
  }
  return best.lag;
}

test('a file made on the device is the one that the server makes: frame by frame, and sound in step', async ({ page }, info) => {
  // Four seconds with all that the demo piece has: layers, titles, speed, a transition, music under speech.
  const copied = await page.request.post(`${home()}/api/pieces/demo-kite-in-layers/copy`, { headers: OURS });
  const { id } = (await copied.json()) as PieceSummary;
  const { piece } = (await (await page.request.get(`${home()}/api/pieces/${id}`)).json()) as OpenedPiece;
  const second = 30 * frameLength(piece.format.rate);
  const keep = { from: 8 * second, to: 12 * second, inside: null };
  const request = { kind: 'do', id: crypto.randomUUID(), name: 'keepStretch', params: keep };
  await page.request.post(`${home()}/api/pieces/${id}/edits`, { headers: OURS, data: { since: 0, requests: [request] } });
  await forSmall(page, id, 'own-device-small', 360, 640);
  // The formats of one's own come late: nothing is made before it is known what for.
  let come = () => undefined as void;
  const late = new Promise<void>((resolve) => (come = resolve));
  await page.route('**/api/formats', async (route) => {
    await late;
    await route.continue();
  });
  await page.goto(`${home()}/piece/${id}`);
  await press(page.getByTestId('send'));
  await expect(page.getByTestId('export')).toBeDisabled();
  await expect(page.getByTestId('make-here')).toHaveCount(0);
  come();
  await press(page.getByTestId('make-here'));
  await expect(page.getByTestId('made-done')).toContainText('frames, as many as there should be');
  await expect(page.getByTestId('made-done')).toContainText('Sound as long as the picture, Read to its end');
  const saving = page.waitForEvent('download');
  await press(page.getByTestId('save-made'));
  const saved = await saving;
  expect(saved.suggestedFilename()).toBe('Kite-in-layers-copy-Small-360.mp4');
  const [made, served, stats] = ['made.mp4', 'served.mp4', 'ssim.txt'].map((name) => info.outputPath(name)) as [string, string, string];
  await saved.saveAs(made);

  await press(page.getByTestId('export'));
  await expect(page.getByTestId('delivery-done')).toHaveCount(1);
  const [delivery] = (await (await page.request.get(`${home()}/api/deliveries?piece=${id}`)).json()) as [Delivery];
  await writeFile(served, await (await page.request.get(`${home()}/api/deliveries/${delivery.id}/file`)).body());
  const asked = [
    '-v',
    'error',
    '-count_frames',
    '-show_entries',
    'stream=codec_name,width,height,nb_read_frames,color_space,color_range,duration',
  ];
  const probed = (file: string) => execFileSync('ffprobe', [...asked, '-of', 'json', file]).toString();
  const streams = (file: string) =>
    (JSON.parse(probed(file)) as { streams: Record<string, string | number>[] }).streams.map(({ duration: _duration, ...rest }) => rest);
  const picture = (file: string) => streams(file).find(({ codec_name: codec }) => codec === 'h264');
  expect(picture(made)).toEqual(picture(served));
  execFileSync('ffmpeg', ['-v', 'error', '-i', made, '-i', served, '-lavfi', `[0:v][1:v]ssim=stats_file=${stats}`, '-f', 'null', '-']);
  const all = [...readFileSync(stats, 'utf8').matchAll(/All:([\d.]+)/g)].map(([, value]) => Number(value));
  expect(all).toHaveLength(Number(picture(made)?.['nb_read_frames']));
  expect(Math.min(...all)).toBeGreaterThanOrEqual(0.98);
  const [here, there] = [samplesOf(made), samplesOf(served)];
  expect(Math.abs(here.length - there.length)).toBeLessThanOrEqual(1024);
  for (const from of [48_000, 120_000]) expect(Math.abs(lagOf(here, there, from))).toBeLessThanOrEqual(2);
});

test('it can be cancelled, and what cannot be had is said instead of left out', async ({ page }) => {
  await openPiece(page, 'Device', [{ media: 'demo-talk-front', from: 18, frames: 150 }], { width: 360, height: 640 });
  await forSmall(page, (await pieceOf(page)).id, 'own-device-tiny', 180, 320);
  await page.reload();
  await press(page.getByTestId('send'));
  await press(page.getByTestId('make-here'));
  await expect(page.getByTestId('made-going')).toBeVisible();
  await press(page.getByTestId('cancel-made'));
  await expect(page.getByTestId('made-going')).toHaveCount(0);
  // The server is gone: neither what the preview has fetched already nor what it has not is taken for silence.
  await page.route('**/api/media/*/sound?*', (route) => route.abort());
  await press(page.getByTestId('make-here'));
  await expect(page.getByTestId('made-failed')).toContainText('Nothing was made: try again when the server can be reached.');
  await page.unroute('**/api/media/*/sound?*');
  await press(page.getByTestId('forget-made'));
  await press(page.getByTestId('make-here'));
  await expect(page.getByTestId('made-done')).toContainText('150 frames, as many as there should be');
});
