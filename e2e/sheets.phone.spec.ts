import type { Locator, Page } from '@playwright/test';
import { THREE, SHARP, clip, expect, goTo, middleOf, openPiece, press, selectClip, test } from './studio';

test.use(SHARP);

/** Pulls a sheet by its title line, so many pixels down, and lets go where the finger stands. */
async function pull(page: Page, by: number): Promise<void> {
  const { x, y } = await middleOf(page.getByTestId('sheet-handle'));
  const cdp = await page.context().newCDPSession(page);
  const touch = (type: string, to?: number) =>
    cdp.send('Input.dispatchTouchEvent', { type, touchPoints: to === undefined ? [] : [{ x, y: to }] } as never);
  await touch('touchStart', y);
  for (let to = 0; to <= by; to += by / 10) {
    await touch('touchMove', y + to);
    await page.waitForTimeout(30);
  }
  await page.waitForTimeout(250); // a finger that stands throws nothing
  await touch('touchEnd');
}

const top = async (of: Locator) => (await of.boundingBox())?.y ?? 0;

test('a sheet comes away by pulling it down, stays when pulled a little, and opens where it was left', async ({ page }) => {
  await openPiece(page, 'Pulled down', THREE);
  await press(page.getByTestId('more'));
  const dialog = page.getByRole('dialog');
  const sheet = page.getByTestId('more-sheet');
  await expect(sheet).toBeInViewport({ ratio: 0.95 });
  const stands = await top(sheet);
  await sheet.locator('[data-testid^="do-"]').last().scrollIntoViewIfNeeded();
  const read = () => sheet.evaluate((node) => Math.max(...[...node.querySelectorAll('*')].map((one) => one.scrollTop)));
  await expect.poll(read).toBeGreaterThan(50);
  const place = await read();
  await pull(page, 40);
  await expect.poll(() => top(sheet)).toBeCloseTo(stands, 0);
  await pull(page, 400);
  await expect(dialog).toHaveCount(0);
  await press(page.getByTestId('more'));
  await expect.poll(read).toBeCloseTo(place, -1);
  // A touch beside it, in what stays in sight of the piece, closes it too.
  await page.touchscreen.tap(195, 120);
  await expect(dialog).toHaveCount(0);
});

test('what a clip can do leaves the clip in sight, and its pictures are sharp', async ({ page }) => {
  await openPiece(page, 'In sight', THREE);
  await goTo(page, '0.10');
  await selectClip(page, 0);
  await press(page.getByTestId('more'));
  const sheet = page.getByTestId('more-sheet');
  await expect(sheet).toBeInViewport({ ratio: 0.95 });
  const middle = await middleOf(clip(page, 0));
  expect(await top(page.getByTestId('sheet-handle'))).toBeGreaterThan(middle.y);
  await page.keyboard.press('Escape');
  await expect(sheet).toHaveCount(0);
  const picture = clip(page, 0).locator('img').first();
  await expect
    .poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth))
    .toBeGreaterThanOrEqual(await picture.evaluate((img) => img.getBoundingClientRect().width * window.devicePixelRatio));
});
