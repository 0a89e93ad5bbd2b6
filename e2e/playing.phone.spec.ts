import { pieceLength } from '@flimzy/core/piece';
import { formatTimecode, frameLength } from '@flimzy/core/time';
import { LONG, THREE, expect, goTo, openPiece, pieceOf, press, test } from './studio';

/** The preview as the page shows it to whoever measures it. */
interface Measured {
  now(): number | null;
  onceShown: ((time: number) => void) | null;
}

test('while it plays, pictures come in order and never before their sound; it stops where it is, and by itself at the end', async ({
  page,
}) => {
  await openPiece(page, 'Played', [...THREE, ...LONG]);
  const piece = await pieceOf(page);
  const frame = frameLength(piece.format.rate);
  const clock = page.getByTestId('clock');
  // What is shown from now on: the time of the picture, and the time that is heard as it comes.
  const seen = await page.evaluateHandle(() => {
    const { flimzyPreview: engine } = globalThis as unknown as { flimzyPreview: Measured };
    const list: [number, number][] = [];
    engine.onceShown = (time) => {
      const heard = engine.now();
      if (heard !== null) list.push([time, heard]);
    };
    return list;
  });
  await press(page.getByTestId('play'));
  await expect.poll(() => seen.evaluate((list) => list.length)).toBeGreaterThan(20);
  await press(page.getByTestId('play'));
  const list = await seen.jsonValue();
  const wrong = list.filter(([time, heard], i) => time > heard || time % frame !== 0 || (i > 0 && time < (list[i - 1]?.[0] ?? 0)));
  expect(wrong).toEqual([]);
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  const stopped = await clock.inputValue();
  expect(stopped).not.toBe(formatTimecode(0, piece.format.rate));
  await page.waitForTimeout(400);
  expect(await clock.inputValue()).toBe(stopped);

  const end = pieceLength(piece);
  await goTo(page, formatTimecode(end - 10 * frame, piece.format.rate));
  await press(page.getByTestId('play'));
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await expect(clock).toHaveValue(formatTimecode(end, piece.format.rate));
});
