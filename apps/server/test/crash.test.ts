import { createHash } from 'node:crypto';
import { readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { fromSeconds } from '@flimzy/core/time';
import type { MediaItem } from '@flimzy/contract';
import { endWriting } from '../../../torture/rounds';
import { ffmpeg, ffprobe, newFolder, TestServer, VERTICAL } from './running';

const files = newFolder();
const data = newFolder();
const clip = path.join(files, 'clip.mp4');
let server: TestServer;
let media: MediaItem;

beforeAll(async () => {
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'testsrc2=size=540x960:rate=30:duration=8',
    '-f',
    'lavfi',
    '-i',
    'sine=frequency=330:duration=8',
    '-pix_fmt',
    'yuv420p',
    '-b:v',
    '6M',
    '-shortest',
    clip,
  );
  server = await TestServer.start(data);
  media = await server.bringIn(clip);
});
afterAll(async () => {
  await server.stopAndRemove();
  rmSync(files, { recursive: true, force: true });
});

const restart = async () => {
  await server.kill();
  server = await TestServer.start(data);
};

describe('after kill -9', () => {
  it('an upload goes on where it stopped, and arrives whole', async () => {
    const bytes = readFileSync(clip);
    const half = Math.floor(bytes.length / 2);
    const upload = await server.beginUpload('half.mp4', bytes.length);
    expect(await server.sendPart(upload, 0, bytes.subarray(0, half))).toBe(204);
    await restart();
    expect(await server.uploadOffset(upload)).toBe(half);
    await server.sendPart(upload, half, bytes.subarray(half));
    const item = await server.settled(upload.split('/').at(-1)!);
    expect(item.status).toBe('ready');
    const back = Buffer.from(await (await server.fetch('mediaOriginal', { id: item.id })).arrayBuffer());
    expect(createHash('sha256').update(back).digest('hex')).toBe(createHash('sha256').update(bytes).digest('hex'));
  });

  it('no acknowledged edit is lost, however the server ends in the middle of work', async () => {
    const { acknowledged, faults } = await endWriting(3); // thirty rounds and more: npm run torture
    expect(acknowledged).toBeGreaterThan(10);
    expect(faults).toEqual([]);
  });

  it('an export goes on, with the segments that were done', async () => {
    const piece = await server.newPiece({ ...VERTICAL, width: 540, height: 960 });
    for (let i = 0; i < 12; i += 1)
      await server.edit(piece.id, i, [
        'add',
        { track: 'main', media: media.facts!, at: null, from: fromSeconds(i / 2), length: fromSeconds(2) },
      ]);
    const told = await server.listen();
    await server.call('newDelivery', {}, {}, { piece: piece.id });
    await told((event) => event.type === 'delivery' && event.delivery.piece === piece.id && event.delivery.progress > 0.3);
    await restart();
    const done = await server.delivery(piece.id);
    expect(done.status).toBe('done');
    expect(done.segmentsKept).toBeGreaterThan(0);
    const count = ['-count_frames', '-select_streams', 'v', '-show_entries', 'stream=nb_read_frames', '-of', 'csv=p=0'];
    expect(ffprobe(...count, path.join(data, 'deliveries', `${done.id}.mp4`))).toBe('720');
  });
});
