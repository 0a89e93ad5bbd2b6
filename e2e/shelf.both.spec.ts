import {
  GRIPPED,
  CARRIED,
  addFromShelf,
  clip,
  drag,
  expect,
  goTo,
  item,
  layout,
  mainClips,
  middleOf,
  openPiece,
  openShelf,
  pieceOf,
  press,
  test,
  ONCE,
} from './studio';

const ONE = [{ media: 'demo-hilltop', from: 60, frames: 60 }];

test('the shelf is searched, filtered and shown as a list with figures', ONCE, async ({ page }, info) => {
  await openPiece(page, `Shelf ${info.project.name}`, ONE);
  await openShelf(page);
  await page.getByTestId('shelf-search').fill('talk');
  await expect(page.getByTestId(/^item-demo/)).toHaveCount(3);
  await page.getByTestId('shelf-search').fill('');
  await press(page.getByTestId('shelf-filter'));
  await press(page.getByRole('radio', { name: 'Photos' }));
  await expect(page.getByTestId(/^item-demo/)).toHaveCount(3);
  await press(page.getByRole('radio', { name: 'All' }));
  await press(page.getByRole('radio', { name: 'This piece' }));
  await expect(page.getByTestId(/^item-demo/)).toHaveCount(1);
  await press(page.getByTestId('shelf-as'));
  await expect(page.getByTestId('item-demo-hilltop')).toContainText('1080×1920 vertical · sound');
});

test('an item is looked at before it is used: scrubbed to the frame, two ranges kept, and a range placed', async ({ page }, info) => {
  await openPiece(page, `Look ${info.project.name}`, ONE);
  await openShelf(page);
  await press(page.getByRole('button', { name: 'Look at Beach run', exact: true }));
  await expect(page.getByTestId('look-sheet')).toBeVisible();
  const scrubber = page.getByTestId('scrubber');
  const box = await scrubber.boundingBox();
  if (!box) throw new Error('no scrubber');
  const to = async (share: number) => {
    const at = { x: box.x + box.width * share, y: box.y + 20 };
    await drag(page, at, { x: 1, y: 0 });
  };
  await to(0.25);
  await press(page.getByTestId('look-in'));
  await to(0.5);
  await press(page.getByTestId('look-out'));
  await press(page.getByTestId('look-keep'));
  await expect(page.getByTestId('look-range')).toHaveCount(1);
  await to(0.7);
  await press(page.getByTestId('look-in'));
  await press(page.getByTestId('look-keep'));
  await expect(page.getByTestId('look-range')).toHaveCount(2);
  await page.getByTestId('media-mark-name').fill('She turns');
  await press(page.getByTestId('media-mark'));
  await expect(page.getByTestId('media-marker')).toContainText('She turns');
  const ranges = (await pieceOf(page)).shelf?.find((e) => e.media.id === 'demo-beach-run')?.ranges ?? [];
  expect(ranges).toHaveLength(2);
  for (const range of ranges) expect([range.from % 23_520_000, range.to > range.from]).toEqual([0, true]);
  await press(page.getByRole('button', { name: 'Close' }).last());
  await openShelf(page);
  await press(page.getByTestId('range').first());
  await press(page.getByTestId('add-end'));
  await expect
    .poll(async () => (await layout(page))[1]?.slice(0, 2))
    .toEqual([60, Math.round(((ranges[0]?.to ?? 0) - (ranges[0]?.from ?? 0)) / 23_520_000)]);
});

test('placing over covers, sound alone goes to a sound track, a new track is made', ONCE, async ({ page }, info) => {
  await openPiece(page, `Placing ${info.project.name}`, [...ONE, { media: 'demo-beach-run', from: 0, frames: 100 }]);
  await goTo(page, '1.00');
  await openShelf(page);
  await press(page.getByTestId('add-how'));
  await press(page.getByRole('radio', { name: 'Cover' }));
  await addFromShelf(page, ['Spars'], 'playhead');
  await expect
    .poll(async () => (await layout(page)).map(([s, l]) => [s, l]))
    .toEqual([
      [0, 30],
      [30, 150],
    ]);
  await openShelf(page);
  if (!(await page.getByRole('radio', { name: 'Sound only' }).isVisible())) await press(page.getByTestId('add-how'));
  await press(page.getByRole('radio', { name: 'Sound only' }));
  await addFromShelf(page, ['Dusk'], 'playhead');
  await expect.poll(async () => (await pieceOf(page)).tracks.find((t) => t.kind === 'sound')?.clips[0]?.name).toBe('Dusk');
  await openShelf(page);
  if (!(await page.getByTestId('add-new-track').isVisible())) await press(page.getByTestId('add-how'));
  await press(page.getByRole('radio', { name: 'Picture and sound' }));
  await press(item(page, 'Finished kite'));
  await press(page.getByTestId('add-new-track'));
  await expect.poll(async () => (await pieceOf(page)).tracks.map((t) => t.kind)).toEqual(['picture', 'picture', 'sound']);
});

test(
  'a newer recording takes an item’s place everywhere with the cuts kept; its uses are listed; off the shelf nothing breaks',
  ONCE,
  async ({ page }, info) => {
    await openPiece(page, `Replace ${info.project.name}`, [...ONE, { media: 'demo-hilltop', from: 100, frames: 40 }]);
    await openShelf(page);
    await press(page.getByRole('button', { name: 'Look at Hilltop', exact: true }));
    await expect(page.getByTestId('uses')).toContainText('Used 2 times in this piece');
    await press(page.getByTestId('replace'));
    await press(page.getByTestId('replace-demo-beach-run'));
    await expect.poll(async () => (await pieceOf(page)).tracks[0]?.clips.map((c) => c.media)).toEqual(['demo-beach-run', 'demo-beach-run']);
    expect((await layout(page)).map(([s, l]) => [s, l])).toEqual([
      [0, 60],
      [60, 40],
    ]);
    await press(page.getByTestId('unshelve'));
    await expect(page.getByTestId('shelve')).toBeVisible();
    await expect.poll(async () => (await pieceOf(page)).tracks[0]?.clips.length).toBe(2);
  },
);

test('the order of a piece’s shelf is dragged', async ({ page }, info) => {
  await openPiece(page, `Order ${info.project.name}`, [
    ...ONE,
    { media: 'demo-dusk', from: 0, frames: 30 },
    { media: 'demo-spars', from: 0, frames: 30 },
  ]);
  await openShelf(page);
  await press(page.getByTestId('shelf-filter'));
  await press(page.getByRole('radio', { name: 'This piece' }));
  await press(page.getByTestId('shelf-as'));
  const grip = await middleOf(page.getByTestId('grip-demo-spars'));
  const first = await middleOf(page.getByTestId('grip-demo-hilltop'));
  await drag(page, grip, { x: 0, y: first.y - grip.y - 6 }, GRIPPED);
  await expect.poll(async () => (await pieceOf(page)).shelf?.map((e) => e.media.id)).toEqual(['demo-spars', 'demo-hilltop', 'demo-dusk']);
});

test('an item is dragged from the shelf onto the timeline: between two clips, and onto a new track', async ({ page }, info) => {
  await openPiece(page, `Dropped ${info.project.name}`, [...ONE, { media: 'demo-beach-run', from: 0, frames: 60 }]);
  await goTo(page, '1.00');
  const second = await clip(page, 1).boundingBox();
  if (!second) throw new Error('the clips are not in view');
  await openShelf(page);
  await item(page, 'Dusk').scrollIntoViewIfNeeded();
  const from = await middleOf(item(page, 'Dusk'));
  const to = { x: second.x + 40, y: second.y + 8 };
  await drag(page, from, { x: to.x - from.x, y: to.y - from.y }, CARRIED, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('Between Hilltop and Beach run; the rest makes room');
  });
  await expect.poll(async () => (await mainClips(page)).map((c) => c.name)).toEqual(['Hilltop', 'Dusk', 'Beach run']);
  expect((await layout(page))[2]?.[0]).toBe(60 + ((await layout(page))[1]?.[1] ?? 0));

  await expect(page.getByTestId('shelf-sheet')).toHaveCount(0);
  await openShelf(page);
  await item(page, 'Spars').scrollIntoViewIfNeeded();
  const again = await middleOf(item(page, 'Spars'));
  const last = await page.locator('[data-head="sound-1"]').boundingBox();
  const past = { x: (last?.x ?? 0) + 10, y: second.y + 60 };
  await drag(page, again, { x: past.x - again.x, y: past.y - again.y }, CARRIED, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('on a new track; nothing else moves');
  });
  await expect
    .poll(async () => (await pieceOf(page)).tracks.map((t) => [t.kind, t.clips.length]))
    .toEqual([
      ['picture', 3],
      ['picture', 1],
      ['sound', 0],
    ]);
  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await pieceOf(page)).tracks.length).toBe(2);
});
