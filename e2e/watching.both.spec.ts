import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  doAction,
  expect,
  ffprobe,
  goTo,
  openPiece,
  openShelf,
  addFromShelf,
  mainClips,
  makePiece,
  pieceOf,
  press,
  test,
  THREE,
} from './studio';

const SIZE = { width: 270, height: 480 };

test('a frame is saved as a picture of the piece’s size, guides lie over the picture, and the piece gets another shape', async ({
  page,
}) => {
  await openPiece(page, `Watching ${test.info().project.name}`, THREE, SIZE);
  await goTo(page, '2.10');
  const coming = page.waitForEvent('download');
  await doAction(page, 'save-frame');
  const download = await coming;
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'flimzy-frame-')), 'frame.png');
  await download.saveAs(file);
  expect(download.suggestedFilename()).toMatch(/^Watching-.*0-02-10\.png$/);
  expect(ffprobe('-select_streams', 'v', '-show_entries', 'stream=codec_name,width,height', '-of', 'csv=p=0', file)).toBe('png,270,480');
  const lines = page.getByTestId('handles').locator('svg line');
  await expect(lines).toHaveCount(0);
  await doAction(page, 'guides');
  await expect(lines).toHaveCount(6);
  await doAction(page, 'shape-square');
  await expect.poll(async () => (await pieceOf(page)).format).toMatchObject({ width: 1080, height: 1080 });
  const box = (await page.getByTestId('handles').boundingBox())!;
  expect(Math.abs(box.width - box.height)).toBeLessThanOrEqual(1);
  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await pieceOf(page)).format).toMatchObject(SIZE);
});

test('new photos move gently, each in another way, and as long as was chosen; they stand still when asked to', async ({ page }) => {
  await makePiece(page, `Photos ${test.info().project.name}`, 'vertical');
  await addFromShelf(page, ['On the hill', 'The bench']);
  const movements = async () =>
    (await mainClips(page)).map(({ scale, length }) => [typeof scale === 'object' ? scale.keys.map((key) => key.value) : scale, length]);
  await expect
    .poll(async () => (await movements()).map(([scale]) => (scale as number[])[0]! < (scale as number[])[1]!))
    .toEqual([true, false]);
  await press(page.getByTestId('handles'));
  await press(page.getByRole('radio', { name: 'Stand still' }));
  await page.getByTestId('photo-length').fill('1.5');
  await page.getByTestId('photo-length').press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('framing-panel')).toHaveCount(0);
  await page.keyboard.press('Escape'); // nothing is selected any more
  await openShelf(page);
  await addFromShelf(page, ['Finished kite']);
  await expect.poll(async () => (await movements())[2]).toEqual([undefined, 1.5 * 705_600_000]);
});
