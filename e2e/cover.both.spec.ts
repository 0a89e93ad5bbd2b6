import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import {
  type Wanted,
  doAction,
  drag,
  exportTo,
  expect,
  goTo,
  middleOf,
  openPiece,
  pieceOf,
  press,
  samplesOf,
  selectClip,
  test,
  typeInto,
} from './studio';

const TALK: Wanted = { media: 'demo-talk-front', from: 18, frames: 150 };
const S = 705_600_000;

const coversOf = async (page: Page) => {
  const { covers } = (await pieceOf(page)).tracks[0]!.clips[0]!;
  return Array.isArray(covers) ? covers : [];
};

/** How much of 1 kHz is in a stretch of the left side, as a factor. Seconds. */
function tone(samples: Float32Array, from: number, to: number): number {
  let [re, im] = [0, 0];
  const [first, last] = [Math.round(from * 48_000), Math.round(to * 48_000)];
  for (let n = first; n < last; n += 1) {
    re += samples[n * 2]! * Math.cos((2 * Math.PI * n) / 48);
    im += samples[n * 2]! * Math.sin((2 * Math.PI * n) / 48);
  }
  return (2 * Math.hypot(re, im)) / (last - first);
}

test('a word is covered with a tone, moved by its ends and typed, heard in a loop, in the exported file, and taken back', async ({
  page,
}) => {
  await openPiece(page, `Cover ${test.info().project.name}`, [TALK], { width: 270, height: 480 });
  await goTo(page, '2.00');
  await selectClip(page, 0);
  const from = (await pieceOf(page)).tracks[0]!.clips[0]!.from / S;
  await doAction(page, 'cover');
  await press(page.getByTestId('cover-new'));
  await expect.poll(async () => (await coversOf(page)).length).toBe(1);
  const [first] = await coversOf(page);
  expect([first!.from / S - from, first!.to / S - from]).toEqual([expect.closeTo(1.8, 1), expect.closeTo(2.2, 1)]);
  expect(first!.level).toBeLessThan(-10); // as loud as she speaks there
  await drag(page, await middleOf(page.getByTestId('cover-to-handle')), { x: 40, y: 0 });
  await expect.poll(async () => (await coversOf(page))[0]!.to).toBeGreaterThan(first!.to);
  await typeInto(page, 'cover-from', '2.5');
  await typeInto(page, 'cover-to', 'late');
  await expect(page.getByText('Seconds of the timeline, after it begins.')).toBeVisible();
  await typeInto(page, 'cover-to', '3.10');
  await typeInto(page, 'cover-from', '2.50');
  await expect
    .poll(async () => (await coversOf(page)).map((one) => [one.from / S - from, one.to / S - from]))
    .toEqual([[expect.closeTo(2.5, 3), expect.closeTo(3.1, 3)]]);
  await page.getByTestId('cover-from-handle').focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await coversOf(page))[0]!.from / S - from).toBeCloseTo(2.51, 3);
  await typeInto(page, 'cover-level', '-20');
  await press(page.getByTestId('cover-loop'));
  await expect(page.getByTestId('cover-loop')).toHaveText('Stop');
  await press(page.getByTestId('cover-loop'));
  await page.keyboard.press('Escape');

  // What is exported does not depend on the screen; it is looked at once.
  if (test.info().project.name === 'phone') {
    const file = path.join(mkdtempSync(path.join(tmpdir(), 'flimzy-cover-')), 'covered.mp4');
    await exportTo(page, file, 1);
    const samples = samplesOf(file);
    expect(tone(samples, 2.6, 3.0)).toBeCloseTo(0.1, 1.5);
    for (const [a, b] of [
      [2.0, 2.45],
      [3.15, 3.6],
    ] as const)
      expect(tone(samples, a, b)).toBeLessThan(0.02);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
  }

  await goTo(page, '2.20');
  await selectClip(page, 0);
  await doAction(page, 'cover');
  await press(page.getByRole('radio', { name: 'Garbled' }));
  await expect.poll(async () => (await coversOf(page))[0]!.with).toBe('garble');
  await press(page.getByRole('radio', { name: 'Horn' }));
  await expect.poll(async () => (await coversOf(page))[0]).toMatchObject({ with: 'horn', level: -20 });
  await typeInto(page, 'cover-level', '-14');
  await expect.poll(async () => (await coversOf(page))[0]!.level).toBe(-14);
  // A sound of one's own: the loudness asked for stays, and the piece knows the item from now on.
  await press(page.getByRole('radio', { name: 'A sound of yours' }));
  await press(page.getByTestId('cover-with-demo-string-twang'));
  await expect.poll(async () => (await coversOf(page))[0]).toMatchObject({ with: 'own', level: -14, item: { media: 'demo-string-twang' } });
  expect((await pieceOf(page)).media['demo-string-twang']).toBeDefined();
  await expect(page.getByTestId('cover-own')).toContainText('Another');
  await press(page.getByTestId('cover-remove'));
  await expect.poll(async () => (await coversOf(page)).length).toBe(0);
});
