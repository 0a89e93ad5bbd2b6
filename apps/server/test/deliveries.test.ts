import { execFileSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Delivery, MediaItem } from '@flimzy/contract';
import type { EditParams } from '@flimzy/core/edits';
import { evaluate, pictureLayers, placePicture, sourceFrameAt, type FrameTimes } from '@flimzy/core/frame';
import { pieceLength, type Piece, type PieceFormat } from '@flimzy/core/piece';
import { frameAt, frameLength, frameStart, type Rate } from '@flimzy/core/time';
import { readCodes } from '../../../demo/read';
import { ffmpeg, ffprobe, newFolder, ROOT, TestServer } from './running';

const CODED = path.join(ROOT, 'demo/test-media');
const files = newFolder();
const at = (name: string) => path.join(files, name);
const media = new Map<string, MediaItem>();
const tables = new Map<string, FrameTimes>();
let server: TestServer;

beforeAll(async () => {
  server = await TestServer.start();
  const names = ['hilltop', 'line-in-hand', 'beach-run', 'dusk', 'spars', 'talk-front'];
  for (const name of names) {
    const item = await server.bringIn(path.join(CODED, `${name}.mp4`));
    media.set(name, item);
    tables.set(item.id, await server.call<FrameTimes>('mediaFrames', { id: item.id }));
  }
});
afterAll(async () => {
  await server.stopAndRemove();
  rmSync(files, { recursive: true, force: true });
});

const small = (rate: Rate): PieceFormat => ({ width: 360, height: 640, rate });

/** A clip as [item, first frame, frames, fit, level], in frames of the piece. */
type Wanted = [string, number, number, EditParams<'add'>['fit']?, EditParams<'add'>['backdrop']?];

async function pieceOf(format: PieceFormat, clips: Wanted[]): Promise<Piece> {
  const { id } = await server.newPiece(format);
  const time = (n: number) => frameStart(n, format.rate);
  for (const [i, [name, from, frames, fit = 'fill', backdrop = 'black']] of clips.entries())
    await server.edit(id, i, [
      'add',
      { track: 'main', media: media.get(name)!.facts!, at: null, from: time(from), length: time(frames), fit, backdrop },
    ]);
  return (await server.open(id)).piece;
}

async function exported(piece: Piece): Promise<string> {
  const delivery = await server.deliver(piece.id);
  expect(delivery.error).toBeNull();
  const file = at(`${delivery.id}.mp4`);
  writeFileSync(file, Buffer.from(await (await server.fetch('deliveryFile', { id: delivery.id })).arrayBuffer()));
  return file;
}

/** The source frame that each frame of the piece must show, and how large its material is in the frame. */
function expected(piece: Piece): { frame: number; side: number }[] {
  const count = pieceLength(piece) / frameLength(piece.format.rate);
  return Array.from({ length: count }, (_, n) => {
    const layer = pictureLayers(evaluate(piece, frameStart(n, piece.format.rate)).layers).at(-1)!;
    const facts = piece.media[layer.picture.media]!;
    const rect = placePicture(facts, piece.format, piece.tracks[0]!.clips.find((c) => c.id === layer.picture.clip)!.fit);
    return {
      frame: sourceFrameAt(tables.get(layer.picture.media)!, layer.picture.time),
      side: (Math.min(facts.width, facts.height) * rect.width) / facts.width,
    };
  });
}

async function expectRightFrames(piece: Piece): Promise<string> {
  const file = await exported(piece);
  const due = expected(piece);
  const seen = readCodes(file, piece.format.width, piece.format.height, (n) => due[n]?.side ?? 1);
  expect(seen).toEqual(due.map((d) => d.frame));
  return file;
}

describe('an exported file', () => {
  it.each<[string, Rate]>([
    ['30', { num: 30, den: 1 }],
    ['29.97', { num: 30_000, den: 1_001 }],
    ['25', { num: 25, den: 1 }],
    ['60', { num: 60, den: 1 }],
  ])('at %s fps shows the right frame at every place: even, 29.97, variable, turned, 60 and 25 fps sources', async (_, rate) => {
    const wanted: Wanted[] = [
      ['hilltop', 17, 40],
      ['line-in-hand', 31, 35],
      ['beach-run', 40, 50],
      ['dusk', 3, 30],
      ['spars', 11, 33, 'fit'],
      ['talk-front', 21, 36, 'fit'],
    ];
    await expectRightFrames(await pieceOf(small(rate), wanted));
  });

  it('shows the right frames at any speed, forwards and backwards, of every kind of source, drawn or not', async () => {
    const piece = await pieceOf(small({ num: 30_000, den: 1_001 }), [
      ['hilltop', 17, 40],
      ['line-in-hand', 31, 75],
      ['beach-run', 40, 50],
      ['dusk', 3, 30],
      ['spars', 11, 33, 'fit', 'blur'],
      ['talk-front', 21, 36, 'fit'],
    ]);
    for (const [n, speed] of [-1, 2.5, -0.6, 0.4, -1.7, 1.3].entries())
      await server.edit(piece.id, 6 + n, ['setSpeed', { clips: [piece.tracks[0]!.clips[n]!.id], wish: { speed }, rest: 'follow' }]);
    await expectRightFrames((await server.open(piece.id)).piece);
  });

  it('shows the right frames where the compositor draws, before a backdrop', async () => {
    await expectRightFrames(
      await pieceOf(small({ num: 30, den: 1 }), [
        ['hilltop', 5, 10],
        ['spars', 7, 40, 'fit', 'blur'],
        ['talk-front', 60, 20, 'fit', 'blur'],
      ]),
    );
  });

  it('shows the right frames of a nest, of a frozen frame, and of what lies over it', async () => {
    const format = small({ num: 30, den: 1 });
    const piece = await pieceOf(format, [
      ['hilltop', 20, 40],
      ['dusk', 10, 40],
      ['hilltop', 90, 20],
    ]);
    const [a, b] = piece.tracks[0]!.clips;
    const time = (n: number) => frameStart(n, format.rate);
    await server.edit(piece.id, 3, [
      'add',
      { track: null, media: media.get('beach-run')!.facts!, at: time(60), from: time(50), length: time(20) },
    ]);
    await server.edit(piece.id, 4, ['freeze', { clip: a!.id, at: time(10), length: time(15) }]);
    const over = (await server.open(piece.id)).piece.tracks[1]!.clips[0]!;
    await server.edit(piece.id, 5, ['nest', { clips: [b!.id, over.id], name: 'Inside' }]);
    const whole = (await server.open(piece.id)).piece.tracks[0]!.clips.find((c) => c.name === 'Inside')!;
    await server.edit(piece.id, 6, ['freeze', { clip: whole.id, at: whole.start + time(12), length: time(14) }]);
    const nested = (await server.open(piece.id)).piece;
    const still = nested.tracks[0]!.clips.find((c) => nested.nests?.[c.media] && c.hold !== undefined)!;
    const file = await exported(nested);
    const count = pieceLength(nested) / frameLength(format.rate);
    const due = Array.from({ length: count }, (_, n) => {
      const layer = pictureLayers(evaluate(nested, time(n)).layers).at(-1)!;
      const facts = nested.media[layer.picture.media]!;
      return {
        frame: sourceFrameAt(tables.get(layer.picture.media)!, layer.picture.time),
        side: (Math.min(facts.width, facts.height) * layer.rect.width) / facts.width,
      };
    });
    expect(new Set(due.slice(10, 25).map((d) => d.frame))).toEqual(new Set([30]));
    const frozen = frameAt(still.start, format.rate);
    expect(new Set(due.slice(frozen, frozen + 14).map((d) => d.frame)).size).toBe(1);
    expect(readCodes(file, format.width, format.height, (n) => due[n]?.side ?? 1)).toEqual(due.map((d) => d.frame));
  });

  it('is of the picture that the item shows, where a file holds several', async () => {
    const made = at('two-pictures.mkv');
    ffmpeg(
      ...[
        '-f',
        'lavfi',
        '-i',
        'color=red:size=320x240:rate=30:duration=2',
        '-f',
        'lavfi',
        '-i',
        'color=blue:size=640x480:rate=30:duration=2',
      ],
      ...['-map', '0:v', '-map', '1:v', made],
    );
    media.set('two', await server.bringIn(made));
    expect(media.get('two')!.facts).toMatchObject({ width: 320, height: 240 });
    for (const backdrop of ['black', 'blur'] as const) {
      const file = await exported(await pieceOf(small({ num: 30, den: 1 }), [['two', 5, 20, 'fit', backdrop]]));
      const middle = ['crop=20:20:170:310', 'scale=1:1:out_range=pc', 'format=rgb24'].join(',');
      const [red, , blue] = execFileSync('ffmpeg', [
        '-v',
        'error',
        '-i',
        file,
        '-vf',
        middle,
        '-frames:v',
        '1',
        '-f',
        'rawvideo',
        'pipe:1',
      ]);
      expect([backdrop, red! > 200, blue! < 60]).toEqual([backdrop, true, true]);
    }
  });

  it('is what platforms take: H.264 High and AAC, 4:2:0, BT.709, index in front, every frame on its clock', async () => {
    const piece = await pieceOf(small({ num: 30_000, den: 1_001 }), [
      ['hilltop', 0, 31],
      ['beach-run', 0, 47],
      ['dusk', 0, 29],
    ]);
    const file = await exported(piece);
    const probe = JSON.parse(ffprobe('-show_streams', '-show_format', '-of', 'json', file)) as { streams: Record<string, string>[] };
    expect(probe.streams[0]).toMatchObject({
      codec_name: 'h264',
      profile: 'High',
      pix_fmt: 'yuv420p',
      width: 360,
      height: 640,
      color_space: 'bt709',
      color_transfer: 'bt709',
      color_primaries: 'bt709',
      color_range: 'tv',
      r_frame_rate: '30000/1001',
      avg_frame_rate: '30000/1001',
      nb_frames: '107',
    });
    expect(probe.streams[1]).toMatchObject({ codec_name: 'aac', sample_rate: '48000', channels: 2 });
    const head = execFileSync('head', ['-c', '4000', file]).toString('latin1');
    expect(head.indexOf('moov')).toBeGreaterThan(0);
    const times = ffprobe('-select_streams', 'v', '-show_entries', 'packet=pts', '-of', 'csv=p=0', file)
      .split('\n')
      .map((l) => Number(l.replace(',', '')))
      .sort((a, b) => a - b);
    times.forEach((t, n) => expect(t).toBe(n * 1_001));
  });

  it('keeps picture and sound together: a flash and its beep, through cuts', async () => {
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'color=black:size=360x640:rate=30:duration=6',
      '-f',
      'lavfi',
      '-i',
      "aevalsrc='if(lt(mod(t,1),0.05),sin(2*PI*1000*t),0)':sample_rate=48000:duration=6",
      '-vf',
      "geq=lum='if(lt(mod(N,30),2),235,16)':cb=128:cr=128,format=yuv420p",
      '-c:a',
      'aac',
      at('clap.mp4'),
    );
    media.set('clap', await server.bringIn(at('clap.mp4')));
    const piece = await pieceOf(small({ num: 30, den: 1 }), [
      ['clap', 20, 50],
      ['clap', 100, 33],
      ['clap', 10, 45],
    ]);
    const file = await exported(piece);
    const luma = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-vf', 'scale=1:1', '-f', 'rawvideo', '-pix_fmt', 'gray', 'pipe:1']);
    const pcm = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 's16le', '-ac', '1', '-ar', '48000', 'pipe:1'], {
      maxBuffer: 1 << 28,
    });
    const flashes = [...luma].flatMap((v, n) => (v > 120 && (luma[n - 1] ?? 0) <= 120 ? [n / 30] : []));
    const loud = (i: number) => Math.abs(pcm.readInt16LE(i * 2)) > 6000;
    const beeps: number[] = [];
    for (let i = 0; i < pcm.length / 2; i += 1) if (loud(i) && i / 48_000 - (beeps.at(-1) ?? -1) > 0.2) beeps.push(i / 48_000);
    expect(flashes.length).toBeGreaterThanOrEqual(4);
    for (const flash of flashes) expect(Math.min(...beeps.map((b) => Math.abs(b - flash)))).toBeLessThan(0.01);
  });
});

describe('exporting again', () => {
  it('renders only what changed', async () => {
    const clips: Wanted[] = Array.from({ length: 6 }, (_, i) => ['hilltop', i * 12, 12]);
    const piece = await pieceOf(small({ num: 30, den: 1 }), clips);
    expect(await server.deliver(piece.id)).toMatchObject({ segments: 6, segmentsKept: 0 });
    const { revision } = await server.open(piece.id);
    await server.edit(piece.id, revision, [
      'trim',
      { clip: piece.tracks[0]!.clips[2]!.id, edge: 'tail', to: frameStart(30, piece.format.rate), rest: 'follow' },
    ]);
    expect(await server.deliver(piece.id)).toMatchObject({ segments: 6, segmentsKept: 5 });
    await expectRightFrames((await server.open(piece.id)).piece);
  });

  it('shows the piece as it was when it was asked for', async () => {
    const piece = await pieceOf(small({ num: 30, den: 1 }), [
      ['hilltop', 0, 20],
      ['dusk', 0, 20],
    ]);
    await server.call('newDelivery', {}, {}, { piece: piece.id });
    await server.edit(piece.id, 2, ['remove', { clips: [piece.tracks[0]!.clips[0]!.id], rest: 'close' }]);
    const done = await server.delivery(piece.id);
    expect(frameAt(done.length, piece.format.rate)).toBe(40);
  });

  it('can be cancelled; then nothing half-made is left to download', async () => {
    const clips = Array.from({ length: 30 }, (_, n): Wanted => ['hilltop', n, 150]);
    const piece = await pieceOf({ width: 1080, height: 1920, rate: { num: 30, den: 1 } }, clips);
    const told = await server.listen();
    const running = await server.call<Delivery>('newDelivery', {}, {}, { piece: piece.id });
    await told((event) => event.type === 'delivery' && event.delivery.id === running.id && event.delivery.status === 'rendering');
    await server.call('cancelDelivery', { id: running.id });
    expect((await server.delivery(piece.id)).status).toBe('cancelled');
    expect((await server.fetch('deliveryFile', { id: running.id })).status).toBe(409);
  });

  it('stays cancelled whenever that was asked for, though its rendering was just about to begin or to end', async () => {
    const piece = await pieceOf(small({ num: 30, den: 1 }), [['dusk', 3, 4]]);
    const cancelled: string[] = [];
    for (let n = 0; n < 10; n += 1) {
      const { id } = await server.call<Delivery>('newDelivery', {}, {}, { piece: piece.id });
      if (n % 2 === 1) await new Promise((resolve) => setTimeout(resolve, n * 60)); // somewhere on its way: wherever, it holds
      if ((await server.call<Delivery>('cancelDelivery', { id })).status === 'cancelled') cancelled.push(id);
      else await server.call('deleteDelivery', { id });
    }
    expect((await server.deliver(piece.id)).status).toBe('done');
    const all = await server.call<Delivery[]>('listDeliveries', {}, { piece: piece.id });
    for (const id of cancelled) {
      expect(all.find((one) => one.id === id)?.status).toBe('cancelled');
      expect((await server.fetch('deliveryFile', { id })).status).toBe(409);
    }
    expect(cancelled.length).toBeGreaterThan(0);
  });

  it('says what is wrong when there is nothing in the piece', async () => {
    const { id } = await server.newPiece();
    const response = await server.fetch('newDelivery', {}, {}, { piece: id });
    expect(response.status).toBe(400);
    expect(await response.text()).toMatch(/piece is empty/);
  });
});
