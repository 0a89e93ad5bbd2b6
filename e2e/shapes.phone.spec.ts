import { expect, forSmall, mainClips, openPiece, pieceOf, press, test, typeInto } from './studio';

test('a piece is seen playing in its shapes, and a clip is adjusted in one of them alone, by figures and by the finger', async ({
  page,
}) => {
  await openPiece(page, 'Shapes', [{ media: 'demo-talk-front', from: 18, frames: 150 }], { width: 360, height: 640 });
  await forSmall(page, (await pieceOf(page)).id, 'own-shapes-square', 320, 320);
  await page.reload();
  await press(page.getByTestId('send'));
  const square = page.getByTestId('shape-1.00');
  await expect(square).toHaveAttribute('data-time', '0');
  await press(page.getByTestId('play-shapes'));
  await expect(square).not.toHaveAttribute('data-time', '0');
  await press(page.getByTestId('play-shapes'));

  await press(page.getByTestId('adjust-1.00'));
  await typeInto(page, 'shape-across', '12');
  await typeInto(page, 'shape-scale', '150 %');
  const adjusted = async () => (await mainClips(page))[0]?.inShapes;
  await expect.poll(adjusted).toEqual({ '1.00': { across: 0.12, down: 0, scale: 1.5 } });
  // A finger moves it by so much of the frame: the picture is 320 px high and as wide.
  const picture = page.getByTestId('adjust-picture');
  await picture.scrollIntoViewIfNeeded();
  const box = (await picture.boundingBox())!;
  const [x, y] = [box.x + 160, box.y + 100];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 16, y + 16);
  await page.mouse.move(x - 32, y + 32);
  await page.mouse.up();
  await expect.poll(adjusted).toEqual({ '1.00': { across: 0.02, down: 0.1, scale: 1.5 } });
  await press(page.getByTestId('as-everywhere'));
  await expect.poll(adjusted).toBeUndefined();
  await expect(page.getByTestId('shape-across')).toHaveValue('0 %');
});
