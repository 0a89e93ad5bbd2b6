import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { serverAt, shownNow } from './previewed';
import { ssim } from './ssim';
import {
  doAction,
  expect,
  ffprobe,
  goTo,
  openPiece,
  openShelf,
  addFromShelf,
  mainClips,
  LONG,
  MUSIC,
  pieceOf,
  press,
  test,
  THREE,
  ONCE,
} from './studio';

const SIZE = { width: 270, height: 480 };

test(
  'a frame is saved as a picture of the piece’s size, guides lie over the picture, and the piece gets another shape',
  ONCE,
  async ({ page }) => {
    await openPiece(page, `Watching ${test.info().project.name}`, THREE, SIZE);
    await goTo(page, '2.10');
    const coming = page.waitForEvent('download');
    await doAction(page, 'save-frame');
    const download = await coming;
    const file = path.join(mkdtempSync(path.join(tmpdir(), 'flimzy-frame-')), 'frame.png');
    await download.saveAs(file);
    expect(download.suggestedFilename()).toMatch(/^Watching-.*0-02-10\.png$/);
    expect(ffprobe('-select_streams', 'v', '-show_entries', 'stream=codec_name,width,height', '-of', 'csv=p=0', file)).toBe('png,270,480');
    const lines = page.getByTestId('handles').locator('svg line');
    await expect(lines).toHaveCount(0);
    await doAction(page, 'guides');
    await expect(lines).toHaveCount(6);
    await doAction(page, 'shape-square');
    await expect.poll(async () => (await pieceOf(page)).format).toMatchObject({ width: 1080, height: 1080 });
    const box = (await page.getByTestId('handles').boundingBox())!;
    expect(Math.abs(box.width - box.height)).toBeLessThanOrEqual(1);
    await press(page.getByTestId('undo'));
    await expect.poll(async () => (await pieceOf(page)).format).toMatchObject(SIZE);
  },
);

test('new photos move gently, each in another way, and as long as was chosen; they stand still when asked to', ONCE, async ({ page }) => {
  await openPiece(page, 'Photos', []);
  await addFromShelf(page, ['On the hill', 'The bench']);
  const movements = async () =>
    (await mainClips(page)).map(({ scale, length }) => [typeof scale === 'object' ? scale.keys.map((key) => key.value) : scale, length]);
  await expect
    .poll(async () => (await movements()).map(([scale]) => (scale as number[])[0]! < (scale as number[])[1]!))
    .toEqual([true, false]);
  await press(page.getByTestId('handles'));
  await press(page.getByRole('radio', { name: 'Stand still' }));
  await page.getByTestId('photo-length').fill('1.5');
  await page.getByTestId('photo-length').press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('framing-panel')).toHaveCount(0);
  await page.keyboard.press('Escape'); // nothing is selected any more
  await openShelf(page);
  await addFromShelf(page, ['Finished kite']);
  await expect.poll(async () => (await movements())[2]).toEqual([undefined, 1.5 * 705_600_000]);
});

test('a piece is watched at double speed, again and again from in to out, and one clip by itself', ONCE, async ({ page }) => {
  const play = page.getByTestId('play');
  const clock = page.getByTestId('clock');
  const stopped = page.getByRole('button', { name: 'Play', exact: true });

  // At double speed two seconds of the piece go by in a second of the sound card. It is too long to end meanwhile.
  await openPiece(page, `Watched ${test.info().project.name}`, LONG, SIZE);
  await doAction(page, 'watch-double');
  await expect(page.getByTestId('now-watch-double')).toBeVisible();
  await press(play);
  const gone = () =>
    page.evaluate(() => {
      const { flimzyPreview: engine } = globalThis as unknown as { flimzyPreview: { shared: SharedArrayBuffer; now(): number | null } };
      return { played: new Int32Array(engine.shared)[1] ?? 0, now: (engine.now() ?? 0) / 14_700 };
    });
  await expect.poll(async () => (await gone()).now).toBeGreaterThan(5 * 48_000);
  const { played, now } = await gone();
  // The clock stands behind by what the card holds, and goes on between the two figures.
  expect(now / played).toBeGreaterThan(1.6);
  expect(now / played).toBeLessThan(2.2);
  await press(play);
  await page.keyboard.press('End');
  await page.keyboard.press('Shift+ArrowUp');
  await press(play);
  await expect(clock).toHaveValue('3:03.10');
  await expect(stopped).toBeVisible();
  await press(page.getByTestId('now-watch-double'));
  await expect(page.getByTestId('now-watch-double')).toHaveCount(0);

  // From in to out, again and again, without a gap: the clock goes back three times.
  await openPiece(page, `Looped ${test.info().project.name}`, [...THREE, MUSIC], SIZE);
  await goTo(page, '2.00');
  await doAction(page, 'in');
  await goTo(page, '2.15');
  await doAction(page, 'out');
  await goTo(page, '2.00');
  await doAction(page, 'loop');
  await press(play);
  await page.waitForFunction(() => {
    const seen = globalThis as unknown as { last?: string; back?: number };
    const value = document.querySelector<HTMLInputElement>('[data-testid="clock"]')?.value ?? '';
    if (seen.last !== undefined && value < seen.last) seen.back = (seen.back ?? 0) + 1;
    seen.last = value;
    return seen.back === 3;
  });
  // What is mixed is the same from one round of half a second to the next, to the sample.
  const differs = await page.evaluate(() => {
    const { shared } = (globalThis as unknown as { flimzyPreview: { shared: SharedArrayBuffer } }).flimzyPreview;
    const written = Atomics.load(new Int32Array(shared), 0);
    const ring = new Float32Array(shared, 64);
    const left = (n: number) => ring[(n % (ring.length / 2)) * 2] ?? NaN;
    const last = Array.from({ length: 24_000 }, (_, n) => written - 26_000 + n);
    return {
      most: Math.max(...last.map((n) => Math.abs(left(n) - left(n - 24_000)))),
      loud: Math.max(...last.map((n) => Math.abs(left(n)))),
    };
  });
  expect(differs.loud).toBeGreaterThan(0.01);
  expect(differs.most).toBeLessThan(1e-4);
  await press(play);
  // Two rounds and more of frames were due in one play.
  const due = () =>
    page.evaluate(() => (globalThis as unknown as { flimzyPreview: { figures: { due: number } } }).flimzyPreview.figures.due);
  await expect.poll(due).toBeGreaterThan(28);
  await press(page.getByTestId('now-loop'));
  await doAction(page, 'no-stretch');

  // The second clip alone: from its start to its end, where it stops.
  await goTo(page, '3.00');
  await doAction(page, 'play-clip');
  await expect(clock).toHaveValue('0:04.00');
  await expect(stopped).toBeVisible();
});

test('the picture fills the screen and turns with it: played and paused by a touch, scrubbed, and back by a touch or Esc', async ({
  page,
}, info) => {
  // As on phones that have it for no page; the window is filled all the same.
  await page.addInitScript(() => {
    Element.prototype.requestFullscreen = () => Promise.reject(new Error('not here'));
  });
  await openPiece(page, `Full ${info.project.name}`, THREE, { width: 1080, height: 1920 });
  const picture = page.getByTestId('picture');
  const pixels = () => picture.evaluate((node) => (node as HTMLCanvasElement).width);
  await expect(picture).toBeVisible();
  const [before, place] = [await pixels(), await picture.boundingBox()];
  await doAction(page, 'full-screen');
  const full = page.getByTestId('full-screen');
  const fills = async () => {
    const [box, size] = [await picture.boundingBox(), page.viewportSize()];
    if (!box || !size) return false;
    const [width, height] = [Math.min(size.width, (size.height * 9) / 16), Math.min(size.height, (size.width * 16) / 9)];
    return Math.abs(box.width - width) < 3 && Math.abs(box.height - height) < 3 && Math.abs(box.x + box.width / 2 - size.width / 2) < 3;
  };
  await expect.poll(fills).toBe(true);
  if (info.project.name === 'phone') await expect.poll(pixels).toBeGreaterThan(before);
  const size = page.viewportSize()!;
  await page.setViewportSize({ width: size.height, height: size.width });
  await expect.poll(fills).toBe(true);
  await page.setViewportSize(size);
  await expect.poll(fills).toBe(true);

  await press(page.getByTestId('full-picture'));
  await expect(full.getByTestId('full-close')).toHaveCount(0);
  await expect.poll(() => page.getByTestId('clock').inputValue()).not.toBe('0:00.00');
  await press(page.getByTestId('full-picture'));
  await page.getByTestId('full-scrub').fill(String(2 * 705_600_000));
  await expect(page.getByTestId('full-time')).toHaveText('0:02.00');
  const due = await serverAt(page, await pieceOf(page), 2 * 705_600_000, 180);
  await expect.poll(async () => ssim(await shownNow(page, 180, 320), due)).toBeGreaterThan(0.9);
  await press(page.getByTestId('full-close'));
  await expect(full).toHaveCount(0);
  await expect.poll(async () => (await picture.boundingBox())?.width).toBe(place?.width);
  await doAction(page, 'full-screen');
  await expect(full).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(full).toHaveCount(0);
});
