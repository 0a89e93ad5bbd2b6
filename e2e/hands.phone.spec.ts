import type { Page } from '@playwright/test';
import {
  PICKED_UP,
  THREE,
  addFromShelf,
  clip,
  drag,
  expect,
  goTo,
  home,
  layout,
  middleOf,
  openPiece,
  openShelf,
  press,
  selectClip,
  standStill,
  test,
  trackLayout,
} from './studio';

/** A piece of three demo clips of two seconds, with more of each after its end. */
const three = (page: Page) =>
  openPiece(
    page,
    'By thumb',
    ['demo-hilltop', 'demo-dusk', 'demo-line-in-hand'].map((media) => ({ media, from: 0, frames: 60 })),
  );

test('a clip held and dragged goes to a seam; the rest makes room, and the words say so before it is let go', async ({ page }) => {
  await three(page);
  await goTo(page, '0.10');
  const from = await middleOf(clip(page, 0));
  await drag(page, from, { x: 0, y: 118 }, PICKED_UP, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('Between Dusk and Line in hand; the rest makes room');
  });
  await expect
    .poll(() => layout(page))
    .toEqual([
      [0, 60, 0],
      [60, 60, 0],
      [120, 60, 0],
    ]);
  await expect(clip(page, 1)).toHaveAttribute('aria-label', /^Hilltop/);
});

test('a quick swipe scrolls time and never moves a clip', async ({ page }) => {
  await three(page);
  await goTo(page, '0.00');
  const before = await layout(page);
  const from = await middleOf(clip(page, 1));
  // However slowly the moves arrive, this finger does not stay long enough to pick anything up.
  await standStill(page);
  await drag(page, from, { x: 0, y: -150 });
  await page.clock.resume();
  await expect.poll(() => page.getByTestId('clock').inputValue()).not.toBe('0:00.00');
  expect(await layout(page)).toEqual(before);
});

test('a pinch zooms around the playhead, which stays on its frame', async ({ page }) => {
  await three(page);
  await goTo(page, '3.00');
  const height = async () => (await clip(page, 1).boundingBox())?.height ?? 0;
  const before = await height();
  const cdp = await page.context().newCDPSession(page);
  const points = (span: number) => [
    { x: 290, y: 420 - span / 2, id: 1 },
    { x: 290, y: 420 + span / 2, id: 2 },
  ];
  await page.waitForTimeout(500);
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: points(40) });
  for (let span = 52; span <= 160; span += 12) {
    await page.waitForTimeout(30);
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: points(span) });
  }
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect.poll(height).toBeGreaterThan(before * 2);
  expect(await page.getByTestId('clock').inputValue()).toBe('0:03.00');
});

test('an end pulled while the rest stays stops at the neighbour, and says so', async ({ page }) => {
  await three(page);
  await goTo(page, '1.20');
  await selectClip(page, 0);
  await press(page.getByTestId('rest'));
  await drag(page, await middleOf(page.locator('[data-handle="tail"]')), { x: 0, y: 60 }, null, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('The neighbour is in the way');
  });
  expect(await layout(page)).toEqual([
    [0, 60, 0],
    [60, 60, 0],
    [120, 60, 0],
  ]);
  await drag(page, await middleOf(page.locator('[data-handle="tail"]')), { x: 0, y: -24 });
  await expect.poll(async () => (await layout(page))[0]?.[1]).toBeLessThan(60);
  expect((await layout(page))[1]?.[0]).toBe(60);
});

test('steps by one frame, goes to the ends, and to a time that is typed; nonsense is refused with a sentence', async ({ page }) => {
  await three(page);
  const clock = page.getByTestId('clock');
  await goTo(page, '0:01.00');
  await press(page.getByTestId('frame-on'));
  await expect(clock).toHaveValue('0:01.01');
  await press(page.getByTestId('frame-back'));
  await press(page.getByTestId('frame-back'));
  await expect(clock).toHaveValue('0:00.29');
  await goTo(page, '99:00');
  await expect(clock).toHaveValue('0:06.00');
  await goTo(page, 'soon');
  await expect(page.getByText('Type a time as minutes:seconds.frames')).toBeVisible();
  await expect(clock).toHaveValue('0:06.00');
});

test('music goes to its own track, no longer than the picture', async ({ page }) => {
  await three(page);
  await page.keyboard.press('Escape');
  await openShelf(page);
  await addFromShelf(page, ['Up she goes']);
  await expect(page.locator('[data-kind="sound"]')).toHaveAttribute('aria-label', /Up she goes, from 0:00.00, 0:06.00 long/);
});

test('the gestures are shown once on a new device, and again when asked for', async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const page = await context.newPage();
  await page.goto(`${home()}/piece/demo-first-flight`);
  await expect(page.getByTestId('gestures-sheet')).toBeVisible();
  await press(page.getByTestId('gestures-done'));
  await expect(page.getByTestId('gestures-sheet')).toHaveCount(0);
  await page.reload();
  await expect(clip(page, 0)).toBeAttached();
  await expect(page.getByTestId('gestures-sheet')).toHaveCount(0);
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-gestures'));
  await expect(page.getByTestId('gestures-sheet')).toBeVisible();
  await context.close();
});

test('a clip held and dragged across goes onto a new track on top, and covers what is lower', async ({ page }) => {
  await openPiece(page, 'Across by thumb', THREE);
  await goTo(page, '1.00');
  const box = await clip(page, 0).boundingBox();
  if (!box) throw new Error('the clip is not in view');
  const from = { x: box.x + 30, y: box.y + 60 };
  await drag(page, from, { x: 385 - from.x, y: 0 }, PICKED_UP, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('on a new track; nothing else moves');
  });
  await expect.poll(() => trackLayout(page, 1)).toEqual([[0, 60]]);
  expect(await trackLayout(page, 0)).toEqual([
    [60, 60],
    [120, 60],
  ]);
});
