import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import {
  MUSIC,
  THREE,
  doAction,
  drag,
  exportTo,
  expect,
  goTo,
  mainClips,
  middleOf,
  openPiece,
  pieceOf,
  power,
  press,
  samplesOf,
  selectClip,
  test,
  typeInto,
  ONCE,
} from './studio';

const sound = (page: Page) => page.locator('[data-kind="sound"]').first();
const music = async (page: Page) => (await pieceOf(page)).tracks.find((track) => track.kind === 'sound')!.clips[0]!;

/** Selects the music, a little above the playhead where nothing lies over it. */
async function choose(page: Page): Promise<void> {
  await press(sound(page));
  await expect(sound(page)).toHaveAttribute('aria-pressed', 'true');
}

test(
  'a level in percent, a pan, fades and a quieter stretch are typed and touched, and are in the exported file',
  ONCE,
  async ({ page }) => {
    const folder = mkdtempSync(path.join(tmpdir(), 'flimzy-levels-'));
    const size = { width: 270, height: 480 };
    await openPiece(page, 'Levels', [{ media: 'demo-the-bench', from: 0, frames: 180 }, MUSIC], size);
    await goTo(page, '1.00');
    await choose(page);
    const exported = async (name: string, nth: number) => {
      const file = path.join(folder, name);
      await exportTo(page, file, nth);
      await page.keyboard.press('Escape');
      await expect(page.getByRole('dialog')).toHaveCount(0);
      return samplesOf(file);
    };
    const plain = await exported('plain.mp4', 1);
    await typeInto(page, 'card-level', '50 %');
    await expect.poll(async () => (await music(page)).level).toBeCloseTo(-6.02, 2);
    await typeInto(page, 'card-pan', 'left');
    await expect(page.getByText('Write how far, such as 30 left')).toBeVisible();
    await typeInto(page, 'card-pan', '100 left');
    await expect.poll(async () => (await music(page)).pan).toBe(-1);
    await typeInto(page, 'card-fadeIn', '2');
    await expect.poll(async () => (await music(page)).fadeIn).toBe(2 * 705_600_000);
    await typeInto(page, 'card-fadeInCurve', 'even');
    await doAction(page, 'fade-out');
    await expect.poll(async () => (await music(page)).fadeOut).toBe(705_600_000);
    await goTo(page, '3.00');
    await page.keyboard.press('i');
    await goTo(page, '4.00');
    await page.keyboard.press('o');
    await doAction(page, 'quieter');
    await expect
      .poll(async () => (await music(page)).envelope)
      .toMatchObject({ keys: [{ value: 0 }, { value: -12 }, { value: -12 }, { value: 0 }] });
    const shaped = await exported('shaped.mp4', 2);
    // Against the same music untouched: the ratio is what was done to it.
    const left = (all: Float32Array) => all.map((one, i) => (i % 2 === 0 ? one : 0));
    const right = (all: Float32Array) => all.map((one, i) => (i % 2 === 1 ? one : 0));
    const change = (from: number, to: number, side = left) => power(side(shaped), from, to) - power(side(plain), from, to);
    expect(change(2.3, 2.7)).toBeCloseTo(-6, 0);
    expect(Math.abs(change(0.9, 1.1) + 12)).toBeLessThan(1); // within a fade the mean leans to where it is loud
    expect(change(3.2, 3.8)).toBeCloseTo(-18, 0);
    expect(Math.abs(change(5.45, 5.55) + 9)).toBeLessThan(1);
    expect(change(2.3, 2.7, right)).toBeLessThan(-30);
  },
);

test('on the clip: a fade is pulled, the line is touched and pulled, a point goes when it is touched', async ({ page }) => {
  await openPiece(page, `Shape ${test.info().project.name}`, [...THREE, MUSIC]);
  await goTo(page, '1.10');
  await choose(page);
  await drag(page, await middleOf(page.locator('[data-handle="fade-in"]')), { x: 0, y: 60 });
  await expect.poll(async () => (await music(page)).fadeIn ?? 0).toBeGreaterThan(705_600_000);
  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await music(page)).fadeIn).toBeUndefined();
  const line = await middleOf(page.locator('[data-handle="line"]'));
  const points = page.locator('[data-handle="point"]');
  await drag(page, line, { x: -25, y: 0 });
  await expect.poll(async () => (await music(page)).level).toBeLessThan(-10);
  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await music(page)).level).toBe(0);
  const touch = await page.evaluate(() => navigator.maxTouchPoints > 0);
  const tap = (x: number, y: number) => (touch ? page.touchscreen.tap(x, y) : page.mouse.click(x, y));
  await tap(line.x, line.y - 40);
  await expect(points).toHaveCount(1);
  await tap(line.x, line.y + 20);
  await expect(points).toHaveCount(2);
  await drag(page, await middleOf(points.nth(1)), { x: -20, y: 10 });
  await expect.poll(async () => (await music(page)).envelope).toMatchObject({ keys: [{ value: 0 }, { value: expect.any(Number) }] });
  const curve = (await music(page)).envelope as { keys: { at: number; value: number }[] };
  expect(curve.keys[1]!.value).toBeLessThan(-5);
  await press(points.nth(0));
  await expect(points).toHaveCount(1);
  await press(page.getByTestId('play'));
  await expect(page.getByTestId('clip-meter')).toContainText(/-\d+ dB/);
  await press(page.getByTestId('play'));
});

test('a crossfade is pulled open at the join where the sound of a clip begins', ONCE, async ({ page }) => {
  await openPiece(page, `Join ${test.info().project.name}`, THREE);
  await goTo(page, '2.10');
  await selectClip(page, 1);
  const blend = async () => (await mainClips(page))[1]!.blend ?? 0;
  const handle = page.locator('[data-handle="blend"]');
  await drag(page, await middleOf(handle), { x: 0, y: -24 }, null, () =>
    expect(page.getByTestId('drag-says')).toContainText('Crossfade 1.00 s'),
  );
  await expect.poll(blend).toBe(705_600_000);
  await typeInto(page, 'card-blendCurve', 'equal power');
  await expect.poll(async () => (await mainClips(page))[1]!.blendCurve).toBe('equalPower');
  await drag(page, await middleOf(handle), { x: 0, y: 40 });
  await expect.poll(blend).toBe(0);
  await press(page.getByTestId('undo'));
  await expect.poll(blend).toBe(705_600_000);
});

test('in the mixing view a track is made quieter by its fader, and its meter moves while it plays', ONCE, async ({ page }) => {
  await openPiece(page, `Mix ${test.info().project.name}`, [...THREE, MUSIC]);
  await goTo(page, '1.00');
  await doAction(page, 'mix');
  const fader = page.getByTestId('fader-sound-1');
  await fader.scrollIntoViewIfNeeded();
  await fader.focus();
  for (let i = 0; i < 4; i += 1) await fader.press('ArrowDown');
  const track = async () => (await pieceOf(page)).tracks.find((one) => one.id === 'sound-1')!;
  await expect.poll(async () => (await track()).level).toBe(-2);
  await press(page.getByRole('button', { name: /Figures of track/ }).last());
  await typeInto(page, 'track-level', '-12');
  await typeInto(page, 'track-pan', '50 right');
  await page.keyboard.press('Escape');
  await expect.poll(async () => [(await track()).level, (await track()).pan]).toEqual([-12, 0.5]);
  await press(page.getByRole('button', { name: /Figures of track/ }).last());
  await press(page.getByTestId('track-gang'));
  await page.keyboard.press('Escape');
  await press(page.getByRole('button', { name: /Figures of track/ }).first());
  await press(page.getByTestId('track-gang'));
  await typeInto(page, 'track-level', '-3');
  await page.keyboard.press('Escape');
  await expect.poll(async () => (await pieceOf(page)).tracks.map((one) => one.level)).toEqual([-3, -15]);
  await press(page.getByTestId('play'));
  await expect
    .poll(() =>
      page.evaluate(() =>
        (globalThis as unknown as { flimzyPreview: { trackPeak(id: string): number } }).flimzyPreview.trackPeak('sound-1'),
      ),
    )
    .toBeGreaterThan(0.001);
  await expect(page.getByTestId('loudness')).toContainText(/all −\d/);
  await expect(page.getByTestId('loudness')).toContainText('say which track is music');
  await doAction(page, 'under');
  await press(page.getByTestId('under-switch'));
  await page.keyboard.press('Escape');
  const lean = page.getByTestId('lean');
  await lean.focus();
  for (let i = 0; i < 4; i += 1) await lean.press('ArrowRight');
  await expect.poll(async () => (await pieceOf(page)).sound?.lean).toBe(2);
  await expect(page.getByTestId('lean-words')).toHaveText('music 2.0 dB softer');
  await press(page.getByTestId('play'));
  await doAction(page, 'mix');
  await expect(page.getByTestId('faders')).toHaveCount(0);
});
