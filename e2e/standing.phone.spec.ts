import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { MediaItem } from '@flimzy/contract';
import { formatTimecode, frameStart } from '@flimzy/core/time';
import { HeldProxies } from '../apps/server/test/beside';
import { codePoints, readCode } from '../demo/code';
import { framesDue } from './frames';
import { previewAt } from './previewed';
import { serve, type Serving } from './serving';
import { ssim } from './ssim';
import { addFromShelf, bringIn, clip, CODED, expect, goTo, makePiece, openShelf, pieceOf, press, test } from './studio';

const folder = mkdtempSync(path.join(tmpdir(), 'flimzy-standing-'));
const at = (name: string) => path.join(folder, name);
const held = new HeldProxies(folder);
const usual = process.env.FLIMZY;
let server: Serving;
test.beforeAll(async () => {
  server = await serve(at('data'), 0, held.env, ['--no-demo']);
  process.env.FLIMZY = server.address;
  // Stored lying on its side, as phones do, with frames that refer to later ones.
  const coded = ['-vf', 'transpose=cclock', '-fps_mode', 'passthrough', '-c:v', 'libx264', '-crf', '16', '-bf', '2', '-c:a', 'copy'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', CODED('beach-run'), ...coded, at('lying.mp4')]);
  execFileSync('ffmpeg', ['-v', 'error', '-i', at('lying.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=270', at('from a phone.mp4')]);
});
test.afterAll(async () => {
  process.env.FLIMZY = usual;
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

test('a clip is used before its proxy is made: upright and on the frame, and so it stays when the proxy is there', async ({ page }) => {
  await makePiece(page, 'At once', 'vertical');
  await bringIn(page, at('from a phone.mp4'));
  await addFromShelf(page, ['from a phone']);
  await expect(clip(page, 0)).toBeAttached();
  const piece = await pieceOf(page);
  const { rate } = piece.format;
  const [width, height] = [360, 640];
  const look = async (frame: number) => {
    const grey = await previewAt(page, piece, frameStart(frame, rate), width);
    const read = readCode(codePoints(width, height, width).map(({ x, y }) => grey.data[y * width + x] ?? 0));
    return { grey, read };
  };
  const items = async () => (await (await page.request.get(`${server.address}/api/media`)).json()) as MediaItem[];
  const due = await framesDue(page, piece); // its frames come at uneven times
  const early = new Map<number, Awaited<ReturnType<typeof look>>['grey']>();
  for (const frame of [0, 1, 47, 46, 130]) {
    await expect.poll(async () => (await look(frame)).read, { message: `frame ${frame}` }).toBe(due[frame]);
    early.set(frame, (await look(frame)).grey);
  }
  expect((await items()).map(({ status, usable }) => [status, usable])).toEqual([['preparing', true]]);
  await goTo(page, formatTimecode(0, rate));
  await press(page.getByTestId('play'));
  await expect.poll(() => page.getByTestId('clock').inputValue()).not.toMatch(/^0:0[01]/);
  await press(page.getByTestId('play'));
  await openShelf(page);
  await expect(page.getByTestId('shelf')).toContainText('Can be used already');
  await page.keyboard.press('Escape');

  // From then on what comes is the proxy, without the piece being opened again.
  const proxies: string[] = [];
  page.on('request', (request) => proxies.push(...(request.url().endsWith('/proxy') ? [request.url()] : [])));
  held.go();
  await expect.poll(async () => (await items())[0]?.status).toBe('ready');
  for (const [frame, before] of early)
    await expect
      .poll(async () => {
        const { read, grey } = await look(frame);
        return [read, ssim(grey, before) >= 0.96];
      })
      .toEqual([due[frame], true]);
  expect(proxies.length).toBeGreaterThan(0);
});
