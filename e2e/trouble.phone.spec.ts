import type { Page } from '@playwright/test';
import { THREE, addFromShelf, expect, goTo, openPiece, press, test } from './studio';

/** How bright the middle of the picture is that is on the screen, 0 to 255. */
const middle = (page: Page) =>
  page.evaluate(async () => {
    const { flimzyPreview: engine } = globalThis as unknown as { flimzyPreview: { element: HTMLCanvasElement } };
    const bitmap = await createImageBitmap(engine.element);
    const canvas = new OffscreenCanvas(1, 1);
    const context = canvas.getContext('2d');
    context?.drawImage(bitmap, bitmap.width / 2, bitmap.height / 2, 4, 4, 0, 0, 1, 1);
    const [r = 0, g = 0, b = 0] = context?.getImageData(0, 0, 1, 1).data ?? [];
    return Math.max(r, g, b);
  });

test('a video that cannot be had at first is said, and shown as soon as it can; nothing else stands still', async ({ page }) => {
  let broken = true;
  await page.route('**/frames', (route) => (broken ? route.fulfill({ status: 200, body: 'nonsense' }) : route.continue()));
  await openPiece(page, 'Broken for a while', THREE);
  await expect(page.getByText(/cannot be shown just now/).first()).toBeVisible();
  broken = false;
  await goTo(page, '0.10');
  await expect.poll(() => middle(page)).toBeGreaterThan(30);
  await press(page.getByTestId('play'));
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await press(page.getByTestId('play'));
  await expect.poll(() => middle(page)).toBeGreaterThan(30);
});

test('a photo that could not be fetched is tried again', async ({ page }) => {
  await openPiece(page, 'Photo for a while', []);
  let broken = true;
  await page.route('**/proxy', (route) => (broken ? route.abort() : route.continue()));
  await addFromShelf(page, ['The bench']);
  await expect(page.getByText(/“The bench” cannot be shown just now/).first()).toBeVisible();
  broken = false;
  await goTo(page, '0.20');
  await expect.poll(() => middle(page)).toBeGreaterThan(30);
});
