import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { MediaItem, OpenedPiece } from '@flimzy/contract';
import { serve, type Serving } from './serving';
import { expect, home, MUSIC, openPiece, pieceOf, press, test } from './studio';

let folder: string;
let other: Serving;
test.beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'flimzy-other-'));
  other = await serve(folder, 0, {}, ['--no-demo']);
});
test.afterAll(async () => {
  await other.stop();
  rmSync(folder, { recursive: true, force: true });
});

test('a piece is kept as an archive, and comes in on another machine: whole, and from half a file with what is missing said', async ({
  page,
}, info) => {
  const name = 'Paper to keep';
  const clips = [
    { media: 'demo-paper-cut', from: 20, frames: 40 },
    { media: 'demo-finished-kite', from: 0, frames: 60 },
  ];
  await openPiece(page, name, [...clips, MUSIC]);
  const original = await pieceOf(page);
  await page.goto(home());
  await press(page.getByRole('button', { name: `More for ${name}`, exact: true }));
  const saving = page.waitForEvent('download');
  await press(page.getByTestId('archive-piece'));
  const saved = await saving;
  expect(saved.suggestedFilename()).toBe(`${name}.flimzy.zip`);
  const file = info.outputPath('kite.zip');
  await saved.saveAs(file);

  await page.goto(other.address);
  await expect(page.getByText('Nothing here yet')).toBeVisible();
  const bring = async (archive: string) => {
    const choosing = page.waitForEvent('filechooser');
    await press(page.getByTestId('new'));
    await press(page.getByTestId('bring-archive'));
    await (await choosing).setFiles(archive);
  };
  const half = info.outputPath('half.zip');
  const bytes = readFileSync(file);
  writeFileSync(half, bytes.subarray(0, Math.floor(bytes.length / 2)));
  await bring(half);
  const row = page.getByTestId('arrival-done');
  await expect(row).toContainText(`“${name}” is here`);
  await expect(row).toContainText('The end of the file is missing');
  await expect(row).toContainText('is not in the archive.');
  await press(page.getByTestId('dismiss-arrival'));
  await expect(row).toHaveCount(0);

  await bring(file);
  await expect(row).toContainText('Whole: its history and every original, byte for byte.');
  const shelf = async () => (await (await page.request.get(`${other.address}/api/media`)).json()) as MediaItem[];
  await expect.poll(async () => (await shelf()).filter(({ status }) => status !== 'ready').length).toBe(0);
  await press(page.getByTestId('open-arrival'));
  await expect(page.getByTestId('piece-title')).toHaveText(name);
  const id = /piece\/([a-z0-9-]+)/.exec(page.url())?.[1] ?? '';
  const { piece } = (await (await page.request.get(`${other.address}/api/pieces/${id}`)).json()) as OpenedPiece;
  expect(piece).toEqual({ ...original, id });

  const wrong = info.outputPath('wrong.zip');
  writeFileSync(wrong, 'holiday');
  await page.goto(other.address);
  await bring(wrong);
  await expect(page.getByTestId('arrival-failed')).toContainText('This file is no archive of a piece');
  await press(page.getByTestId('dismiss-arrival'));
  await expect(page.getByTestId('arrival-failed')).toHaveCount(0);
});
