import { execFileSync } from 'node:child_process';
import { copyFileSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Delivery, MediaItem } from '@flimzy/contract';
import {
  asItIs,
  CODEC_NAMES,
  FILES,
  PLATFORM_FORMATS,
  suggest,
  type DeliverySettings,
  type FileKind,
  type PlatformFormat,
} from '@flimzy/core/deliver';
import { PLAIN_TEXT } from '@flimzy/core/frame';
import { OVERLAY, pieceLength, type Piece, type PieceFormat } from '@flimzy/core/piece';
import { frameLength, frameStart, toSeconds } from '@flimzy/core/time';
import { readCodes } from '../../../demo/read';
import { NotAsItShould, verify } from '../src/deliveries/verify';
import { isOver, newFolder, ROOT, TestServer } from './running';

const files = newFolder();
let server: TestServer;
let clip: MediaItem;

beforeAll(async () => {
  server = await TestServer.start();
  clip = await server.bringIn(path.join(ROOT, 'demo/test-media/hilltop.mp4'));
});
afterAll(async () => {
  await server.stopAndRemove();
  rmSync(files, { recursive: true, force: true });
});

const SMALL: PieceFormat = { width: 360, height: 640, rate: { num: 30, den: 1 } };

async function pieceOf(frames: number[], format = SMALL): Promise<Piece> {
  const { id } = await server.newPiece(format, 'Wind song');
  for (const [n, length] of frames.entries()) {
    const place = { track: 'main', media: clip.facts!, at: null, from: frameStart(7 * (n + 1), format.rate), fit: 'fill' as const };
    await server.edit(id, n, ['add', { ...place, length: frameStart(length, format.rate) }]);
  }
  return (await server.open(id)).piece;
}

const ended = (id: string) =>
  server.untilTold(
    async () => (await server.call<Delivery[]>('listDeliveries')).find((delivery) => delivery.id === id && isOver(delivery)) ?? null,
    (event) => event.type === 'delivery' && event.delivery.id === id && isOver(event.delivery),
  );

/** Exports a piece so, and fetches the file. */
async function sent(piece: Piece, settings: DeliverySettings, name?: string): Promise<{ delivery: Delivery; file: string }> {
  const { id } = await server.call<Delivery>('newDelivery', {}, {}, { piece: piece.id, settings, name });
  const delivery = await ended(id);
  expect(delivery.error).toBeNull();
  const response = await server.fetch('deliveryFile', { id });
  expect(response.headers.get('content-type')).toBe(FILES[settings.file].mime);
  const file = path.join(files, `${id}.${FILES[settings.file].extension}`);
  writeFileSync(file, Buffer.from(await response.arrayBuffer()));
  return { delivery, file };
}

interface Probed {
  streams: {
    codec_type: string;
    codec_name: string;
    width?: number;
    height?: number;
    r_frame_rate: string;
    nb_read_frames?: string;
    duration?: string;
  }[];
  format: { duration?: string };
}
/** What a file is, decoded to its end. */
function probe(file: string): Probed {
  const args = ['-v', 'error', '-count_frames', '-show_streams', '-show_format', '-of', 'json', file];
  return JSON.parse(execFileSync('ffprobe', args).toString()) as Probed;
}

const fraction = (text: string) =>
  text
    .split('/')
    .map(Number)
    .reduce((a, b) => a / b);

describe('a piece for a platform', () => {
  it.each(PLATFORM_FORMATS.map((format) => [format.name, format] as const))(
    '%s: the file is what the format takes, to its end',
    async (_, format) => {
      const piece = await pieceOf([14, 8], { ...SMALL, width: 540, height: 960 });
      for (const kind of format.files.slice(0, 3)) {
        const { settings } = suggest(piece, format, kind);
        const { delivery, file } = await sent(piece, { ...settings, part: format.part ? 0 : null });
        expect(delivery.checks!.filter(({ ok, says }) => !ok && !/LUFS|dBTP/.test(says))).toEqual([]);
        expect(statSync(file).size).toBeLessThanOrEqual(format.bytes ?? Infinity);
        expect(delivery.size).toBe(statSync(file).size);
        if (kind === 'webp') continue; // ffprobe reads none that move
        const { streams } = probe(file);
        const [picture, sound] = ['video', 'audio'].map((type) => streams.find((stream) => stream.codec_type === type));
        expect(Boolean(sound)).toBe(format.codecs.sound.length > 0);
        const { size } = settings;
        if (sound && kind !== 'wav') expect(format.codecs.sound.map(String)).toContain(sound.codec_name);
        if (!size) continue;
        expect(picture).toMatchObject(size);
        const fps = fraction(picture!.r_frame_rate);
        expect(fps).toBeLessThanOrEqual(format.rates.most + 0.01);
        const seconds = toSeconds(delivery.length);
        expect(Math.abs(Number(picture!.nb_read_frames) - seconds * (settings.rate.num / settings.rate.den))).toBeLessThanOrEqual(
          kind === 'gif' ? 1 : 0.51,
        );
        if (settings.picture) expect(format.codecs.picture.map(String)).toContain(picture!.codec_name);
      }
    },
  );

  it('every codec there is makes a file of the right frames, in step with its sound', async () => {
    const piece = await pieceOf([26, 31]);
    const plain = asItIs(piece);
    const ways: [FileKind, NonNullable<DeliverySettings['picture']>['codec'], NonNullable<DeliverySettings['sound']>['codec']][] = [
      ['mp4', 'hevc', 'aac'],
      ['mp4', 'av1', 'opus'],
      ['webm', 'vp9', 'opus'],
    ];
    for (const [file, codec, soundCodec] of ways) {
      const { file: made, delivery } = await sent(piece, {
        ...plain,
        file,
        picture: { codec, control: { by: 'quality', quality: 80 } },
        sound: { codec: soundCodec, rate: 48_000, bitrate: 128_000 },
      });
      const due = [...Array.from({ length: 26 }, (_, n) => 7 + n), ...Array.from({ length: 31 }, (_, n) => 14 + n)];
      const side = Math.min(clip.facts!.width, clip.facts!.height) * Math.max(360 / clip.facts!.width, 640 / clip.facts!.height);
      expect(readCodes(made, 360, 640, () => side)).toEqual(due);
      expect(delivery.checks!.map(({ says }) => says).join(' ')).toContain(`${CODEC_NAMES[codec]} + ${CODEC_NAMES[soundCodec]}`);
    }
  });

  it('keeps to so many bytes, and to so many bits a second, within 3 %, and says when they are too few', async () => {
    const piece = await pieceOf([150, 120]);
    const plain = asItIs(piece);
    const seconds = toSeconds(pieceLength(piece));
    const bytes = 700_000;
    const told = async (control: { by: 'bytes'; bytes: number } | { by: 'bitrate'; bitrate: number }) => {
      const settings = { ...plain, picture: { codec: 'h264' as const, control } };
      return server.call<Record<'bytes' | 'seconds' | 'most', number>>('estimateDelivery', {}, {}, { piece: piece.id, settings });
    };
    // How long it takes is told for once, and for as often as it may be tried.
    const before = await told({ by: 'bytes', bytes });
    expect(before.bytes).toBe(bytes);
    expect(before.seconds).toBeGreaterThan(0);
    expect(before.most).toBeGreaterThan(before.seconds);
    const { file } = await sent(piece, { ...plain, picture: { codec: 'h264', control: { by: 'bytes', bytes } } });
    expect(statSync(file).size).toBeLessThanOrEqual(bytes);
    expect(statSync(file).size).toBeGreaterThan(bytes * 0.97);
    expect(Number(probe(file).streams[0]!.nb_read_frames)).toBe(270);
    const bitrate = 1_200_000;
    const kept = await told({ by: 'bitrate', bitrate });
    const heard = ((plain.sound?.bitrate ?? 0) * seconds) / 8;
    expect(Math.abs(kept.bytes / ((bitrate * seconds) / 8 + heard) - 1)).toBeLessThan(0.15);
    expect(kept.most).toBeGreaterThan(kept.seconds);
    const silent = await sent(piece, { ...plain, sound: null, picture: { codec: 'h264', control: { by: 'bitrate', bitrate } } });
    const rate = (statSync(silent.file).size * 8) / seconds;
    expect(Math.abs(rate / bitrate - 1)).toBeLessThan(0.03);
    const few = await server.call<Delivery>(
      'newDelivery',
      {},
      {},
      { piece: piece.id, settings: { ...plain, picture: { codec: 'h264', control: { by: 'bytes', bytes: 40_000 } } } },
    );
    expect((await ended(few.id)).error).toMatch(/too few for its length/);
  });

  it('says about how large a file will be before it is made, straight, titled and in another codec: within 15 %', async () => {
    const piece = await pieceOf([150, 120]);
    const { revision } = await server.open(piece.id);
    const words = { overlay: { parts: [{ ...PLAIN_TEXT, text: 'Wind song' }] } };
    const place = { track: null, media: OVERLAY, at: frameStart(150, SMALL.rate), from: 0, length: frameStart(120, SMALL.rate) };
    await server.edit(piece.id, revision, ['add', { ...place, values: words }]);
    const plain = asItIs(piece);
    for (const settings of [plain, { ...plain, picture: { codec: 'hevc' as const, control: { by: 'quality' as const, quality: 60 } } }]) {
      const { bytes, seconds } = await server.call<{ bytes: number; seconds: number }>(
        'estimateDelivery',
        {},
        {},
        { piece: piece.id, settings },
      );
      expect(seconds).toBeGreaterThan(0);
      const { delivery } = await sent(piece, settings);
      expect(Math.abs(bytes / delivery.size! - 1)).toBeLessThan(0.15);
      const again = await server.call<{ bytes: number; seconds: number }>('estimateDelivery', {}, {}, { piece: piece.id, settings });
      expect(Math.abs(again.bytes / delivery.size! - 1)).toBeLessThan(0.03);
    }
  });

  it('says it of a loop, and of another rate, of what is kept and of what is not: within 15 %', async () => {
    const piece = await pieceOf([150, 120]);
    const plain = asItIs(piece);
    const { settings: loop } = suggest(
      piece,
      PLATFORM_FORMATS.find(({ id }) => id === 'silent-loop')!,
    );
    const told = (settings: DeliverySettings) =>
      server.call<{ bytes: number; seconds: number }>('estimateDelivery', {}, {}, { piece: piece.id, settings });
    expect(loop.file).toBe('gif');
    for (const settings of [loop, { ...loop, file: 'webp' as const }, { ...plain, sound: null, rate: { num: 15, den: 1 } }]) {
      const before = await told(settings); // the first of nothing that is kept, the others of what the one before left
      expect(before.seconds).toBeGreaterThan(0);
      const { delivery } = await sent(piece, settings);
      expect(Math.abs(before.bytes / delivery.size! - 1)).toBeLessThan(0.15);
    }
  });

  it('goes out in parts that go on where the one before ended, of segments that are rendered once', async () => {
    const piece = await pieceOf([50, 43]);
    const format: PlatformFormat = {
      ...PLATFORM_FORMATS[1]!,
      id: 'own-parts',
      part: 1,
      length: { least: 0.5, most: null },
      sizes: [{ width: 360, height: 640 }],
    };
    const { settings } = suggest(piece, format);
    const seen: (number | null)[] = [];
    let rendered = 0;
    const side = Math.min(clip.facts!.width, clip.facts!.height) * Math.max(360 / clip.facts!.width, 640 / clip.facts!.height);
    for (let part = 0; part < 4; part += 1) {
      const { file, delivery } = await sent(piece, { ...settings, part }, '{piece} {part}');
      seen.push(...readCodes(file, 360, 640, () => side));
      rendered += delivery.segments - delivery.segmentsKept;
      expect(delivery.fileName).toBe(`Wind-song-${part + 1}-of-4.mp4`);
    }
    // Three frames would be shorter than the format takes: the last two parts share.
    expect(seen).toEqual([...Array.from({ length: 50 }, (_, n) => 7 + n), ...Array.from({ length: 43 }, (_, n) => 14 + n)]);
    const { delivery } = await sent(piece, { ...settings, part: 1, faststart: false });
    expect(delivery.segmentsKept).toBe(delivery.segments);
    expect(rendered).toBeGreaterThan(2);
  });

  it('goes out as sound, whole and track by track: together the tracks are the whole', async () => {
    const piece = await pieceOf([60]);
    const head = await server.open(piece.id);
    await server.edit(piece.id, head.revision, [
      'add',
      {
        track: 'sound-1',
        media: clip.facts!,
        at: frameStart(10, SMALL.rate),
        from: frameStart(90, SMALL.rate),
        length: frameStart(40, SMALL.rate),
        parts: 'sound',
      },
    ]);
    const both = (await server.open(piece.id)).piece;
    const wav: DeliverySettings = {
      ...asItIs(both),
      file: 'wav',
      size: null,
      picture: null,
      sound: { codec: 'wav', rate: 48_000, bitrate: 0 },
    };
    const samples = (file: string) => {
      const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'f32le', '-ac', '2', 'pipe:1'], { maxBuffer: 1 << 28 });
      return new Float32Array(raw.buffer, raw.byteOffset, raw.length / 4);
    };
    const whole = await sent(both, wav);
    const tracks = await Promise.all(both.tracks.map(({ id }) => sent(both, { ...wav, track: id }, '{piece} {track}')));
    expect(tracks.map(({ delivery }) => delivery.fileName)).toEqual(['Wind-song-Picture.wav', 'Wind-song-Music.wav']);
    const [all, one, other] = [whole, ...tracks].map(({ file }) => samples(file));
    expect(all!.length).toBe(Math.round(toSeconds(pieceLength(both)) * 48_000) * 2);
    let [worst, loudest] = [0, 0];
    for (let i = 0; i < all!.length; i += 1) {
      worst = Math.max(worst, Math.abs(all![i]! - one![i]! - other![i]!));
      loudest = Math.max(loudest, Math.abs(other![i]!));
    }
    expect(loudest).toBeGreaterThan(0.001);
    expect(worst).toBeLessThan(1e-5);
  });

  it('is made once for the same settings, and again for others; what makes no sense is refused', async () => {
    const piece = await pieceOf([20]);
    const plain = asItIs(piece);
    const first = await sent(piece, plain);
    const ask = (settings?: unknown) => server.fetch('newDelivery', {}, {}, { piece: piece.id, settings });
    expect(((await (await ask(plain)).json()) as Delivery).id).toBe(first.delivery.id);
    expect(((await (await ask()).json()) as Delivery).id).toBe(first.delivery.id);
    const other = (await (await ask({ ...plain, faststart: false })).json()) as Delivery;
    expect(other.id).not.toBe(first.delivery.id);
    expect((await ended(other.id)).segmentsKept).toBe(1);
    expect((await ask({ ...plain, file: 'gif' })).status).toBe(400);
    expect((await ask({ ...plain, rate: { num: 60, den: 1 } })).status).toBe(400);
    expect((await ask({ ...plain, part: 3 })).status).toBe(400);
    expect(
      (await ask({ ...plain, file: 'wav', size: null, picture: null, sound: { codec: 'wav', rate: 48_000, bitrate: 0 }, track: 'none' }))
        .status,
    ).toBe(404);
  });
});

describe('captions', () => {
  it('are in the picture or in a file beside it, as the format has it, with times from where a part begins', async () => {
    const piece = await pieceOf([60]);
    const { revision } = await server.open(piece.id);
    const at = (n: number) => frameStart(n, SMALL.rate);
    const cues = [
      { at: at(6), length: at(20), text: 'Hold the line' },
      { at: at(27), length: at(30), text: 'and <run> & run' },
    ];
    await server.edit(piece.id, revision, ['caption', { cues }]);
    const captioned = (await server.open(piece.id)).piece;
    const plain = asItIs(captioned);
    const inside = await sent(captioned, plain);
    const beside = await sent(captioned, { ...plain, captions: 'beside' });
    const left = await sent(captioned, { ...plain, captions: 'none' });
    expect([inside, beside, left].map(({ delivery }) => delivery.captions)).toEqual([0, 2, 0]);
    // Nothing is drawn over what has them beside it: its frames are those of the clip, coded and all.
    const side = Math.min(clip.facts!.width, clip.facts!.height) * Math.max(360 / clip.facts!.width, 640 / clip.facts!.height);
    const due = Array.from({ length: 60 }, (_, n) => 7 + n);
    for (const { file } of [beside, left]) expect(readCodes(file, 360, 640, () => side)).toEqual(due);
    const framesOf = (file: string) => execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-an', '-f', 'framemd5', 'pipe:1']).toString();
    expect(framesOf(beside.file)).toBe(framesOf(left.file));
    expect(framesOf(inside.file)).not.toBe(framesOf(left.file));
    // A caption that ends later than the picture leaves the file as long as the piece, whatever becomes of it.
    const late = await pieceOf([20]);
    await server.edit(late.id, 1, ['caption', { cues: [{ at: at(15), length: at(11), text: 'and down' }] }]);
    const longer = (await server.open(late.id)).piece;
    for (const captions of ['burned in', 'beside'] as const) {
      const { file } = await sent(longer, { ...asItIs(longer), captions });
      expect(Number(probe(file).streams[0]!.nb_read_frames)).toBe(26);
    }
    const captionsOf = (id: string, kind: string) => server.fetch('deliveryCaptions', { id, kind });
    const srt = await captionsOf(beside.delivery.id, 'srt');
    expect(srt.headers.get('content-type')).toMatch(/^application\/x-subrip/);
    expect(srt.headers.get('content-disposition')).toContain('.srt');
    expect(await srt.text()).toBe('1\n00:00:00,200 --> 00:00:00,867\nHold the line\n\n2\n00:00:00,900 --> 00:00:01,900\nand <run> & run\n');
    expect((await captionsOf(inside.delivery.id, 'srt')).status).toBe(404);
    const format: PlatformFormat = { ...PLATFORM_FORMATS[1]!, id: 'own-half', part: 1, sizes: [{ width: 360, height: 640 }] };
    const second = await sent(captioned, { ...plain, format, captions: 'beside', part: 1 });
    expect(await (await captionsOf(second.delivery.id, 'vtt')).text()).toBe(
      'WEBVTT\n\n00:00:00.000 --> 00:00:00.900\nand &lt;run&gt; &amp; run\n',
    );
  });
});

describe('an export on its way', () => {
  it('comes before the others that wait when one asks for it, also after the server was killed', async () => {
    const pieces = [await pieceOf([70, 69, 68], { ...SMALL, width: 720, height: 1280 }), await pieceOf([5]), await pieceOf([6])];
    const ids: string[] = [];
    for (const { id } of pieces) ids.push((await server.call<Delivery>('newDelivery', {}, {}, { piece: id })).id);
    const last = await server.call<Delivery>('firstDelivery', { id: ids[2]! });
    expect(last.rank).toBeLessThan(0);
    await server.kill();
    server = await TestServer.start(server.data);
    const ends = await Promise.all(ids.map(async (id) => (await ended(id)).finishedAt!));
    expect(ends[2]! < ends[1]!).toBe(true);
  });

  it('is paused, also over a start, gone on with, tried again after it was cancelled, and opened as it was sent', async () => {
    const piece = await pieceOf(
      Array.from({ length: 7 }, (_, n) => 70 - n),
      { ...SMALL, width: 720, height: 1280 },
    );
    const told = await server.listen();
    const { id } = await server.call<Delivery>('newDelivery', {}, {}, { piece: piece.id });
    await told((event) => event.type === 'delivery' && event.delivery.id === id && event.delivery.status === 'rendering');
    const state = async () => (await server.call<Delivery[]>('listDeliveries')).find((one) => one.id === id)?.status;
    await server.call('pauseDelivery', { id });
    expect(await state()).toBe('paused');
    expect((await server.fetch('deliveryFile', { id })).status).toBe(409);
    // Others are not kept waiting by it.
    const other = await pieceOf([5]);
    await sent(other, asItIs(other));
    await server.stop();
    server = await TestServer.start(server.data);
    expect(await state()).toBe('paused');
    expect((await server.call<Delivery>('resumeDelivery', { id })).status).not.toBe('paused');
    await server.call('cancelDelivery', { id });
    if ((await state()) === 'cancelled') await server.call('resumeDelivery', { id });
    // Changed meanwhile, it is sent as it was.
    const head = await server.open(piece.id);
    await server.edit(piece.id, head.revision, ['remove', { clips: [piece.tracks[0]!.clips[0]!.id], rest: 'close' }]);
    expect((await ended(id)).status).toBe('done');
    const opened = await server.call<{ id: string; name: string }>('pieceOfDelivery', { id });
    expect(opened.name).toMatch(/^Wind song \(as sent \d{4}-\d\d-\d\d\)$/);
    expect((await server.open(opened.id)).piece.tracks).toEqual(piece.tracks);
  });
});

describe('a finished file', () => {
  it('is not called done when it is cut short, damaged, or not as long as it should be', async () => {
    const piece = await pieceOf([90]);
    const settings = asItIs(piece);
    const { file } = await sent(piece, settings);
    const due = { settings, length: pieceLength(piece), rate: SMALL.rate, signal: new AbortController().signal };
    await expect(verify(file, due)).resolves.toContainEqual({ says: '90 frames, as many as there should be', ok: true });
    await expect(verify(file, { ...due, length: due.length + frameLength(SMALL.rate) })).rejects.toThrow(NotAsItShould);
    await expect(verify(file, { ...due, settings: { ...settings, sound: null } })).rejects.toThrow(NotAsItShould);
    const broken = path.join(files, 'broken.mp4');
    copyFileSync(file, broken);
    truncateSync(broken, Math.round(statSync(file).size * 0.7));
    await expect(verify(broken, due)).rejects.toThrow();
    const bytes = readFileSync(file);
    for (let at = Math.round(bytes.length * 0.5); at < bytes.length * 0.55; at += 1) bytes[at] = 0xa5;
    writeFileSync(broken, bytes);
    await expect(verify(broken, due)).rejects.toThrow(NotAsItShould);
  });
});

describe('formats of one’s own', () => {
  it('are kept, changed, removed and brought back, also when the database is rebuilt; those that ship stay as they are', async () => {
    const own: PlatformFormat = { ...PLATFORM_FORMATS[0]!, id: 'own-one', name: 'Ours', length: { least: 1, most: 45 } };
    await server.call('saveFormat', {}, {}, own);
    await server.call('saveFormat', {}, {}, { ...own, id: 'own-two', name: 'Gone' });
    await server.call('deleteFormat', { id: 'own-two' });
    await server.call('saveFormat', {}, {}, { ...own, name: 'Ours, shorter', length: { least: 1, most: 30 } });
    expect((await server.fetch('saveFormat', {}, {}, PLATFORM_FORMATS[0])).status).toBe(400);
    expect((await server.fetch('saveFormat', {}, {}, { ...own, safe: { ...own.safe, top: 0.9 } })).status).toBe(400);
    await server.stop();
    rmSync(path.join(server.data, 'database'), { recursive: true, force: true });
    server = await TestServer.start(server.data);
    const kept = await server.call<PlatformFormat[]>('listFormats');
    expect(kept.map(({ name, length }) => [name, length.most])).toEqual([['Ours, shorter', 30]]);
  });
});
