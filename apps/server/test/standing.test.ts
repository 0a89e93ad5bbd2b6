import { rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { MediaItem } from '@flimzy/contract';
import { frameStart } from '@flimzy/core/time';
import { HeldProxies } from './beside';
import { bytesOf } from './drawn';
import { ffmpeg, ffprobe, newFolder, TestServer, until, VERTICAL } from './running';

const files = newFolder();
const at = (name: string) => path.join(files, name);
const held = new HeldProxies(files);
let server: TestServer;

beforeAll(async () => {
  const plain = ['-pix_fmt', 'yuv420p', '-c:v', 'libx264', '-preset', 'veryfast'];
  const tone = ['-f', 'lavfi', '-i', 'sine=frequency=330:duration=3', '-shortest'];
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=480x270:rate=30000/1001:duration=3', ...tone, ...plain, '-bf', '2', at('flat.mp4'));
  ffmpeg('-i', at('flat.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', at('turned.mp4'));
  const uneven = ['-vf', "select='not(gt(n,20)*eq(mod(n,3),1))'", '-fps_mode', 'vfr'];
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=270x480:rate=30:duration=3', ...uneven, ...plain, at('uneven.mp4'));
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=270x480:rate=30:duration=1', '-c:v', 'mpeg4', '-q:v', '3', at('other.mp4'));
  ffmpeg('-f', 'lavfi', '-i', 'sine=frequency=330:duration=2', at('tone.wav'));
  server = await TestServer.start(newFolder(), { env: held.env });
});
afterAll(async () => {
  await server.stopAndRemove();
  rmSync(files, { recursive: true, force: true });
});

/** Brings a file in, and waits until the first part of its work is done. */
async function begun(name: string): Promise<MediaItem> {
  const id = await server.upload(at(name));
  return until(async () => {
    const item = await server.call<MediaItem>('getMedia', { id }).catch(() => null);
    return item && (item.usable || item.work?.step === 'proxy') ? item : null;
  });
}

const framesOf = ({ id }: MediaItem) => server.call<Record<string, unknown>>('mediaFrames', { id });
const statusOf = async (what: 'mediaFrames' | 'mediaProxy' | 'mediaPeaks', { id }: MediaItem) =>
  (await server.fetch(what, { id }, what === 'mediaPeaks' ? { bin: 256 } : {})).status;

it('what any browser shows is used before its proxy is made: seen, heard, sent; then all is as it was', async () => {
  const [turned, uneven, tone] = [await begun('turned.mp4'), await begun('uneven.mp4'), await begun('tone.wav')];
  const all = [turned, uneven, tone];
  expect(all.map(({ status, usable }) => [status, usable])).toEqual(all.map(() => ['preparing', true]));
  expect(turned).toMatchObject({ facts: { width: 270, height: 480, hasSound: true }, hasPeaks: true, filmstrip: { count: 1 } });
  expect(await statusOf('mediaPeaks', tone)).toBe(200);
  expect(await statusOf('mediaProxy', turned)).toBe(409);
  const early = [await framesOf(turned), await framesOf(uneven)];

  const piece = await server.newPiece();
  const place = (media: MediaItem, n: number) => ({
    track: 'main',
    at: null,
    from: 0,
    length: frameStart(n, VERTICAL.rate),
    media: media.facts!,
  });
  await server.edit(piece.id, 0, ['add', { ...place(turned, 30), fit: 'fill' }], ['add', { ...place(uneven, 15), fit: 'fill' }]);
  const sent = await server.deliver(piece.id);
  expect([sent.status, sent.error]).toEqual(['done', null]);
  writeFileSync(at('sent.mp4'), await bytesOf(await server.fetch('deliveryFile', { id: sent.id })));
  expect(
    ffprobe('-count_frames', '-select_streams', 'v', '-show_entries', 'stream=nb_read_frames', '-of', 'csv=p=0', at('sent.mp4')),
  ).toMatch(/^45/);
  const poster = await bytesOf(await server.fetch('pieceFrame', { id: piece.id }, { at: 0, width: 90 }));

  held.go();
  const made = await Promise.all(all.map(({ id }) => server.settled(id, true)));
  expect(made.map(({ status, usable, error }) => [status, usable, error])).toEqual(all.map(() => ['ready', true, null]));
  expect(made.map(({ facts }) => facts)).toEqual(all.map(({ facts }) => facts));
  expect([await framesOf(turned), await framesOf(uneven)]).toEqual(early);
  expect(await statusOf('mediaProxy', turned)).toBe(200);
  expect(poster.length).toBeGreaterThan(500);
});

it('what browsers do not show has to wait; what then cannot be made is not used any more', async () => {
  held.go(false);
  const [other, good] = [await begun('other.mp4'), await begun('uneven.mp4')];
  expect([other.usable, other.filmstrip?.count, good.usable]).toEqual([false, 1, true]);
  expect(await statusOf('mediaFrames', other)).toBe(409);
  held.full();
  held.go();
  expect(await server.settled(good.id)).toMatchObject({ status: 'failed', usable: false, originalKept: true });
  held.full(false);
  await server.call('prepareAgain', { id: good.id });
  expect(await server.settled(good.id, true)).toMatchObject({ status: 'ready', usable: true, error: null });
});
