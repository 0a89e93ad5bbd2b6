import {
  STILL,
  THREE,
  clip,
  drag,
  expect,
  goTo,
  layout,
  mainClips,
  middleOf,
  openPiece,
  pieceOf,
  selectClip,
  test,
  trackLayout,
  typeInto,
} from './studio';

test('a box selects clips, and several are dragged together past the last track onto a new one, which covers what is lower', async ({
  page,
}) => {
  await openPiece(page, 'Layers', THREE);
  await goTo(page, '0');
  const first = await clip(page, 0).boundingBox();
  const second = await clip(page, 1).boundingBox();
  if (!first || !second) throw new Error('the clips are not in view');
  const from = { x: first.x - 22, y: first.y + 10 };
  await drag(page, from, { x: 80, y: second.y + 20 - from.y }, null, async () => {
    await expect(page.getByTestId('box')).toBeVisible();
  });
  await expect(page.getByText('2 selected')).toBeVisible();
  const sounds = page.locator('[data-head="sound-1"]');
  const target = await middleOf(sounds);
  const start = { x: first.x + 30, y: first.y + 30 };
  await drag(page, start, { x: target.x - start.x, y: 0 }, null, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('on a new track; nothing else moves');
  });
  await expect
    .poll(() => trackLayout(page, 1))
    .toEqual([
      [0, 60],
      [60, 60],
    ]);
  expect(await trackLayout(page, 0)).toEqual([[120, 60]]);
  expect((await pieceOf(page)).tracks.map((t) => t.kind)).toEqual(['picture', 'picture', 'sound']);
});

test('keys: any action is found by its words, keys are changed and kept, copies are pasted, clips swapped, slipped and frozen', async ({
  page,
}) => {
  await openPiece(page, 'Keys', THREE);
  await goTo(page, '1.00');
  await page.keyboard.press('Control+k');
  await page.getByTestId('search-text').fill('freeze');
  await page.getByTestId('do-freeze').click();
  await expect.poll(() => layout(page)).toHaveLength(5);
  expect((await mainClips(page))[1]?.hold).toBe(90 * 23_520_000);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('?');
  await page.getByTestId('keys-search').fill('split at');
  await page.getByTestId('key-split').click();
  await expect(page.getByTestId('key-split')).toHaveText('press a key');
  await page.keyboard.press('y');
  await expect(page.getByTestId('key-split')).toHaveText('Y');
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('keys-sheet')).toHaveCount(0);
  await page.reload();
  await expect(clip(page, 0)).toBeAttached();
  await goTo(page, '1.00');
  await page.keyboard.press('s');
  await page.keyboard.press('y');
  await expect.poll(() => layout(page)).toHaveLength(4);
  await page.keyboard.press('Control+z');
  await selectClip(page, 0);
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Escape');
  await page.keyboard.press('End');
  await page.keyboard.press('Control+v');
  await expect.poll(async () => (await trackLayout(page, 0)).at(-1)).toEqual([180, 60]);
  await goTo(page, '1.00');
  await selectClip(page, 0);
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(async () => (await layout(page))[0]).toEqual([0, 60, 61]);
  await clip(page, 1).click({ modifiers: ['Shift'], position: { x: 30, y: 26 } });
  await page.keyboard.press('x');
  await expect
    .poll(async () => (await layout(page)).slice(0, 2))
    .toEqual([
      [0, 60, 40],
      [60, 60, 61],
    ]);
});

test('deleting on all tracks moves later clips there too; closing gaps; duplicating; resetting', async ({ page }) => {
  await openPiece(page, 'Ripples', [...THREE, { media: 'demo-whoosh', from: 0, frames: 10, track: 'sound-1', at: 130 }]);
  await selectClip(page, 0);
  await page.keyboard.press('Control+Delete');
  await expect.poll(() => trackLayout(page, 1)).toEqual([[70, 10]]);
  await page.keyboard.press('Control+z');
  await selectClip(page, 0);
  await page.keyboard.press('Delete');
  await expect.poll(async () => (await trackLayout(page, 0)).length).toBe(2);
  expect(await trackLayout(page, 1)).toEqual([[130, 10]]);
  await selectClip(page, 0);
  await page.keyboard.press('Control+d');
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 60],
      [60, 60],
      [120, 60],
    ]);
  await goTo(page, '0.20');
  await selectClip(page, 0);
  await typeInto(page, 'card-start', '10.00');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await goTo(page, '0.10');
  await page.keyboard.press('g');
  await expect.poll(async () => (await trackLayout(page, 0))[0]).toEqual([0, 60]);
});

test('no two actions share a key, and each key listed does what it says', async ({ page }) => {
  await openPiece(page, 'All keys', THREE);
  await page.keyboard.press('?');
  const labels = await page.getByTestId(/^key-/).evaluateAll((nodes) => nodes.map((n) => n.getAttribute('aria-label') ?? ''));
  const keys = labels.flatMap((label) => (/: ([^:]*)\. Change$/.exec(label)?.[1] ?? '').split(', ')).filter((key) => key && key !== 'none');
  expect(keys.length).toBeGreaterThan(50);
  expect(keys.filter((key, i) => keys.indexOf(key) !== i)).toEqual([]);
  await page.keyboard.press('Escape');
  await goTo(page, '3.00');
  await page.keyboard.press('a');
  await expect(page.getByText('2 selected')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('PageUp');
  await expect(page.getByTestId('clock')).toHaveValue('0:02.00');
  await page.keyboard.press('b');
  await expect(page.getByTestId('marker')).toHaveCount(1);
  await page.keyboard.press('i');
  await page.keyboard.press('PageDown');
  await page.keyboard.press('o');
  await page.keyboard.press('k');
  await expect.poll(() => trackLayout(page, 0)).toEqual([[0, 60]]);
  await page.keyboard.press('Control+z');
  await expect.poll(() => trackLayout(page, 0)).toEqual(STILL);
  await goTo(page, '0.10');
  await page.keyboard.press('q');
  await expect.poll(async () => (await trackLayout(page, 0))[0]).toEqual([0, 50]);
});
