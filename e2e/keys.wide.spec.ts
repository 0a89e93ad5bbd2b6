import { LONG, addFromShelf, drag, expect, layout, middleOf, openPiece, selectClip, test } from './studio';

const HILLTOP = { media: 'demo-hilltop', from: 0, frames: 300 };
const DUSK = { media: 'demo-dusk', from: 0, frames: 180 };

test('everything of the slice by keys: steps, split, delete, undo, redo, play', async ({ page }) => {
  await openPiece(page, 'By keys', [HILLTOP, DUSK]);
  const clock = page.getByTestId('clock');
  await page.keyboard.press('Home');
  for (let i = 0; i < 3; i += 1) await page.keyboard.press('Shift+ArrowDown');
  for (let i = 0; i < 2; i += 1) await page.keyboard.press('ArrowUp');
  await expect(clock).toHaveValue('0:02.28');
  await page.keyboard.press('s');
  await expect.poll(() => layout(page)).toHaveLength(3);
  await selectClip(page, 0);
  await page.keyboard.press('Shift+Delete');
  await expect.poll(async () => (await layout(page))[0]?.[0]).toBe(88);
  await page.keyboard.press('Control+z');
  await expect.poll(() => layout(page)).toHaveLength(3);
  await page.keyboard.press('Control+Shift+z');
  await expect.poll(() => layout(page)).toHaveLength(2);
  await page.keyboard.press('Control+z');
  await expect.poll(() => layout(page)).toHaveLength(3);
  await selectClip(page, 0);
  await page.keyboard.press('Delete');
  await expect.poll(async () => (await layout(page))[0]?.[0]).toBe(0);
  await page.keyboard.press('End');
  await expect(clock).toHaveValue('0:13.02');
  await openPiece(page, 'Played by keys', LONG);
  await page.keyboard.press(' ');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await expect.poll(() => clock.inputValue()).not.toMatch(/0:00/); // it goes on while we look: any later second will do
  await page.keyboard.press(' ');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
});

test('a drag catches on the playhead, and not while Alt is held', async ({ page }) => {
  await openPiece(page, 'Catching', [HILLTOP]);
  await page.getByTestId('clock').fill('4.00');
  await page.getByTestId('clock').press('Enter');
  await selectClip(page, 0);
  const tail = await middleOf(page.locator('[data-handle="tail"]'));
  const line = (await page.locator('[aria-label="Timeline: scroll to move the playhead"]').boundingBox())!;
  const playhead = line.y + line.height * 0.4;
  const pixelsToPlayhead = playhead - tail.y + 4;
  await drag(page, tail, { x: 0, y: pixelsToPlayhead });
  await expect.poll(async () => (await layout(page))[0]?.[1]).toBe(120);
  await page.keyboard.press('Control+z');
  await page.keyboard.down('Alt');
  await drag(page, await middleOf(page.locator('[data-handle="tail"]')), { x: 0, y: pixelsToPlayhead + 3 });
  await page.keyboard.up('Alt');
  await expect.poll(async () => (await layout(page))[0]?.[1]).not.toBe(300);
  expect((await layout(page))[0]?.[1]).not.toBe(120);
});

test('a picture of another shape is filled or fitted, clip by clip, with undo', async ({ page }) => {
  await openPiece(page, 'Fitting', []);
  await addFromShelf(page, ['Paper cut']);
  await selectClip(page, 0);
  await expect(page.getByTestId('card')).toContainText('fit, blur');
  await page.getByTestId('fit').click();
  await expect(page.getByTestId('card')).toContainText('fill');
  await page.getByTestId('undo').click();
  await expect(page.getByTestId('card')).toContainText('fit, blur');
});

test('a browser without WebCodecs is told so, and the preview still shows and plays', async ({ page }) => {
  await page.addInitScript(() => Reflect.deleteProperty(window, 'VideoDecoder'));
  await openPiece(page, 'Fallback', [DUSK]);
  const notice = page.getByText('This browser cannot decode video frame by frame');
  await expect(notice).toBeVisible();
  // Read once, it does not lie over the picture any more, and can be asked for.
  await page.getByTestId('approximate-known').click();
  await expect(notice).toHaveCount(0);
  await page.reload();
  await page.getByTestId('approximate').click();
  await expect(notice).toBeVisible();
  await page.getByTestId('approximate-known').click();
  const bright = () =>
    page.getByTestId('picture').evaluate((canvas) => {
      const context = (canvas as HTMLCanvasElement).getContext('2d');
      const data = context?.getImageData(0, 0, 40, 40).data ?? [];
      return [...data].filter((_, i) => i % 4 !== 3).reduce((a, b) => a + b, 0);
    });
  await expect.poll(bright).toBeGreaterThan(10_000);
  // A clip whose proxy is not made yet is shown and played by its original.
  let originals = 0;
  await page.route('**/api/media/*/proxy*', (route) => route.fulfill({ status: 409, body: '' }));
  await page.route('**/api/media/*/original', (route) => {
    originals += 1;
    return route.continue();
  });
  await page.reload();
  await expect.poll(bright).toBeGreaterThan(10_000);
  expect(originals).toBeGreaterThan(0);
  await page.keyboard.press(' ');
  await expect.poll(() => page.getByTestId('clock').inputValue()).not.toMatch(/0:00/);
});
