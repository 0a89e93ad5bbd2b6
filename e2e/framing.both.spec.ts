import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import type { MediaItem } from '@flimzy/contract';
import { placeOf } from '@flimzy/core/frame';
import { keyTime, type Clip } from '@flimzy/core/piece';
import { keyMoments, valueAt, valueOf } from '@flimzy/core/properties';
import { frameLength } from '@flimzy/core/time';
import { wrongs } from './axe';
import {
  ask,
  bringIn,
  drag,
  expect,
  exportTo,
  goTo,
  home,
  item,
  mainClips,
  middleOf,
  openPiece,
  pieceOf,
  press,
  test,
  THREE,
  typeInto,
  type Wanted,
  ONCE,
} from './studio';

const F = frameLength({ num: 30, den: 1 });
const SIZE = { width: 270, height: 480 };
/** Of another shape than the piece. */
const TALK: Wanted = { media: 'demo-talk-front', from: 20, frames: 60 };
const first = async (page: Page): Promise<Clip> => (await mainClips(page))[0]!;
/** Where the first clip's picture lies at a frame of the piece, in pixels of it. */
async function lies(page: Page, frame: number) {
  const piece = await pieceOf(page);
  const clip = piece.tracks[0]!.clips[0]!;
  return placeOf(clip, piece.media[clip.media]!, piece.format, keyTime(clip, frame * F));
}
const pictureBox = async (page: Page) => (await page.getByTestId('handles').boundingBox())!;

test('the picture is touched, dragged to where it catches, made larger, cut, and all of it taken back', async ({ page }) => {
  await openPiece(page, `Framing ${test.info().project.name}`, [TALK, ...THREE], SIZE);
  await goTo(page, '0.20');
  await press(page.getByTestId('handles'));
  await expect(page.getByTestId('framing-panel')).toBeVisible();
  expect(await wrongs(page, 'all')).toEqual([]);
  await press(page.getByTestId('place-fit'));
  await expect.poll(async () => (await first(page)).fit).toBe('fit');
  const whole = await lies(page, 20);

  // Dragged down to near the lower edge, it catches there.
  const box = await pictureBox(page);
  const per = SIZE.width / box.width;
  const down = (SIZE.height - whole.rect.y - whole.rect.height) / per;
  await drag(page, await middleOf(page.getByTestId('handles')), { x: 0, y: down - 1 });
  await expect.poll(async () => (await lies(page, 20)).rect).toEqual({ ...whole.rect, y: SIZE.height - whole.rect.height });
  await expect(page.getByRole('button', { name: /^Undo: Framing of/ })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await lies(page, 20)).rect).toEqual(whole.rect);

  const corner = await middleOf(page.getByTestId('grip-corner').nth(2));
  const centre = await middleOf(page.getByTestId('handles'));
  await drag(page, corner, { x: (centre.x - corner.x) * 0.4, y: (centre.y - corner.y) * 0.4 });
  await expect.poll(async () => valueAt(valueOf(await first(page), 'scale'), 0)).toBeLessThan(0.75);
  const small = await lies(page, 20);
  const right = await middleOf(page.getByTestId('grip-right'));
  await drag(page, right, { x: (-small.rect.width * 0.25) / per, y: 0 });
  await expect.poll(async () => (await lies(page, 20)).crop?.right ?? 0).toBeGreaterThan(0.15);
  await typeInto(page, 'framing-turn', 'askew');
  await expect(page.getByText('Turn is between')).toBeVisible();
  await typeInto(page, 'framing-turn', '−12,5°');
  await expect.poll(async () => (await first(page)).turn).toBe(-12.5);
  await press(page.getByTestId('flip-across'));
  await expect.poll(async () => (await lies(page, 20)).flip).toEqual({ across: true, down: false });

  await press(page.getByTestId('copy-framing'));
  await goTo(page, '3.00');
  await press(page.getByTestId('handles'));
  await press(page.getByTestId('paste-framing'));
  await expect.poll(async () => (await mainClips(page))[1]!.turn).toBe(-12.5);
  await press(page.getByTestId('plain-framing'));
  await expect.poll(async () => (await mainClips(page))[1]!.turn).toBeUndefined();
  await press(page.getByTestId('place-lower-half'));
  await expect.poll(async () => (await mainClips(page))[1]!.cropTop ?? 0).toBeGreaterThan(0.1);
  await press(page.getByRole('radio', { name: 'Two colours' }));
  await typeInto(page, 'backdropColour', 'f80');
  await expect.poll(async () => (await mainClips(page))[1]).toMatchObject({ backdrop: 'gradient', backdropColour: '#ff8800' });
});

test('two fingers make a picture larger and turn it', ONCE, async ({ page }) => {
  await openPiece(page, 'Two fingers', THREE, SIZE);
  await press(page.getByTestId('handles'));
  await expect(page.getByTestId('framing-panel')).toBeVisible();
  await expect(page.getByTestId('grip-corner').first()).toBeVisible();
  const { x, y } = await middleOf(page.getByTestId('handles'));
  const cdp = await page.context().newCDPSession(page);
  const fingers = (n: number) => {
    const [reach, angle] = [30 + n * 3, (n * 3 * Math.PI) / 180];
    return [1, -1].map((side, id) => ({ id, x: x + side * reach * Math.cos(angle), y: y + side * reach * Math.sin(angle) }));
  };
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: fingers(0) });
  for (let n = 1; n <= 10; n += 1) {
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: fingers(n) });
    await page.waitForTimeout(30);
  }
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect.poll(async () => valueAt(valueOf(await first(page), 'scale'), 0)).toBeCloseTo(2, 1);
  expect(valueAt(valueOf(await first(page), 'turn'), 0)).toBeCloseTo(30, 0);
});

test(
  'keys: set at the playhead, seen on the clip, pulled, eased, gone to; a zoom over the whole clip is turned round',
  ONCE,
  async ({ page }) => {
    await openPiece(page, `Keys ${test.info().project.name}`, THREE, SIZE);
    await press(page.getByTestId('handles'));
    await press(page.getByTestId('key-scale'));
    await goTo(page, '1.00');
    await typeInto(page, 'framing-scale', '150');
    const clip = await first(page);
    expect(keyMoments(clip).map((at) => (at - keyTime(clip, clip.start)) / F)).toEqual([0, 30]);
    await expect(page.getByTestId('key-mark')).toHaveCount(2);
    // In the middle, slow at both ends: half of the way.
    expect((await lies(page, 15)).rect.width / (await lies(page, 0)).rect.width).toBeCloseTo(1.25, 5);
    await press(page.getByRole('radio', { name: 'Even', exact: true }));
    await press(page.getByTestId('key-before'));
    await expect(page.getByTestId('clock')).toHaveValue('0:00.00');
    await expect(page.getByTestId('framing-scale')).toHaveValue('100 %');
    await press(page.getByTestId('key-after'));
    await expect(page.getByTestId('framing-scale')).toHaveValue('150 %');
    await drag(page, await middleOf(page.getByTestId('key-mark').nth(1)), { x: 0, y: 24 });
    await expect.poll(async () => keyMoments(await first(page))[1]! - keyMoments(await first(page))[0]!).toBeGreaterThan(36 * F);
    await press(page.getByTestId('zoom-towards'));
    const ends = async () => {
      const frames = [await lies(page, 0), await lies(page, 59)];
      return frames[1]!.rect.width / frames[0]!.rect.width;
    };
    await expect.poll(ends).toBeGreaterThan(1.1);
    await press(page.getByTestId('zoom-round'));
    await expect.poll(ends).toBeLessThan(0.9);
    await press(page.getByTestId('zoom-off'));
    await expect(page.getByTestId('key-mark')).toHaveCount(0);
  },
);

test('a slow move is in the exported file to a tenth of a pixel, frame after frame', ONCE, async ({ page }) => {
  const folder = mkdtempSync(path.join(tmpdir(), 'flimzy-framing-'));
  const photo = path.join(folder, 'white square.png');
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'color=black:s=400x400,drawbox=x=150:y=150:w=100:h=100:color=white:t=fill,gblur=sigma=12',
    '-frames:v',
    '1',
    photo,
  ]);
  await openPiece(page, 'Slow move', THREE.slice(0, 1), SIZE);
  await bringIn(page, photo);
  await expect(item(page, 'white square')).toBeEnabled();
  await page.keyboard.press('Escape');
  const all = (await (await page.request.get(`${home()}/api/media`)).json()) as MediaItem[];
  const { facts } = all.find((one) => one.facts?.name === 'white square')!;
  const FRAMES = 40;
  await ask(page, 'add', { track: 'main', media: facts, at: null, from: 0, length: FRAMES * F, fit: 'fit' });
  await ask(page, 'remove', { clips: [(await first(page)).id], rest: 'close' });
  const clip = await first(page);
  const keys = (from: number, to: number) => ({
    keys: [
      { at: keyTime(clip, 0), value: from, ease: 'even' },
      { at: keyTime(clip, FRAMES * F), value: to, ease: 'even' },
    ],
  });
  await ask(page, 'set', {
    clips: [clip.id],
    values: { backdrop: 'black', x: keys(-0.02, 0.02), y: keys(0, 0.013), scale: keys(0.8, 0.82) },
  });
  await expect(page.getByRole('button', { name: /^Undo: Nothing behind white square/ })).toBeVisible();
  const file = path.join(folder, 'slow.mp4');
  await exportTo(page, file);
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'rawvideo', '-pix_fmt', 'gray', '-'], { maxBuffer: 1 << 28 });
  const off: number[] = [];
  const piece = await pieceOf(page);
  const moving = piece.tracks[0]!.clips[0]!;
  for (let n = 0; n < FRAMES; n += 1) {
    let [sum, sumX, sumY] = [0, 0, 0];
    for (let i = 0; i < SIZE.width * SIZE.height; i += 1) {
      const light = Math.max(0, raw[n * SIZE.width * SIZE.height + i]! - 24);
      sum += light;
      sumX += light * ((i % SIZE.width) + 0.5);
      sumY += light * (Math.floor(i / SIZE.width) + 0.5);
    }
    const { rect } = placeOf(moving, piece.media[moving.media]!, piece.format, keyTime(moving, n * F));
    off.push(sumX / sum - rect.x - rect.width / 2, sumY / sum - rect.y - rect.height / 2);
  }
  expect(raw.length).toBe(FRAMES * SIZE.width * SIZE.height);
  expect(Math.max(...off.map(Math.abs))).toBeLessThan(0.1);
});
