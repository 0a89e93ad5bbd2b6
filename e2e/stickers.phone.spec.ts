import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import type { MediaItem } from '@flimzy/contract';
import { clipEnd } from '@flimzy/core/piece';
import type { TextPart } from '@flimzy/core/properties';
import { frameLength } from '@flimzy/core/time';
import { wrongs } from './axe';
import { alike } from './previewed';
import { ssim, type Grey } from './ssim';
import { addFromShelf, ask, bringIn, doAction, drag, expect, goTo, home, openPiece, pieceOf, press, test, THREE, typeInto } from './studio';
import { partsIn, titles, write } from './written';

const F = frameLength({ num: 30, den: 1 });
const SIZE = { width: 270, height: 480 };

test('several texts, a sticker, an emoji, how they come and go, and what is too brief to be read', async ({ page }) => {
  await openPiece(page, 'Stickers', [...THREE], SIZE);
  await goTo(page, '0.10');
  await doAction(page, 'title');
  await write(page, 'Ten steps to a kite that flies on a morning without any wind at all, and comes home');
  await press(page.getByTestId('add-text'));
  await write(page, 'step one');
  await expect
    .poll(async () => partsIn((await titles(page))[0]).map((part) => part.kind === 'text' && part.text))
    .toEqual(['Ten steps to a kite that flies on a morning without any wind at all, and comes home', 'step one']);
  // Each part is held by itself: dragged down, the second one alone moves.
  const [above, below] = partsIn((await titles(page))[0]) as [TextPart, TextPart];
  const box = (await page.getByTestId('handles').boundingBox())!;
  const at = { x: box.x + below.x * box.width, y: box.y + below.y * box.height };
  await drag(page, at, { x: 0, y: box.height * 0.2 });
  await expect.poll(async () => (partsIn((await titles(page))[0])[1] as TextPart).y).toBeCloseTo(below.y + 0.2, 1);
  expect(partsIn((await titles(page))[0])[0]).toEqual(above);
  await expect(page.getByTestId('title-brief')).toBeVisible();
  await press(page.getByTestId('title-longer'));
  await expect(page.getByTestId('title-brief')).toHaveCount(0);
  const [long] = await titles(page);
  expect(clipEnd(long!) / F).toBeGreaterThan(10 + 90);

  await press(page.getByTestId('remove-part'));
  await expect.poll(async () => partsIn((await titles(page))[0]).length).toBe(1);
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
  await expect.poll(async () => partsIn((await titles(page))[1])[0]).toMatchObject({ shape: 'heart', colour: '#c8452d' });
  await page.keyboard.press('Escape');
  await goTo(page, '5.00');
  await doAction(page, 'sticker');
  await press(page.getByTestId('emoji-🔥'));
  await expect.poll(async () => partsIn((await titles(page)).at(-1))[0]).toMatchObject({ text: '🔥' });
  await page.keyboard.press('Escape');

  // Taken back, one by one, by its name.
  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await titles(page)).length).toBe(2);
  await expect(page.getByText('Undone: Add Title')).toBeVisible();
});

test('drawings and moving pictures of one’s own are brought in, and what is under them shines through, as on the server', async ({
  page,
}, info) => {
  const [sign, moving] = [info.outputPath('sign.svg'), info.outputPath('hop.gif')];
  writeFileSync(sign, '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 90"><circle cx="45" cy="45" r="40" fill="#f4703c"/></svg>');
  const clear =
    "overlay=x='20+60*mod(t,2)':y=40,format=rgba,colorkey=lime:0.2:0,split[a][b];[a]palettegen=reserve_transparent=1[p];[b][p]paletteuse";
  const colour = (name: string, size: string) => ['-f', 'lavfi', '-i', `color=${name}:size=${size}:rate=10:duration=2`];
  execFileSync('ffmpeg', [
    '-v',
    'error',
    ...colour('lime', '200x160'),
    ...colour('orange', '60x60'),
    '-filter_complex',
    `[0][1]${clear}`,
    moving,
  ]);
  await openPiece(page, 'Of my own', [THREE[0]!], SIZE);
  const bare = await alike(page, await pieceOf(page), 15 * F, SIZE.width, 'nothing over it');
  await bringIn(page, sign, moving);
  await addFromShelf(page, ['sign', 'hop']);
  const items = (await (await page.request.get(`${home()}/api/media`)).json()) as MediaItem[];
  const factsOf = (name: string) => items.find((item) => item.name === name)!.facts!;
  expect([factsOf('sign'), factsOf('hop')].map(({ kind, alpha }) => [kind, alpha])).toEqual([
    ['photo', true],
    ['video', true],
  ]);
  for (const [name, y] of [
    ['sign', -0.3],
    ['hop', 0.2],
  ] as const)
    await ask(page, 'add', {
      track: null,
      media: factsOf(name),
      at: 0,
      from: 0,
      length: 45 * F,
      fit: 'fit',
      backdrop: 'black',
      values: { y },
    });
  const piece = await pieceOf(page);
  let before: Grey | null = null;
  for (const n of [15, 35]) {
    const over = await alike(page, piece, n * F, SIZE.width, `frame ${n}`);
    if (n === 15) {
      // Under the corners of both nothing is hidden, in their middle something is.
      const differs = (x: number, y: number) => Math.abs(over.data[y * over.width + x]! - bare.data[y * bare.width + x]!) > 8;
      expect([differs(4, 100), differs(135, 96), differs(4, 336)]).toEqual([false, true, false]);
    }
    if (before) expect(ssim(before, over)).toBeLessThan(0.999);
    before = over;
  }
});
