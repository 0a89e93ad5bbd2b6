import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { type Wanted, doAction, exportTo, expect, goTo, openPiece, pieceOf, power, press, samplesOf, test, typeInto } from './studio';

const TALK: Wanted = { media: 'demo-talk-front', from: 18, frames: 240 };
const MUSIC: Wanted = { media: 'demo-up-she-goes', track: 'sound-1', at: 0, from: 0, frames: 300 };
const STILL: Wanted = { media: 'demo-the-bench', from: 0, frames: 60 };

const track = async (page: Page, id: string) => (await pieceOf(page)).tracks.find((one) => one.id === id)!;
const reading = (page: Page) => page.getByTestId('under-reading');

test('music goes under speech by a touch, says what that comes to, and is so in the exported file', async ({ page }) => {
  await openPiece(page, 'Under', [TALK, STILL, MUSIC], { width: 270, height: 480 });
  await goTo(page, '1.00');
  await doAction(page, 'under');
  await expect(page.getByTestId('under-switch')).toHaveText('Put all music under speech');
  await press(page.getByTestId('under-switch'));
  await expect.poll(async () => (await track(page, 'sound-1')).under).toMatchObject({ below: 12 });
  expect((await track(page, 'main')).under).toBeUndefined();
  await expect(reading(page)).toContainText(/Speech stands 1[12]\.\d LU over it/);
  await typeInto(page, 'under-below', 'far');
  await expect(page.getByText('Between 0 and 40 LU.')).toBeVisible();
  await typeInto(page, 'under-below', '20');
  await expect(reading(page)).toContainText(/Speech stands (19|20)\.\d LU over it/);
  await typeInto(page, 'under-hold', '0.3');
  await expect.poll(async () => (await track(page, 'sound-1')).under).toMatchObject({ below: 20, hold: 0.3 * 705_600_000 });
  await page.keyboard.press('Escape');
  const { under } = await track(page, 'sound-1');

  // The music alone: quieter while she speaks than where the photo stands, by far more than the same music without.
  const folder = mkdtempSync(path.join(tmpdir(), 'flimzy-under-'));
  const musicOf = async (name: string, nth: number) => {
    const file = path.join(folder, name);
    await exportTo(page, file, nth);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    const samples = samplesOf(file);
    return { spoken: power(samples, 2, 4), after: power(samples, 9.3, 9.9) };
  };
  const mixed = await musicOf('under.mp4', 1);
  await doAction(page, 'under');
  await press(page.getByTestId('under-switch'));
  await expect.poll(async () => (await track(page, 'sound-1')).under).toBeUndefined();
  await page.keyboard.press('Escape');
  const plain = await musicOf('plain.mp4', 2);
  expect(under).toBeDefined();
  expect(Math.abs(mixed.after - plain.after)).toBeLessThan(0.3);
  expect(plain.spoken - mixed.spoken).toBeGreaterThan(1);
});

test('one clip alone goes under, a track says what it is for, and holding lets it be heard without', async ({ page }) => {
  await openPiece(page, 'Roles', [TALK, MUSIC], { width: 270, height: 480 });
  await goTo(page, '1.00');
  await press(page.locator('[data-kind="sound"]').first());
  await doAction(page, 'under');
  await press(page.getByRole('radio', { name: 'This clip' }));
  await press(page.getByTestId('under-switch'));
  const clip = async () => (await track(page, 'sound-1')).clips[0]!;
  await expect.poll(async () => (await clip()).under).toMatchObject({ below: 12 });
  await expect(reading(page)).toContainText('Speech stands');
  await press(page.getByTestId('under-points'));
  await expect.poll(async () => (await clip()).envelope).toMatchObject({ keys: expect.any(Array) });
  expect((await clip()).under).toBe('off');
  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await clip()).under).toMatchObject({ below: 12 });
  expect((await clip()).envelope).toBeUndefined();
  const hold = page.getByTestId('under-plain');
  await hold.dispatchEvent('mousedown', { button: 0 });
  await expect(hold).toHaveText('Without');
  await expect(page.getByRole('button', { name: 'Pause' }).first()).toBeVisible();
  await hold.dispatchEvent('mouseup', { button: 0 });
  await expect(hold).toHaveText('Hold: without');
  await press(page.getByTestId('play'));
  await page.keyboard.press('Escape');

  await press(page.getByRole('button', { name: /^Track Picture/ }).first());
  await press(page.getByRole('radio', { name: 'Effects' }));
  await expect.poll(async () => (await track(page, 'main')).role).toBe('effects');
  await press(page.getByTestId('track-under'));
  await expect(page.getByTestId('under-panel')).toBeVisible();
  await page.keyboard.press('Escape');
  await doAction(page, 'under');
  await press(page.getByRole('radio', { name: 'This clip' }));
  await expect(reading(page)).toContainText('Nobody speaks over it');
});
