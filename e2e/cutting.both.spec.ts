import { pieceLength } from '@flimzy/core/piece';
import {
  MUSIC,
  STILL,
  THREE,
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
  test,
  trackLayout,
  typeInto,
  ONCE,
} from './studio';

test('a J-cut in one gesture: the sound edge is pulled, no picture moves, and it is typed and undone too', async ({ page }, info) => {
  await openPiece(page, `J-cut ${info.project.name}`, THREE);
  await goTo(page, '2.10');
  await selectClip(page, 1);
  await drag(page, await middleOf(page.locator('[data-handle="sound-head"]')), { x: 0, y: -24 }, null, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('before the picture');
  });
  await expect.poll(async () => (await mainClips(page))[1]?.lead ?? 0).toBeGreaterThan(0);
  const [first, second] = await mainClips(page);
  expect(first?.trail).toBe(-(second?.lead ?? 0));
  expect((await trackLayout(page, 0)).map((c) => [...c])).toEqual(STILL);
  // The first clip has a second and more before it, the sound of a clip that begins with its material has none.
  await typeInto(page, 'card-from', '0.00');
  await drag(page, await middleOf(page.locator('[data-handle="sound-head"]')), { x: 0, y: -24 }, null, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('No more material');
  });
  // The drag gave the clip before its sound back up to the join; both that and the slip are undone.
  for (let i = 0; i < 2; i += 1) await press(page.getByTestId('undo'));
  await expect.poll(async () => (await mainClips(page))[1]?.from).toBe(40 * 23_520_000);
  await typeInto(page, 'card-sound-in', '-0.10');
  await expect.poll(async () => (await mainClips(page))[1]?.lead).toBe(10 * 23_520_000);
  await expect(page.getByTestId('undo')).toHaveAttribute('aria-label', /Sound start of Beach run/);
});

test('the seam view: frames of both sides, the wheel rolls the join by frames, sound is handed over by a figure, on to the next seam', async ({
  page,
}, info) => {
  await openPiece(page, `Seam ${info.project.name}`, THREE);
  await goTo(page, '2.00');
  await press(page.getByTestId('seam'));
  await expect(page.getByTestId('seam-sheet')).toBeVisible();
  const shown = (side: string) => page.getByTestId(`seam-${side}`).getAttribute('data-time');
  await expect.poll(() => shown('before')).toBe(String(59 * 23_520_000));
  await expect.poll(() => shown('after')).toBe(String(60 * 23_520_000));
  await press(page.getByTestId('wheel1'));
  await press(page.getByTestId('wheel10'));
  await press(page.getByTestId('wheel-1'));
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 70],
      [70, 50],
      [120, 60],
    ]);
  await expect.poll(() => shown('after')).toBe(String(70 * 23_520_000));
  const wheel = await middleOf(page.getByTestId('wheel'));
  await drag(page, wheel, { x: -110, y: 0 });
  await expect.poll(() => trackLayout(page, 0)).toEqual(STILL);
  await typeInto(page, 'seam-hand-over', '-0.05');
  await expect.poll(async () => (await mainClips(page))[1]?.lead).toBe(5 * 23_520_000);
  await typeInto(page, 'seam-blend', '100');
  await expect.poll(async () => (await mainClips(page))[1]?.blend).toBe(70_560_000);
  await press(page.getByTestId('seam-loop'));
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
  await press(page.getByRole('radio', { name: 'Leaves' }));
  await press(page.getByTestId('wheel-1'));
  await expect.poll(async () => (await trackLayout(page, 0))[0]).toEqual([0, 59]);
  await press(page.getByTestId('seam-loop'));
  await press(page.getByTestId('seam-next'));
  await expect(page.getByRole('dialog')).toContainText('Seam 2 of 2');
  await expect.poll(() => shown('before')).toBe(String(118 * 23_520_000));
});

test('detached sound follows its picture, says when it stands apart, and is brought back in step', ONCE, async ({ page }, info) => {
  await openPiece(page, `Linked ${info.project.name}`, [...THREE, MUSIC]);
  await goTo(page, '2.10');
  await selectClip(page, 1);
  await doAction(page, 'detach');
  await expect.poll(() => trackLayout(page, 2)).toEqual([[60, 60]]);
  await goTo(page, '3.00');
  await press(page.getByTestId('split'));
  await expect
    .poll(() => trackLayout(page, 2))
    .toEqual([
      [60, 30],
      [90, 30],
    ]);
  await doAction(page, 'unlink');
  await typeInto(page, 'card-start', '6.10');
  await expect.poll(async () => (await trackLayout(page, 0)).at(-1)).toEqual([190, 30]);
  await press(page.getByTestId('gather'));
  await goTo(page, '2.20');
  const sound = page.locator('[data-kind="sound"]').filter({ hasText: 'Beach run' }).first();
  await press(sound);
  await doAction(page, 'link');
  await expect(page.getByTestId('out-of-step')).toHaveCount(2);
  await doAction(page, 'in-step');
  await expect(page.getByTestId('out-of-step')).toHaveCount(0);
});

test('deleting a picture says that its detached sound went along, and one touch keeps it', ONCE, async ({ page }, info) => {
  await openPiece(page, `Keeps ${info.project.name}`, THREE);
  await goTo(page, '2.10');
  await selectClip(page, 1);
  await doAction(page, 'detach');
  await expect.poll(() => trackLayout(page, 1)).toEqual([[60, 60]]);
  await selectClip(page, 1);
  await press(page.getByTestId('delete-leave'));
  await expect(page.getByText('Its linked sound went along.')).toBeVisible();
  await expect.poll(() => trackLayout(page, 1)).toEqual([]);
  await press(page.getByRole('button', { name: 'Keep the sound' }));
  await expect.poll(() => trackLayout(page, 1)).toEqual([[60, 60]]);
  expect(await trackLayout(page, 0)).toEqual([
    [0, 60],
    [120, 60],
  ]);
  await expect(page.getByTestId('undo')).toHaveAttribute('aria-label', /Undo: Delete Beach run alone, leave a gap/);
});

test('a stretch of time is taken out on every unlocked track, a locked one is left alone', ONCE, async ({ page }, info) => {
  await openPiece(page, `Stretch ${info.project.name}`, [...THREE, MUSIC]);
  await press(page.locator('[data-head="sound-1"]'));
  await press(page.getByTestId('track-lock'));
  await page.keyboard.press('Escape');
  await goTo(page, '1.10');
  await press(page.getByTestId('in'));
  await goTo(page, '3.10');
  await doAction(page, 'out');
  await expect(page.getByTestId('stretch')).toBeVisible();
  await press(page.getByTestId('take-out'));
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 40],
      [40, 20],
      [60, 60],
    ]);
  expect(await trackLayout(page, 1)).toEqual([[0, 180]]);
  await press(page.getByTestId('undo'));
  await expect.poll(() => trackLayout(page, 0)).toEqual(STILL);
});

test('several clips become a nest, which is opened, cut inside, left and taken apart', ONCE, async ({ page }, info) => {
  await openPiece(page, `Nest ${info.project.name}`, THREE);
  await goTo(page, '1.20');
  await selectClip(page, 0);
  await press(page.getByTestId('gather'));
  await press(clip(page, 1));
  await press(page.getByTestId('nest'));
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 120],
      [120, 60],
    ]);
  await goTo(page, '1.10');
  await selectClip(page, 0);
  await press(page.getByTestId('open-nest'));
  await expect(page.getByTestId('piece-title')).toContainText('› Nest 1');
  await expect(page.locator('[data-kind="picture"]')).toHaveCount(2);
  await goTo(page, '1.00');
  await press(page.getByTestId('split'));
  await expect(page.locator('[data-kind="picture"]')).toHaveCount(3);
  await press(page.getByTestId('back'));
  await expect(page.locator('[data-kind="picture"]')).toHaveCount(2);
  await expect(page.getByTestId('clock')).toHaveValue('0:01.10');
  await selectClip(page, 0);
  await doAction(page, 'unnest');
  await expect
    .poll(() => trackLayout(page, 0))
    .toEqual([
      [0, 30],
      [30, 30],
      [60, 60],
      [120, 60],
    ]);
});

test('markers: dropped, named, moved by typing, jumped to', ONCE, async ({ page }, info) => {
  await openPiece(page, `Markers ${info.project.name}`, THREE);
  await goTo(page, '1.15');
  await press(page.getByTestId('mark'));
  await expect(page.getByTestId('marker')).toHaveCount(1);
  await doAction(page, 'markers');
  await press(page.getByRole('button', { name: 'Change' }));
  await page.getByTestId('marker-name').fill('The pull');
  await press(page.getByRole('radio', { name: 'Letter C' }));
  await press(page.getByTestId('marker-keep'));
  await typeInto(page, 'marker-time', '3.00');
  await expect
    .poll(async () => (await pieceOf(page)).markers?.map((m) => [m.time / 23_520_000, m.name, m.letter]))
    .toEqual([[90, 'The pull', 'C']]);
  await press(page.getByRole('button', { name: 'Go to The pull' }));
  await expect(page.getByTestId('clock')).toHaveValue('0:03.00');
  await drag(page, await middleOf(page.getByTestId('marker')), { x: 0, y: 45 }, null, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('Marker The pull; no clip moves');
  });
  await expect.poll(async () => (await pieceOf(page)).markers?.[0]?.time).toBeGreaterThan(90 * 23_520_000);
  await expect(page.getByTestId('clock')).toHaveValue('0:03.00');
});

test('the same end of several clips is pulled at once; the head of the first grows again', ONCE, async ({ page }, info) => {
  await openPiece(page, `Ends ${info.project.name}`, THREE);
  for (let i = 0; i < 2; i += 1) {
    await press(page.getByTestId('more'));
    await press(page.getByTestId('do-zoom-in'));
  }
  await goTo(page, '2.00');
  await selectClip(page, 0);
  await press(page.getByTestId('gather'));
  await press(clip(page, 1));
  await expect(page.getByText('2 selected')).toBeVisible();
  await goTo(page, '2.00');
  const tail = page.locator('[data-handle="tail"]').first();
  await drag(page, await middleOf(tail), { x: 0, y: -40 }, null, async () => {
    await expect(page.getByTestId('drag-says')).toContainText('2 clips, each by as much');
  });
  await expect.poll(async () => (await trackLayout(page, 0))[0]?.[1]).toBeLessThan(60);
  const [first, second, third] = await trackLayout(page, 0);
  expect(second).toEqual([first?.[1], first?.[1]]);
  expect(third).toEqual([2 * (first?.[1] ?? 0), 60]);
  await press(page.getByTestId('undo'));
  await expect.poll(() => trackLayout(page, 0)).toEqual(STILL);
  await press(page.getByTestId('gather'));
  await goTo(page, '0.05');
  await selectClip(page, 0);
  await drag(page, await middleOf(page.locator('[data-handle="head"]')), { x: 0, y: -30 });
  await expect.poll(async () => (await layout(page))[0]?.[2]).toBeLessThan(60);
  const [head] = await layout(page);
  expect([head?.[0], (head?.[1] ?? 0) + (head?.[2] ?? 0)]).toEqual([0, 120]);
});

test('history: back to any edit and forward again, a named version opened as a copy', ONCE, async ({ page }, info) => {
  await openPiece(page, `History ${info.project.name}`, THREE);
  for (const time of ['0.20', '2.20', '4.20']) {
    await goTo(page, time);
    await press(page.getByTestId('split'));
  }
  await expect.poll(() => layout(page)).toHaveLength(6);
  await press(page.getByTestId('history'));
  await page.getByTestId('version-name').fill('Six pieces');
  await press(page.getByTestId('version-save'));
  await expect(page.getByTestId('version')).toContainText('Six pieces');
  await press(page.getByTestId('history-done').nth(1));
  await expect.poll(() => layout(page)).toHaveLength(4);
  await press(page.getByTestId('history-undone').last());
  await expect.poll(() => layout(page)).toHaveLength(5);
  await press(page.getByRole('button', { name: 'Open as a copy' }));
  await expect(page.getByTestId('piece-title')).toHaveText(`History ${info.project.name} (Six pieces)`);
  await expect.poll(() => layout(page)).toHaveLength(6);
});

test('pauses in speech are found, shown, and taken out with a breath left', ONCE, async ({ page }, info) => {
  await openPiece(page, `Pauses ${info.project.name}`, [{ media: 'demo-talk-front', from: 0, frames: 590 }]);
  await doAction(page, 'select-all');
  await doAction(page, 'pauses');
  await typeInto(page, 'pause-least', '0.3');
  await typeInto(page, 'pause-level', '-30');
  await expect(page.getByTestId('pause').first()).toBeVisible();
  const count = await page.getByTestId('pause').count();
  await press(page.getByRole('checkbox', { name: /Take out the pause at/ }).first());
  await expect(page.getByTestId('take-pauses')).toContainText(`Take out ${count - 1}`);
  // They stand on the timeline too; touching one there keeps it in or takes it out.
  await press(page.getByRole('button', { name: /^Go to/ }).first());
  const band = page.getByTestId('pause-band').first();
  await expect(band).toHaveAttribute('aria-pressed', 'false');
  await press(band);
  await expect(page.getByTestId('take-pauses')).toContainText(`Take out ${count}`);
  await press(band);
  await press(page.getByTestId('take-pauses'));
  await expect.poll(async () => pieceLength(await pieceOf(page)) / 23_520_000).toBeLessThan(590);
  await press(page.getByTestId('undo'));
  await expect.poll(() => trackLayout(page, 0)).toEqual([[0, 590]]);
});

test('tracks are named, hidden, muted, put in order and removed; empty ones all at once', ONCE, async ({ page }, info) => {
  await openPiece(page, `Tracks ${info.project.name}`, THREE);
  await doAction(page, 'add-picture-track');
  await doAction(page, 'add-sound-track');
  await expect.poll(async () => (await pieceOf(page)).tracks.length).toBe(4);
  const added = (await pieceOf(page)).tracks[1]?.id ?? '';
  await press(page.locator(`[data-head="${added}"]`));
  await page.getByTestId('track-name').fill('Over');
  await press(page.getByRole('button', { name: 'Rename' }));
  for (const state of ['hide', 'mute', 'solo']) await press(page.getByTestId(`track-${state}`));
  await press(page.getByTestId('track-left'));
  await expect
    .poll(async () => (await pieceOf(page)).tracks.map((t) => [t.name, Boolean(t.hidden), t.muted, Boolean(t.solo)]).slice(0, 2))
    .toEqual([
      ['Over', true, true, true],
      ['Picture', false, false, false],
    ]);
  await page.keyboard.press('Escape');
  await press(page.getByTestId('undo'));
  await doAction(page, 'remove-empty');
  await expect.poll(async () => (await pieceOf(page)).tracks.map((t) => t.name)).toEqual(['Picture']);
});
