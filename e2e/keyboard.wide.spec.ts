import {
  clip,
  expect,
  goTo,
  item,
  layout,
  mainClips,
  MUSIC,
  openPiece,
  pieceOf,
  STILL,
  test,
  THREE,
  trackLayout,
  typeInto,
} from './studio';

test('by keys alone: the seam view turned by arrows, nest and out of it, detach, pauses, history, markers', async ({ page }) => {
  await openPiece(page, 'Keys alone', [...THREE, MUSIC]);
  await page.keyboard.press('PageDown');
  await page.keyboard.press('j');
  await page.getByTestId('wheel').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('PageUp');
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 71],
      [71, 49],
      [120, 60],
    ]);
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('seam-sheet')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(() => trackLayout(page, 0)).toEqual(STILL);

  await goTo(page, '2.10');
  await page.keyboard.press('t');
  await page.keyboard.press('Control+g');
  await expect.poll(async () => Object.keys((await pieceOf(page)).nests ?? {}).length).toBe(1);
  await page.keyboard.press('Control+z');

  await clip(page, 1).focus();
  await page.keyboard.press('Enter');
  await expect(clip(page, 1)).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('d');
  await expect.poll(() => trackLayout(page, 2)).toEqual([[60, 60]]);
  await page.keyboard.press('p');
  await expect(page.getByTestId('pauses-sheet')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('h');
  await expect(page.getByTestId('history-now')).toContainText('Detach the sound of Beach run');
  await page.keyboard.press('Escape');
  await page.keyboard.press('b');
  await page.keyboard.press('Shift+b');
  await expect(page.getByTestId('marker-line')).toHaveCount(1);
});

test('by keys alone: a clip is nudged, slid, trimmed to the playhead; a gap is closed; the rest is told to stay', async ({ page }) => {
  await openPiece(page, 'Nudged', THREE);
  await clip(page, 1).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Alt+Shift+ArrowDown');
  await expect
    .poll(() => layout(page))
    .toEqual([
      [0, 61, 60],
      [61, 60, 40],
      [121, 59, 181],
    ]);
  await page.keyboard.press('Control+z');
  await goTo(page, '2.06');
  await page.keyboard.press('Shift+j');
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 66],
      [66, 54],
      [120, 60],
    ]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('r');
  await goTo(page, '3.10');
  await page.keyboard.press('w');
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 60],
      [60, 40],
      [120, 60],
    ]);
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(async () => (await trackLayout(page, 0))[1]).toEqual([61, 40]);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Shift+g');
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 60],
      [60, 40],
      [100, 60],
    ]);
  await page.keyboard.press('r');
});

test('by keys alone: chosen on the shelf and placed, put in order, a track renamed and locked', async ({ page }) => {
  await openPiece(page, 'Shelf by keys', THREE.slice(0, 2));
  await item(page, 'Dusk').focus();
  await page.keyboard.press('Enter');
  await expect(item(page, 'Dusk')).toHaveAttribute('aria-checked', 'true');
  await page.getByTestId('add-end').focus();
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await mainClips(page)).length).toBe(3);
  await page.locator('[data-head="main"]').focus();
  await page.keyboard.press('Enter');
  await page.getByTestId('track-lock').focus();
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await pieceOf(page)).tracks[0]?.locked).toBe(true);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+a');
  await page.keyboard.press('s');
  await expect(page.getByText(/is locked|no clip under the playhead/)).toBeVisible();
});

test('by keys alone: a stretch taken out and kept, history gone back in, sound unlinked and linked, a sound edge typed', async ({
  page,
}) => {
  await openPiece(page, 'More by keys', [...THREE, MUSIC]);
  await goTo(page, '1.00');
  await page.keyboard.press('i');
  await goTo(page, '3.00');
  await page.keyboard.press('o');
  await page.keyboard.press('e');
  await expect.poll(async () => (await trackLayout(page, 0)).at(-1)).toEqual([60, 60]);
  expect(await trackLayout(page, 1)).toEqual([
    [0, 30],
    [30, 90],
  ]);
  await page.keyboard.press('h');
  await page.getByTestId('history-done').first().focus();
  await page.keyboard.press('Enter');
  await expect.poll(() => trackLayout(page, 0)).toEqual(STILL);
  await page.keyboard.press('Escape');
  await clip(page, 1).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('d');
  await page.keyboard.press('Shift+l');
  await expect.poll(async () => (await mainClips(page))[1]?.link).toBeUndefined();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await typeInto(page, 'card-sound-in', '-0.06');
  await expect.poll(async () => (await mainClips(page))[1]?.lead).toBe(6 * 23_520_000);
});

test('by keys alone: an item looked at to the frame, a range marked and kept', async ({ page }) => {
  await openPiece(page, 'Looked at by keys', THREE);
  await page.getByRole('button', { name: 'Look at Beach run', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('look-sheet')).toBeVisible();
  for (const id of ['look-on', 'look-on', 'look-in', 'look-on', 'look-on', 'look-on', 'look-out', 'look-keep']) {
    await page.getByTestId(id).focus();
    await page.keyboard.press('Enter');
  }
  await expect(page.getByTestId('look-range')).toHaveCount(1);
  const [range] = (await pieceOf(page)).shelf?.find((e) => e.media.id === 'demo-beach-run')?.ranges ?? [];
  expect([(range?.from ?? 0) / 23_520_000, (range?.to ?? 0) / 23_520_000]).toEqual([2, 6]);
});
