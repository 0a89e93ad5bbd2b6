import { spawnSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  type Wanted,
  doAction,
  exportTo,
  expect,
  goTo,
  home,
  openPiece,
  OURS,
  pieceOf,
  press,
  selectClip,
  test,
  THREE,
  typeInto,
} from './studio';

const TALK: Wanted = { media: 'demo-talk-front', from: 18, frames: 150 };
const SMALL = { width: 270, height: 480 };

/** Loudness (LUFS) of a file, as ffmpeg measures it. */
function measured(file: string): number {
  const { stderr } = spawnSync('ffmpeg', ['-i', file, '-af', 'ebur128', '-f', 'null', '-'], { encoding: 'utf8' });
  return Number(/I:\s+(-?[\d.]+) LUFS\s*$/m.exec(stderr.slice(stderr.indexOf('Summary')))?.[1]);
}

test('the piece is measured, brought to a loudness, and the exported file is so loud', async ({ page }) => {
  const folder = mkdtempSync(path.join(tmpdir(), 'flimzy-loudness-'));
  await openPiece(page, 'Loud', [TALK, { media: 'demo-hilltop', from: 60, frames: 90 }], SMALL);
  await goTo(page, '1.00');
  await doAction(page, 'loudness');
  const reading = page.getByTestId('loudness-reading');
  await expect(reading).toContainText(/−\d+\.\d LUFS, peak −?\d/);
  const said = Number(/−([\d.]+) LUFS/.exec((await reading.textContent()) ?? '')?.[1]) * -1;
  await typeInto(page, 'piece-target', 'loud');
  await expect(page.getByText('A loudness between −40 and −5 LUFS.').first()).toBeVisible();
  await typeInto(page, 'piece-target', '-16');
  await press(page.getByTestId('bring-piece'));
  await expect(reading).toContainText(/From −[\d.]+ LUFS to −(15\.9|16\.0|16\.1) LUFS/);
  expect((await pieceOf(page)).sound?.level).toBeCloseTo(-16 - said, 0);
  await typeInto(page, 'piece-fadeOut', '1');
  await expect.poll(async () => (await pieceOf(page)).sound?.fadeOut).toBe(705_600_000);
  await typeInto(page, 'piece-fadeOut', '0');

  await page.keyboard.press('Escape');
  const file = path.join(folder, 'loud.mp4');
  await exportTo(page, file, 1);
  expect(Math.abs(measured(file) + 16)).toBeLessThan(0.4);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);

  await selectClip(page, 0);
  await doAction(page, 'loudness');
  await typeInto(page, 'clips-target', '-20');
  await press(page.getByTestId('bring-clips'));
  await expect(page.getByTestId('clips-loudness')).toHaveText(/−(19\.9|20\.0|20\.1) LUFS/);
});

test('all joins get a crossfade by a touch, and what is heard twice is marked and silenced', async ({ page }) => {
  await openPiece(page, 'Joins', THREE, SMALL);
  await goTo(page, '1.00');
  await doAction(page, 'loudness');
  await typeInto(page, 'length-cross', '0.4');
  await page.keyboard.press('Escape');
  await doAction(page, 'crossfades');
  const blends = async () => (await pieceOf(page)).tracks[0]!.clips.map((clip) => clip.blend);
  await expect.poll(blends).toEqual([undefined, 0.4 * 705_600_000, 0.4 * 705_600_000]);
  await press(page.getByTestId('undo'));
  await expect.poll(blends).toEqual([undefined, undefined, undefined]);

  const piece = await pieceOf(page);
  const [first] = piece.tracks[0]!.clips;
  const add = { track: 'sound-1', media: piece.media[first!.media], at: 0, from: first!.from, length: first!.length, parts: 'sound' };
  const data = { since: 0, requests: [{ kind: 'do', id: crypto.randomUUID(), name: 'add', params: add }] };
  await page.request.post(`${home()}/api/pieces/${piece.id}/edits`, { headers: OURS, data });
  const marks = page.getByTestId('doubled');
  await expect(marks).toHaveCount(2);
  await press(marks.last());
  await expect(marks).toHaveCount(0);
  await expect.poll(async () => (await pieceOf(page)).tracks.find((one) => one.id === 'sound-1')!.clips[0]!.level).toBe(-60);
});
