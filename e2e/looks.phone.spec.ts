import { readFileSync, writeFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { frameLength } from '@flimzy/core/time';
import { wrongs } from './axe';
import { exportedFrame, serverAt } from './previewed';
import { ssim } from './ssim';
import {
  clip,
  doAction,
  expect,
  exportTo,
  goTo,
  mainClips,
  middleOf,
  openPiece,
  pieceOf,
  press,
  selectClip,
  test,
  THREE,
  typeInto,
} from './studio';

const F = frameLength({ num: 30, den: 1 });
const SIZE = { width: 270, height: 480 };
const effectsOf = async (page: Page, n: number) => (await mainClips(page))[n]?.effects;
/** How red the middle of the preview is against how blue, in levels. */
const redOverBlue = (page: Page) =>
  page.getByTestId('picture').evaluate((node: HTMLCanvasElement) => {
    const copy = document.createElement('canvas');
    [copy.width, copy.height] = [16, 16];
    const context = copy.getContext('2d');
    context?.drawImage(node, 0, 0, 16, 16);
    const { data } = context!.getImageData(0, 0, 16, 16);
    let sum = 0;
    for (let i = 0; i < data.length; i += 4) sum += data[i]! - data[i + 2]!;
    return sum / 256;
  });

test('a look is seen on one’s own frame, chosen, changed, compared, ordered, taken out and in, copied, and sent as it is seen', async ({
  page,
}, info) => {
  await openPiece(page, 'Look', [...THREE], SIZE);
  await goTo(page, '0.20');
  await selectClip(page, 0);
  await doAction(page, 'looks');
  await expect(page.getByTestId('looks-panel')).toBeVisible();
  expect(await wrongs(page, 'all')).toEqual([]);
  const before = await redOverBlue(page);
  await press(page.getByTestId('look-evening'));
  await expect.poll(() => effectsOf(page, 0)).toEqual([{ kind: 'look', look: 'evening', strength: 0.8 }]);
  await expect.poll(async () => (await redOverBlue(page)) - before).toBeGreaterThan(8);

  // Dragged, it is seen at once and kept when let go.
  const slider = page.getByTestId('look-strength-slider');
  await slider.evaluate((node: HTMLInputElement) => {
    const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
    set.call(node, '1');
    node.dispatchEvent(new Event('input', { bubbles: true }));
  });
  await expect(page.getByTestId('look-strength')).toHaveValue('100 %');
  expect(await effectsOf(page, 0)).toEqual([{ kind: 'look', look: 'evening', strength: 0.8 }]);
  await slider.dispatchEvent('change');
  await expect.poll(() => effectsOf(page, 0)).toEqual([{ kind: 'look', look: 'evening', strength: 1 }]);

  // Held, the picture is as it was; let go, it has its look again.
  const compare = page.getByTestId('compare');
  await compare.scrollIntoViewIfNeeded();
  const at = await middleOf(compare);
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  await expect.poll(async () => Math.abs((await redOverBlue(page)) - before)).toBeLessThan(2);
  await page.mouse.up();
  await expect.poll(async () => (await redOverBlue(page)) - before).toBeGreaterThan(8);

  await typeInto(page, 'tone-saturation', '-140');
  await expect(page.getByText('Between −100 % and 100 %.')).toBeVisible();
  await typeInto(page, 'tone-saturation', '−100');
  await typeInto(page, 'effect-vignette', '40');
  const kinds = async () =>
    ((await effectsOf(page, 0)) as { kind: string; off?: true }[]).map(({ kind, off }) => (off ? `(${kind})` : kind));
  await expect.poll(kinds).toEqual(['look', 'tone', 'vignette']);
  await press(page.getByTestId('effect-up-1'));
  await expect.poll(kinds).toEqual(['tone', 'look', 'vignette']);
  await press(page.getByTestId('effect-off-2'));
  await expect.poll(kinds).toEqual(['tone', 'look', '(vignette)']);
  await press(page.getByTestId('effect-remove-0'));
  await expect.poll(kinds).toEqual(['look', '(vignette)']);

  // A table for other programs, of the colours alone.
  const coming = page.waitForEvent('download');
  await press(page.getByTestId('save-cube'));
  const download = await coming;
  expect(download.suggestedFilename()).toMatch(/\.cube$/);
  const lines = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\n');
  expect([lines[1], lines.length]).toEqual(['LUT_3D_SIZE 33', 4 + 33 ** 3]);

  // That, brought in as anybody's, takes the place of the look and makes the same picture; what is none says so, and nothing is lost.
  const [theirs, broken] = [info.outputPath('Kite light.cube'), info.outputPath('broken.cube')];
  await download.saveAs(theirs);
  writeFileSync(broken, lines.slice(0, 900).join('\n'));
  const bringIn = async (file: string) => {
    const chooser = page.waitForEvent('filechooser');
    await press(page.getByTestId('bring-cube'));
    await (await chooser).setFiles(file);
  };
  const asMade = await redOverBlue(page);
  await bringIn(broken);
  await expect(page.getByText('“broken.cube” cannot be used. It should hold 35937 entries')).toBeVisible();
  expect(await kinds()).toEqual(['look', '(vignette)']);
  await bringIn(theirs);
  await expect.poll(kinds).toEqual(['table', '(vignette)']);
  await expect(page.getByTestId('look-Kite light')).toHaveAttribute('aria-checked', 'true');
  expect((await effectsOf(page, 0))![0]).toMatchObject({ name: 'Kite light', strength: 1 });
  await expect.poll(async () => Math.abs((await redOverBlue(page)) - asMade)).toBeLessThan(2);
  await press(page.getByTestId('forget-look'));
  await expect(page.getByTestId('forget-look')).toHaveCount(0);
  await expect.poll(kinds).toEqual(['table', '(vignette)']);

  // Copied to the others; what it is on is seen on the timeline.
  await press(page.getByTestId('copy-look'));
  await page.keyboard.press('Escape');
  await expect(clip(page, 0).getByText('look', { exact: true })).toBeVisible();
  await page.keyboard.press('Control+a');
  await doAction(page, 'paste-look');
  await expect.poll(() => effectsOf(page, 2)).toEqual(await effectsOf(page, 0));
  await press(page.getByTestId('undo'));
  await expect.poll(() => effectsOf(page, 2)).toBeUndefined();

  // On the whole piece, after what its clips have.
  await doAction(page, 'looks');
  await press(page.getByRole('radio', { name: 'Whole piece' }));
  await press(page.getByTestId('look-ink'));
  await expect.poll(async () => (await pieceOf(page)).effects).toEqual([{ kind: 'look', look: 'ink', strength: 0.8 }]);
  await press(page.getByRole('radio', { name: 'Its track' }));
  await typeInto(page, 'effect-sharpen', '50');
  await expect.poll(async () => (await pieceOf(page)).tracks[0]?.effects).toEqual([{ kind: 'sharpen', amount: 0.5 }]);
  await page.keyboard.press('Escape');

  const file = info.outputPath('out.mp4');
  await exportTo(page, file);
  const { id } = await pieceOf(page);
  for (const frame of [20, 100]) {
    const drawn = await serverAt(page, { id }, frame * F, 270);
    expect(ssim(exportedFrame(file, frame, SIZE), drawn), `frame ${frame}`).toBeGreaterThan(0.96);
  }
});
