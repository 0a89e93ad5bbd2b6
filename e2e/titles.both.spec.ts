import { execFileSync } from 'node:child_process';
import type { Page } from '@playwright/test';
import { clipEnd, type Clip } from '@flimzy/core/piece';
import { valueAt, valueOf, type Overlay, type TextPart } from '@flimzy/core/properties';
import { frameLength } from '@flimzy/core/time';
import { wrongs } from './axe';
import { serverAt } from './previewed';
import { greyOfRgba, ssim } from './ssim';
import { doAction, drag, expect, exportTo, goTo, middleOf, openPiece, pieceOf, press, test, THREE, typeInto } from './studio';

const F = frameLength({ num: 30, den: 1 });
const SIZE = { width: 270, height: 480 };

/** The titles of the piece, lowest track first. */
const titles = async (page: Page): Promise<Clip[]> =>
  (await pieceOf(page)).tracks.flatMap((track) => track.clips.filter((clip) => clip.overlay !== undefined));
const overlayOf = (clip: Clip | undefined) => (clip ? valueOf(clip, 'overlay') : 'none') as Overlay;
const textIn = async (page: Page, n = 0) =>
  overlayOf((await titles(page))[n]).parts.find((part): part is TextPart => part.kind === 'text')!;
const write = (page: Page, text: string) => page.getByTestId('title-words').fill(text);

test('a title is written on the picture, dressed, moved by hand, and sent as it is seen', async ({ page }, info) => {
  await openPiece(page, `Titles ${info.project.name}`, [...THREE], SIZE);
  await goTo(page, '1.00');
  const { id } = await pieceOf(page);
  const bare = await serverAt(page, { id }, 45 * F, 270);
  await doAction(page, 'title');
  await expect(page.getByTestId('title-panel')).toBeVisible();
  expect(await wrongs(page, 'all')).toEqual([]);
  await write(page, 'Wind from\nthe west');
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
  await page.setViewportSize({ width: page.viewportSize()!.width, height: 470 });
  await expect(page.getByTestId('title-words')).toBeInViewport();
  expect((await page.getByTestId('picture').boundingBox())!.height).toBeGreaterThan(100);
  await page.setViewportSize({ width: page.viewportSize()!.width, height: info.project.name === 'phone' ? 844 : 800 });
  await press(page.getByTestId('preset-placard'));
  await expect.poll(async () => (await textIn(page)).font).toBe('tall');
  expect((await textIn(page)).text).toBe('Wind from\nthe west');
  await press(page.getByTestId('font-poster'));
  await press(page.getByTestId('title-bold'));
  await typeInto(page, 'title-colour', 'fff');
  await expect.poll(async () => [(await textIn(page)).font, (await textIn(page)).colour]).toEqual(['poster', '#ffffff']);
  await typeInto(page, 'title-size', '250');
  await expect(page.getByText('Between 1.0 % and 100.0 %.')).toBeVisible();
  await typeInto(page, 'title-size', '14 %');
  await expect.poll(async () => (await textIn(page)).size).toBe(0.14);

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
    const rgba = execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      file,
      '-vf',
      `select=eq(n\\,${frame})`,
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgba',
      'pipe:1',
    ]);
    expect(ssim(greyOfRgba(rgba, 270, 480), drawn), `frame ${frame}`).toBeGreaterThan(0.96);
    if (frame === 45) expect(ssim(drawn, bare)).toBeLessThan(0.95);
  }
});

test('several texts, a sticker, an emoji, how they come and go, and what is too brief to be read', async ({ page }, info) => {
  await openPiece(page, `Stickers ${info.project.name}`, [...THREE], SIZE);
  await goTo(page, '0.10');
  await doAction(page, 'title');
  await write(page, 'Ten steps to a kite that flies on a morning without any wind at all, and comes home');
  await press(page.getByTestId('add-text'));
  await write(page, 'step one');
  await expect
    .poll(async () => overlayOf((await titles(page))[0]).parts.map((part) => part.kind === 'text' && part.text))
    .toEqual(['Ten steps to a kite that flies on a morning without any wind at all, and comes home', 'step one']);
  await expect(page.getByTestId('title-brief')).toBeVisible();
  await press(page.getByTestId('title-longer'));
  await expect(page.getByTestId('title-brief')).toHaveCount(0);
  const [long] = await titles(page);
  expect(clipEnd(long!) / F).toBeGreaterThan(10 + 90);

  await press(page.getByTestId('remove-part'));
  await expect.poll(async () => overlayOf((await titles(page))[0]).parts.length).toBe(1);
  await press(page.getByTestId('motionIn').getByRole('radio', { name: 'Hop', exact: true }));
  await press(page.getByTestId('motionIn').getByRole('radio', { name: 'By word' }));
  await typeInto(page, 'motionIn-length', '1,5');
  await expect.poll(async () => (await titles(page))[0]?.motionIn).toMatchObject({ kind: 'hop', by: 'word', length: 45 * F });
  await press(page.getByTestId('motionOut').getByRole('radio', { name: 'None' }));
  await expect.poll(async () => (await titles(page))[0]?.motionOut).toBeUndefined();
  await page.keyboard.press('Escape');

  // A second one at the same time goes over the first, on a track of its own.
  await doAction(page, 'sticker');
  expect(await wrongs(page, 'all')).toEqual([]);
  await press(page.getByTestId('sticker-burst'));
  await expect.poll(async () => (await titles(page)).length).toBe(2);
  expect((await pieceOf(page)).tracks.filter(({ kind }) => kind === 'picture')).toHaveLength(3);
  await press(page.getByTestId('shape-part-heart'));
  await press(page.getByTestId('shape-colour-c8452d'));
  await expect.poll(async () => overlayOf((await titles(page))[1]).parts[0]).toMatchObject({ shape: 'heart', colour: '#c8452d' });
  await page.keyboard.press('Escape');
  await goTo(page, '5.00');
  await doAction(page, 'sticker');
  await press(page.getByTestId('emoji-🔥'));
  await expect.poll(async () => overlayOf((await titles(page)).at(-1)).parts[0]).toMatchObject({ text: '🔥' });
  await page.keyboard.press('Escape');

  // Taken back, one by one, by its name.
  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await titles(page)).length).toBe(2);
  await expect(page.getByText('Undone: Add Title')).toBeVisible();
});
