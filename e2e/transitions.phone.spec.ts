import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { frameLength } from '@flimzy/core/time';
import { wrongs } from './axe';
import { doAction, drag, expect, exportTo, goTo, mainClips, middleOf, openPiece, press, test, typeInto, type Wanted } from './studio';

const F = frameLength({ num: 30, den: 1 });
const SIZE = { width: 270, height: 480 };
/** Three joined clips: the second begins with its material, so that nothing is left before it. */
const CLIPS: readonly Wanted[] = [
  { media: 'demo-hilltop', from: 60, frames: 60 },
  { media: 'demo-beach-run', from: 0, frames: 60 },
  { media: 'demo-hilltop', from: 180, frames: 60 },
];
const before = async (page: Page, n: number) => (await mainClips(page))[n]!.transition;

test('a transition is chosen over one’s own clips, its length typed and pulled, the sound goes along, and all of it is taken back', async ({
  page,
}) => {
  await openPiece(page, 'Going over', CLIPS, SIZE);
  await goTo(page, '4.00');
  await doAction(page, 'transition');
  await expect(page.getByTestId('transition-panel')).toContainText('Beach run → Hilltop');
  expect(await wrongs(page, 'all')).toEqual([]);
  await press(page.getByTestId('transition-push'));
  await expect.poll(() => before(page, 2)).toMatchObject({ kind: 'push', direction: 'left' });
  expect((await mainClips(page))[2]!.blend).toBeGreaterThan(0);
  await press(page.getByRole('radio', { name: 'Up', exact: true }));
  await expect.poll(() => before(page, 2)).toMatchObject({ kind: 'push', direction: 'up' });
  await typeInto(page, 'transition-length', 'long');
  await expect(page.getByText('Seconds, between 0 and 10.')).toBeVisible();
  await typeInto(page, 'transition-length', '1');
  await expect.poll(async () => ((await before(page, 2)) as { length: number }).length).toBe(30 * F);
  await press(page.getByTestId('transition-dissolve'));
  await expect.poll(() => before(page, 2)).toMatchObject({ kind: 'dissolve', length: 30 * F });

  // A shape, and one that is drawn by hand: what encloses nothing is said, and changes nothing.
  await press(page.getByTestId('transition-shape'));
  await press(page.getByRole('radio', { name: 'Heart', exact: true }));
  await expect.poll(() => before(page, 2)).toMatchObject({ kind: 'shape', shape: 'heart' });
  await press(page.getByRole('radio', { name: 'Draw one', exact: true }));
  const pad = page.getByTestId('draw-shape');
  await pad.scrollIntoViewIfNeeded();
  const middle = await middleOf(pad);
  const around = async (across: number) => {
    const place = (n: number): [number, number] => [middle.x + across * Math.cos(n / 4), middle.y + 40 * Math.sin(n / 4)];
    await page.mouse.move(...place(0));
    await page.mouse.down();
    for (let n = 1; n <= 25; n += 1) await page.mouse.move(...place(n));
    await page.mouse.up();
  };
  await around(0);
  await expect(page.getByText('That encloses nothing: draw once around something.')).toBeVisible();
  await around(60);
  await expect.poll(async () => ((await before(page, 2)) as { drawn?: unknown[] }).drawn?.length).toBe(48);
  expect(await before(page, 2)).toMatchObject({ kind: 'shape', shape: 'drawn' });
  await press(page.getByTestId('transition-dissolve'));
  await expect.poll(() => before(page, 2)).toMatchObject({ kind: 'dissolve' });

  // The first join has no material before it: that is said, and what can be done instead.
  await press(page.getByTestId('join-before'));
  await expect(page.getByTestId('transition-panel')).toContainText('Hilltop → Beach run');
  await press(page.getByTestId('transition-wipe'));
  await expect(page.getByTestId('transition-short')).toContainText('There is no material left');
  await press(page.getByTestId('transition-all'));
  await expect.poll(async () => [await before(page, 1), await before(page, 2)]).toMatchObject([{ kind: 'wipe' }, { kind: 'wipe' }]);
  await press(page.getByTestId('transition-none'));
  await expect.poll(() => before(page, 1)).toBeUndefined();
  await page.keyboard.press('Escape');

  const long = ((await before(page, 2)) as { length: number }).length;
  await goTo(page, '4.00');
  const mark = page.locator('[data-handle="meet"]');
  await drag(page, await middleOf(mark), { x: 0, y: -12 });
  await expect.poll(async () => ((await before(page, 2)) as { length: number }).length).toBeGreaterThan(long + 5 * F);
  await press(mark);
  await expect(page.getByTestId('transition-panel')).toContainText('Beach run → Hilltop');
  // What was used comes first the next time.
  expect(await page.getByTestId('transition-panel').getByRole('radio').nth(1).getAttribute('data-testid')).toMatch(
    /transition-(push|wipe|dissolve)/,
  );
  await page.keyboard.press('Control+z');
  await expect.poll(async () => ((await before(page, 2)) as { length: number }).length).toBe(long);
});

test('a dissolve is half of each at its middle in the exported file, and the piece comes out of black and goes into it', async ({
  page,
}) => {
  // Nothing is left before the second clip: its first frame stands still until the join.
  await openPiece(page, 'Half of each', [CLIPS[0]!, CLIPS[1]!], SIZE);
  await doAction(page, 'transitions-all');
  await doAction(page, 'from-black');
  await doAction(page, 'to-black');
  await expect
    .poll(async () => (await mainClips(page)).map((clip) => [Boolean(clip.transition), Boolean(clip.ending)]))
    .toEqual([
      [true, false],
      [true, true],
    ]);
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'flimzy-transitions-')), 'over.mp4');
  await exportTo(page, file);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  const bytes = SIZE.width * SIZE.height;
  const grey = (what: string, frame: number) =>
    execFileSync(
      'ffmpeg',
      [
        '-v',
        'error',
        '-i',
        what,
        '-vf',
        `select=eq(n\\,${frame}),scale=${SIZE.width}:${SIZE.height}`,
        '-frames:v',
        '1',
        '-f',
        'rawvideo',
        '-pix_fmt',
        'gray',
        '-',
      ],
      {
        maxBuffer: 1 << 26,
      },
    );
  expect(grey(file, 60).length).toBe(bytes);
  const mean = (picture: Buffer) => picture.reduce((sum, value) => sum + value, 0) / bytes;
  const [first, open, close, last] = [0, 40, 100, 119].map((frame) => mean(grey(file, frame)));
  expect(first!).toBeLessThan(24);
  expect(last!).toBeLessThan(24);
  expect(Math.min(open!, close!)).toBeGreaterThan(60);

  // The two frames around the middle together are half of each: the piece without its dissolve shows what they are made of.
  const middle = [59, 60].map((frame) => grey(file, frame));
  await doAction(page, 'transitions-none');
  const plain = path.join(path.dirname(file), 'plain.mp4');
  await exportTo(page, plain, 2);
  const [a, b] = [grey(plain, 59), grey(plain, 60)];
  let off = 0;
  for (let i = 0; i < bytes; i += 1) off += Math.abs((middle[0]![i]! + middle[1]![i]!) / 2 - (a[i]! + b[i]!) / 2);
  expect(off / bytes).toBeLessThan(4);
});
