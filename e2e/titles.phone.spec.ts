import type { Page } from '@playwright/test';
import { valueAt, valueOf, type TextPart } from '@flimzy/core/properties';
import { frameLength } from '@flimzy/core/time';
import { wrongs } from './axe';
import { exportedFrame, serverAt } from './previewed';
import { ssim } from './ssim';
import { ask, doAction, drag, expect, exportTo, goTo, middleOf, openPiece, pieceOf, press, test, THREE, typeInto } from './studio';
import { partsIn, titles, write } from './written';

const F = frameLength({ num: 30, den: 1 });
const SIZE = { width: 270, height: 480 };

const textIn = async (page: Page, n = 0) => partsIn((await titles(page))[n]).find((part): part is TextPart => part.kind === 'text')!;

test('a title is written on the picture, dressed, moved by hand, and sent as it is seen', async ({ page }, info) => {
  const phone = page.viewportSize()!;
  await openPiece(page, 'Titles', [...THREE], SIZE);
  await goTo(page, '1.00');
  const { id } = await pieceOf(page);
  const bare = await serverAt(page, { id }, 45 * F, 270);
  await doAction(page, 'title');
  await expect(page.getByTestId('title-panel')).toBeVisible();
  expect(await wrongs(page, 'all')).toEqual([]);
  await write(page, 'Wind ᚲ → ★ 風');
  await expect(page.getByTestId('title-boxed')).toContainText('No font here has ᚲ:');
  await write(page, 'Wind from\nthe west');
  await expect(page.getByTestId('title-boxed')).toHaveCount(0);
  // Kept by itself when the typing rests; the clip stands on a track of its own, over what is at the playhead.
  await expect.poll(async () => (await textIn(page)).text).toBe('Wind from\nthe west');
  const piece = await pieceOf(page);
  expect(piece.tracks.map(({ kind, clips }) => [kind, clips.length])).toEqual([
    ['picture', 3],
    ['picture', 1],
    ['sound', 0],
  ]);
  expect((await titles(page)).map(({ start, length }) => [start / F, length / F])).toEqual([[30, 90]]);

  // A preset keeps the words; the phone's keyboard leaves room to write and to see.
  await page.setViewportSize({ ...phone, height: 470 });
  await expect(page.getByTestId('title-words')).toBeInViewport();
  expect((await page.getByTestId('picture').boundingBox())!.height).toBeGreaterThan(100);
  await page.setViewportSize(phone);
  await press(page.getByTestId('preset-placard'));
  await expect.poll(async () => (await textIn(page)).font).toBe('tall');
  expect((await textIn(page)).text).toBe('Wind from\nthe west');
  await press(page.getByTestId('font-poster'));
  await press(page.getByTestId('weight-700'));
  await typeInto(page, 'title-colour', 'fff');
  await expect.poll(async () => textIn(page)).toMatchObject({ font: 'poster', weight: 700, colour: '#ffffff' });
  await typeInto(page, 'title-size', '250');
  await expect(page.getByText('Between 1.0 % and 100.0 %.')).toBeVisible();
  await typeInto(page, 'title-size', '14 %');
  await expect.poll(async () => (await textIn(page)).size).toBe(0.14);

  // Where the platforms that it is made for leave room for words is seen while there are words to be put somewhere.
  await expect(page.getByTestId('safe-area')).toHaveCount(0);
  await ask(page, 'setFormats', { formats: ['vertical-short', 'square-post'], named: 'two' });
  await expect(page.getByTestId('safe-area')).toHaveCount(1);
  await ask(page, 'setFormats', { formats: [], named: '' });
  await expect(page.getByTestId('safe-area')).toHaveCount(0);

  // By hand: down the picture, and larger about its own middle.
  const [before] = await titles(page);
  const grips = page.getByTestId('grip-corner');
  await expect(grips).toHaveCount(4);
  const box = (await page.getByTestId('handles').boundingBox())!;
  const middle = async () => {
    const [one, other] = [await middleOf(grips.nth(0)), await middleOf(grips.nth(2))];
    return { x: (one.x + other.x) / 2, y: (one.y + other.y) / 2 };
  };
  await drag(page, await middle(), { x: 0, y: box.height * 0.31 });
  await expect.poll(async () => valueAt(valueOf((await titles(page))[0]!, 'y'), 0)).toBeGreaterThan(0.25);
  expect(valueOf((await titles(page))[0]!, 'x')).toBe(valueOf(before!, 'x'));
  const at = await middle();
  const corner = await middleOf(grips.nth(0));
  await drag(page, corner, { x: (at.x - corner.x) * 0.4, y: (at.y - corner.y) * 0.4 });
  await expect.poll(async () => valueAt(valueOf((await titles(page))[0]!, 'scale'), 0)).toBeLessThan(0.8);
  const now = await middle();
  expect(Math.hypot(now.x - at.x, now.y - at.y)).toBeLessThan(3);

  // Touched on the picture, it is chosen again and its words stand open.
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('title-panel')).toHaveCount(0);
  await goTo(page, '1.25');
  await press(page.getByText('Wind from the west').first());
  await press(page.getByTestId('edit-title'));
  await expect(page.getByTestId('title-words')).toHaveValue('Wind from\nthe west');
  await page.keyboard.press('Escape');

  // What is sent is what the compositor draws, held and on its way.
  const file = info.outputPath('out.mp4');
  await exportTo(page, file);
  for (const frame of [33, 45, 118]) {
    const drawn = await serverAt(page, { id }, frame * F, 270);
    expect(ssim(exportedFrame(file, frame, SIZE), drawn), `frame ${frame}`).toBeGreaterThan(0.96);
    if (frame === 45) expect(ssim(drawn, bare)).toBeLessThan(0.95);
  }
});
