import {
  LONG,
  PICKED_UP,
  MUSIC,
  STILL,
  THREE,
  SHARP,
  clip,
  doAction,
  drag,
  expect,
  goTo,
  layout,
  mainClips,
  middleOf,
  openPiece,
  pieceOf,
  press,
  selectClip,
  standStill,
  test,
  trackLayout,
} from './studio';

test.use(SHARP);

const starts = async (page: Parameters<typeof layout>[0]) => (await layout(page)).map(([start, length]) => [start, length]);

test('by touch: frozen, duplicated, slipped, slid, reset, swapped, copied and pasted', async ({ page }) => {
  await openPiece(page, 'Edits by touch', THREE);
  await goTo(page, '1.00');
  await doAction(page, 'freeze');
  await expect
    .poll(() => starts(page))
    .toEqual([
      [0, 30],
      [30, 60],
      [90, 30],
      [120, 60],
      [180, 60],
    ]);
  await press(page.getByTestId('undo'));
  await selectClip(page, 0);
  await doAction(page, 'duplicate');
  await expect.poll(() => starts(page)).toEqual([...STILL, [180, 60]]);
  await press(page.getByTestId('undo'));
  await goTo(page, '2.20');
  await selectClip(page, 1);
  await doAction(page, 'slip-later');
  await expect.poll(async () => (await layout(page))[1]).toEqual([60, 60, 41]);
  await doAction(page, 'slide-earlier');
  await expect
    .poll(() => starts(page))
    .toEqual([
      [0, 59],
      [59, 60],
      [119, 61],
    ]);
  await doAction(page, 'reset');
  await expect.poll(async () => (await layout(page))[1]?.[2]).toBe(0);
  for (let i = 0; i < 3; i += 1) await press(page.getByTestId('undo'));
  await expect.poll(() => starts(page)).toEqual(STILL);
  await press(page.getByTestId('gather'));
  await goTo(page, '1.20');
  await press(clip(page, 0));
  await press(page.getByTestId('swap'));
  await expect.poll(async () => (await mainClips(page)).map((c) => c.name).slice(0, 2)).toEqual(['Beach run', 'Hilltop']);
  await press(page.getByTestId('copy'));
  await press(page.getByTestId('gather'));
  await goTo(page, '6.00');
  await doAction(page, 'paste');
  await expect.poll(() => starts(page)).toEqual([...STILL, [180, 60], [240, 60]]);
});

test('by touch: a box around clips, everything after the playhead, everything on a track', async ({ page }) => {
  await openPiece(page, 'Boxes by touch', [...THREE, MUSIC]);
  await goTo(page, '2.00');
  await selectClip(page, 1);
  await press(page.getByTestId('gather'));
  await press(clip(page, 1));
  const first = await clip(page, 0).boundingBox();
  const second = await clip(page, 1).boundingBox();
  if (!first || !second) throw new Error('the clips are not in view');
  const from = { x: first.x - 20, y: first.y + 20 };
  await drag(page, from, { x: 70, y: second.y + 20 - from.y }, PICKED_UP, async () => {
    await expect(page.getByTestId('box')).toBeVisible();
  });
  await expect(page.getByText('2 selected')).toBeVisible();
  await goTo(page, '2.10');
  await doAction(page, 'select-after');
  await expect(page.getByText('3 clips').first()).toBeVisible();
  await press(page.locator('[data-head="main"]'));
  await press(page.getByRole('button', { name: 'Select everything on it' }));
  await press(page.getByTestId('delete-close'));
  await expect.poll(() => trackLayout(page, 0)).toEqual([]);
  expect(await trackLayout(page, 1)).toEqual([[0, 180]]);
});

test('by touch: several clips are carried to a new track together; what they would cover is named before', async ({ page }) => {
  await openPiece(page, 'Carried by touch', THREE);
  await goTo(page, '2.00');
  await selectClip(page, 0);
  await press(page.getByTestId('gather'));
  await press(clip(page, 1));
  const box = await clip(page, 0).boundingBox();
  if (!box) throw new Error('the clip is not in view');
  const from = { x: box.x + 30, y: box.y + 70 };
  await drag(page, from, { x: 385 - from.x, y: 0 }, PICKED_UP, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('on a new track; nothing else moves');
  });
  await expect.poll(() => trackLayout(page, 1)).toEqual(STILL.slice(0, 2));
  await press(page.getByTestId('gather'));
  await doAction(page, 'drop');
  // The first drag may have scrolled across, near the edge: back to where both tracks are in view.
  await page.locator('.timeline-scroll').evaluate((node) => node.scrollTo({ left: 0 }));
  const third = await middleOf(clip(page, 0));
  const over = await page.locator('[data-head]').nth(1).boundingBox();
  await drag(page, third, { x: (over?.x ?? 0) + 20 - third.x, y: -50 }, PICKED_UP, async () => {
    await expect(page.getByTestId('drag-says')).toContainText(/covers (Beach run|Hilltop|2 clips)/);
  });
  await expect.poll(async () => (await pieceOf(page)).tracks[1]?.clips.length).toBeGreaterThan(1);
  expect(await trackLayout(page, 0)).toEqual([]);
});

test('by touch: a finger that rests lets go of what it caught on', async ({ page }) => {
  await openPiece(page, 'Resting', [THREE[0] as (typeof THREE)[number]]);
  await goTo(page, '1.15');
  await press(page.getByTestId('mark'));
  await goTo(page, '1.00');
  await selectClip(page, 0);
  const tail = await middleOf(page.locator('[data-handle="tail"]'));
  const marker = await middleOf(page.getByTestId('marker'));
  const clipBox = await clip(page, 0).boundingBox();
  const end = (clipBox?.y ?? 0) + (clipBox?.height ?? 0);
  const cdp = await page.context().newCDPSession(page);
  const move = async (y: number) => {
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: [{ x: tail.x, y }] });
    await page.clock.runFor(20);
  };
  await standStill(page);
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [tail] });
  // Four pixels beside the marker: caught on it.
  for (let i = 1; i <= 10; i += 1) await move(tail.y + ((marker.y + 4 - end) * i) / 10);
  await expect(page.getByTestId('drag-says')).toContainText('0:01.15');
  await page.clock.runFor(800);
  await expect(page.getByTestId('drag-says')).not.toContainText('0:01.15');
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await page.clock.resume();
  await expect.poll(async () => (await trackLayout(page, 0))[0]?.[1]).not.toBe(60);
  expect((await trackLayout(page, 0))[0]?.[1]).not.toBe(45);
});

test('by touch: a marker dropped while playing stands where it was dropped; an action is found by its words', async ({ page }) => {
  await openPiece(page, 'Marked on the way', LONG);
  await press(page.getByTestId('play'));
  await expect.poll(() => page.getByTestId('clock').inputValue()).not.toBe('0:00.00');
  await press(page.getByTestId('mark'));
  await expect(page.getByTestId('marker')).toHaveCount(1);
  const dropped = await page.getByTestId('clock').inputValue();
  await expect.poll(() => page.getByTestId('clock').inputValue()).not.toBe(dropped);
  await expect(page.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
  await press(page.getByTestId('play'));
  const paused = await page.getByTestId('clock').inputValue();
  const [marker] = (await pieceOf(page)).markers ?? [];
  expect(marker?.time).toBeGreaterThan(0);
  expect((marker?.time ?? 1) % 23_520_000).toBe(0);
  await press(page.getByTestId('marker'));
  expect(await page.getByTestId('clock').inputValue()).not.toBe(paused);
  await goTo(page, '0.10');
  await doAction(page, 'search');
  await page.getByTestId('search-text').fill('every unlocked track');
  await press(page.getByTestId('do-split-all'));
  await expect.poll(async () => (await mainClips(page)).length).toBe(11);
});
