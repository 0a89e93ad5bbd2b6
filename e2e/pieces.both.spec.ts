import { writeFileSync } from 'node:fs';
import {
  DEMO,
  addFromShelf,
  bringIn,
  clip,
  expect,
  home,
  layout,
  makePiece,
  openPiece,
  pieceOf,
  press,
  storedPiece,
  test,
  ONCE,
} from './studio';

test('the list shows what each piece is; one is renamed, opened as a copy, deleted and taken back', async ({ page }, info) => {
  const name = `List ${info.project.name}`;
  await makePiece(page, name, 'landscape', '25');
  await page.goto(home());
  const tile = page.getByTestId(/^piece-/).filter({ hasText: name });
  await expect(tile).toContainText('Landscape 16:9 · 25 fps');
  await expect(tile).toContainText('0:00.00');
  await press(page.getByRole('button', { name: `More for ${name}` }));
  await page.getByTestId('rename-piece').fill(`${name} two`);
  await press(page.getByRole('button', { name: 'Rename' }));
  await expect(page.getByText(`${name} two`)).toBeVisible();
  await press(page.getByRole('button', { name: `More for ${name} two` }));
  await press(page.getByTestId('copy-piece'));
  await expect(page.getByTestId('piece-title')).toHaveText(`${name} two copy`);
  await page.goto(home());
  await press(page.getByRole('button', { name: `More for ${name} two copy` }));
  await press(page.getByTestId('delete-piece'));
  await expect(page.getByText(`${name} two copy`, { exact: true })).toHaveCount(0);
  await press(page.getByRole('button', { name: 'Undo' }));
  await expect(page.getByText(`${name} two copy`, { exact: true })).toBeVisible();
});

test('a file that cannot be read is named with what is wrong, and can be dismissed', ONCE, async ({ page }, info) => {
  await openPiece(page, 'Bad', []);
  const [bad, empty] = [info.outputPath('holiday.mp4'), info.outputPath('nothing.mov')];
  writeFileSync(bad, 'not a film at all');
  writeFileSync(empty, '');
  await bringIn(page, bad, empty);
  await expect(page.getByText('“holiday.mp4” is not a video, photo or sound file that can be read.').first()).toBeVisible();
  await expect(page.getByText('“nothing.mov” is empty: it has no bytes in it.')).toBeVisible();
  await press(page.getByRole('button', { name: 'Dismiss', exact: true }));
  await press(page.getByRole('checkbox', { name: 'holiday, cannot be used' }).first());
  await press(page.getByRole('button', { name: 'Dismiss holiday' }).first());
  await expect(page.getByRole('checkbox', { name: 'holiday, cannot be used' })).toHaveCount(0);
});

test('the first clips give the piece their frame rate', ONCE, async ({ page }, info) => {
  await makePiece(page, `Rate ${info.project.name}`, 'landscape');
  await addFromShelf(page, ['Talk front', 'Paper cut', 'Talk side']);
  await expect.poll(async () => (await pieceOf(page)).format.rate).toEqual({ num: 25, den: 1 });
  await expect.poll(() => layout(page)).toHaveLength(3);
});

test('what is done while the server is away is kept, also over a reload, and sent when it is back', ONCE, async ({ page }) => {
  await openPiece(page, 'Away', [{ media: 'demo-hilltop', from: 0, frames: 300 }]);
  await page.route('**/edits', (route) => route.abort());
  await page.getByTestId('clock').fill('1.00');
  await page.getByTestId('clock').press('Enter');
  await page.getByTestId('clock').blur();
  await press(page.getByTestId('split'));
  await expect(clip(page, 1)).toBeAttached();
  await expect(page.getByText('saving …')).toBeVisible();
  expect((await storedPiece(page)).tracks[0]?.clips).toHaveLength(1);
  await page.reload();
  await expect(clip(page, 1)).toBeAttached();
  await page.unroute('**/edits');
  await expect.poll(() => layout(page)).toHaveLength(2);
  await expect(page.getByText('saving …')).toHaveCount(0);
});

test('two windows on one piece stay equal', ONCE, async ({ page, context }) => {
  await openPiece(page, 'Two', []);
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByTestId('piece-title')).toHaveText('Two');
  await page.bringToFront(); // a window behind another draws once a second
  await addFromShelf(page, ['Hilltop', 'Dusk']);
  await expect(clip(other, 1)).toBeAttached();
  await other.bringToFront();
  await press(other.getByTestId('undo'));
  // Both were added at once, so both go at once; redone here, they are back there.
  await expect(clip(page, 0)).toHaveCount(0);
  await page.bringToFront();
  await press(page.getByTestId('redo'));
  await expect(clip(other, 1)).toBeAttached();
});

test('an upload shows how far it is and can be cancelled; dropped files come in too', ONCE, async ({ page }) => {
  await openPiece(page, 'Drop', []);
  await page.route('**/api/uploads/*', async (route) => {
    if (route.request().method() === 'PATCH') await new Promise((resolve) => setTimeout(resolve, 4000));
    await route.continue().catch(() => undefined);
  });
  await bringIn(page, DEMO('spars.mp4'));
  await expect(page.getByTestId('sending')).toContainText('spars.mp4');
  await press(page.getByRole('button', { name: 'Cancel sending spars.mp4' }));
  await expect(page.getByTestId('sending')).toHaveCount(0);
  await page.unroute('**/api/uploads/*');
  const bytes = [...Buffer.from('RIFF$   WAVEfmt ')];
  await page.evaluate((data) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([new Uint8Array(data)], 'dropped.wav', { type: 'audio/wav' }));
    for (const type of ['dragenter', 'dragover', 'drop'])
      window.dispatchEvent(new DragEvent(type, { dataTransfer: transfer, bubbles: true, cancelable: true }));
  }, bytes);
  await expect(page.getByRole('checkbox', { name: /^dropped/ }).first()).toBeVisible();
});

test('an export goes on when the page is closed, and can be cancelled', ONCE, async ({ page }) => {
  // Half an hour of stretches that no other export shares: it cannot be done before it is cancelled, on any machine.
  const talks = Array.from({ length: 120 }, (_, n) => ({
    media: 'demo-talk-front',
    from: 2 * (n % 60),
    frames: 450 - Math.floor(n / 60),
  }));
  await openPiece(page, 'Long export', talks);
  const here = page.url();
  await press(page.getByTestId('send'));
  await press(page.getByTestId('export'));
  // Another test's export may come first: then it waits its turn, and goes on waiting.
  await expect(page.getByTestId(/^delivery-(waiting|rendering)$/)).toBeVisible();
  await page.goto('about:blank');
  await page.goto(here);
  await press(page.getByTestId('send'));
  await press(page.getByTestId('cancel-export').first());
  await expect(page.getByTestId('delivery-cancelled').first()).toBeVisible();
});
