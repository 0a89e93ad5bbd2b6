import { execFileSync } from 'node:child_process';
import { readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import type { MediaItem } from '@flimzy/contract';
import { frameStart, toSeconds } from '@flimzy/core/time';
import sharp from 'sharp';
import { ffmpeg, newFolder, ROOT, TestServer } from './running';

const files = newFolder();
const at = (name: string) => path.join(files, name);
const RATE = { num: 30, den: 1 };
let server: TestServer;

beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(async () => {
  await server.stopAndRemove();
  rmSync(files, { recursive: true, force: true });
});

const bytesOf = async (response: Response) => Buffer.from(await response.arrayBuffer());

/** RGB of a frame of any file ffmpeg reads, at a size. */
function rgb(file: string, width: number, height: number, frame = 0): Buffer {
  const vf = `select=eq(n\\,${frame}),scale=${width}:${height}:flags=bicubic+accurate_rnd+full_chroma_int:in_color_matrix=bt709,format=rgb24`;
  return execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-vf', vf, '-frames:v', '1', '-f', 'rawvideo', 'pipe:1'], {
    maxBuffer: 1 << 28,
  });
}

const meanError = (a: Buffer, b: Buffer) => {
  expect(a.length).toBe(b.length);
  let sum = 0;
  for (let i = 0; i < a.length; i += 1) sum += Math.abs(a[i]! - b[i]!);
  return sum / a.length;
};

/** The first frame of an item's piece, drawn by the server. */
async function frameOf(item: MediaItem, size: { width: number; height: number }, from: 'proxy' | 'original', under?: MediaItem) {
  const piece = await server.newPiece({ ...size, rate: RATE });
  const add = (media: MediaItem, track: string | null) =>
    server.edit(piece.id, track === 'main' ? 0 : 1, [
      'add',
      { track, media: media.facts!, at: 0, from: 0, length: frameStart(5, RATE), backdrop: 'black' },
    ]);
  await add(under ?? item, 'main');
  if (under) await add(item, null);
  const png = await bytesOf(await server.fetch('pieceFrame', { id: piece.id }, { at: 0, width: size.width, from }));
  const image = await loadImage(png);
  const canvas = createCanvas(image.width, image.height);
  canvas.getContext('2d').drawImage(image, 0, 0);
  const { data } = canvas.getContext('2d').getImageData(0, 0, image.width, image.height);
  return { piece: piece.id, at: (x: number, y: number) => [...data.subarray((y * image.width + x) * 4, (y * image.width + x) * 4 + 3)] };
}

describe('an HDR recording', () => {
  it.each([
    ['hlg', 'arib-std-b67'],
    ['pq', 'smpte2084'],
  ] as const)(
    'of the kind %s comes out as the SDR picture that it was made from, in the preview and in the export',
    async (kind, transfer) => {
      const sdr = at(`${kind}-sdr.mp4`);
      const tags = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'];
      const seen = 'scale=640:360,format=yuv420p,scale=out_color_matrix=bt709:out_range=tv';
      ffmpeg('-t', '1', '-i', path.join(ROOT, 'demo/media/talk-front.mp4'), '-an', '-vf', seen, '-qp', '4', ...tags, sdr);
      const toHdr = `zscale=tin=bt709:pin=bt709:min=bt709:rin=tv:t=linear:npl=203,format=gbrpf32le,zscale=p=bt2020,zscale=t=${transfer}:npl=203:m=bt2020nc:r=tv,format=yuv420p10le`;
      ffmpeg(
        '-i',
        sdr,
        '-vf',
        toHdr,
        '-c:v',
        'libx265',
        '-x265-params',
        `log-level=error:qp=6:colorprim=bt2020:transfer=${transfer}:colormatrix=bt2020nc`,
        '-tag:v',
        'hvc1',
        '-colorspace',
        'bt2020nc',
        '-color_primaries',
        'bt2020',
        '-color_trc',
        transfer,
        '-color_range',
        'tv',
        at(`${kind}.mov`),
      );
      const item = await server.bringIn(at(`${kind}.mov`));
      expect(item).toMatchObject({ status: 'ready', error: null, hdr: kind });
      const proxy = at(`${kind}-proxy.mp4`);
      writeFileSync(proxy, await bytesOf(await server.fetch('mediaProxy', { id: item.id })));
      expect(meanError(rgb(proxy, 640, 360, 10), rgb(sdr, 640, 360, 10))).toBeLessThanOrEqual(2);
      const piece = await server.newPiece({ width: 640, height: 360, rate: RATE });
      await server.edit(piece.id, 0, ['add', { track: 'main', media: item.facts!, at: null, from: 0, length: frameStart(25, RATE) }]);
      const done = await server.deliver(piece.id);
      expect(done.error).toBeNull();
      const out = at(`${kind}-out.mp4`);
      writeFileSync(out, await bytesOf(await server.fetch('deliveryFile', { id: done.id })));
      expect(meanError(rgb(out, 640, 360, 10), rgb(sdr, 640, 360, 10))).toBeLessThanOrEqual(2);
      const { piece: drawn } = await frameOf(item, { width: 640, height: 360 }, 'original');
      const png = at(`${kind}-drawn.png`);
      writeFileSync(png, await bytesOf(await server.fetch('pieceFrame', { id: drawn }, { at: 0, width: 640, from: 'original' })));
      expect(meanError(rgb(png, 640, 360), rgb(sdr, 640, 360, 0))).toBeLessThanOrEqual(2);
    },
  );
});

/** A photo with a red left half and a blue right half, in Display P3 where wanted. */
const halves = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: '#2040c0' } }).composite([
    { input: { create: { width: width / 2, height, channels: 3, background: '#c03020' } }, left: 0, top: 0 },
  ]);

describe('a photo', () => {
  it('from a phone’s own format is turned as it says and keeps its colours', async () => {
    await halves(800, 600).withIccProfile('p3').jpeg({ quality: 98 }).toFile(at('p3.jpg'));
    execFileSync('heif-enc', ['-q', '95', '-o', at('photo.heic'), at('p3.jpg')], { stdio: 'ignore' });
    const heic = await server.bringIn(at('photo.heic'), 'photo.heic', true);
    expect(heic).toMatchObject({ status: 'ready', error: null, filmstrip: expect.anything() });
    expect(heic.facts).toMatchObject({ kind: 'photo', width: 800, height: 600 });
    const jpeg = await server.bringIn(at('p3.jpg'), 'p3.jpg', true);
    for (const item of [heic, jpeg])
      for (const from of ['proxy', 'original'] as const) {
        const { at: pixel } = await frameOf(item, { width: 400, height: 300 }, from);
        for (const [x, due] of [
          [50, [0xc0, 0x30, 0x20]],
          [350, [0x20, 0x40, 0xc0]],
        ] as const)
          pixel(x, 150).forEach((v, i) => expect(Math.abs(v - due[i]!)).toBeLessThanOrEqual(6));
      }
  });

  it('that its camera turned stands upright', async () => {
    await halves(300, 200).withMetadata({ orientation: 6 }).jpeg({ quality: 95 }).toFile(at('turned.jpg'));
    const item = await server.bringIn(at('turned.jpg'));
    expect(item.facts).toMatchObject({ width: 200, height: 300 });
    const { at: pixel } = await frameOf(item, { width: 200, height: 300 }, 'original');
    const [top, bottom] = [pixel(100, 40), pixel(100, 260)];
    expect(top[0]! > top[2]! && bottom[2]! > bottom[0]!).toBe(true);
  });

  it('of 108 million pixels comes in, and is drawn', async () => {
    await halves(12_000, 9_000).jpeg({ quality: 80 }).toFile(at('huge.jpg'));
    const item = await server.bringIn(at('huge.jpg'), 'huge.jpg', true);
    expect(item).toMatchObject({ status: 'ready', error: null });
    expect(item.facts).toMatchObject({ width: 12_000, height: 9_000 });
    expect((await sharp(await bytesOf(await server.fetch('mediaProxy', { id: item.id }))).metadata()).width).toBeLessThanOrEqual(1920);
    const { at: pixel } = await frameOf(item, { width: 400, height: 300 }, 'original');
    expect(pixel(50, 150)[0]).toBeGreaterThan(150);
  });

  it.each(['png', 'webp'] as const)('with transparency (%s) shows what lies under it, also in the export', async (kind) => {
    const hole = { input: { create: { width: 100, height: 200, channels: 4 as const, background: '#c03020' } }, left: 0, top: 0 };
    await sharp({ create: { width: 200, height: 200, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
      .composite([hole])
      [kind]({ quality: 100 })
      .toFile(at(`clear.${kind}`));
    await sharp({ create: { width: 200, height: 200, channels: 3, background: '#20c040' } })
      .png()
      .toFile(at('green.png'));
    const [clear, green] = [await server.bringIn(at(`clear.${kind}`)), await server.bringIn(at('green.png'))];
    expect([clear.facts?.alpha, green.facts?.alpha]).toEqual([true, undefined]);
    const { piece, at: pixel } = await frameOf(clear, { width: 200, height: 200 }, 'proxy', green);
    const near = (got: number[], due: number[]) => got.forEach((v, i) => expect(Math.abs(v - due[i]!)).toBeLessThanOrEqual(8));
    near(pixel(50, 100), [0xc0, 0x30, 0x20]);
    near(pixel(150, 100), [0x20, 0xc0, 0x40]);
    const done = await server.deliver(piece);
    expect(done.error).toBeNull();
    writeFileSync(at('clear.mp4'), await bytesOf(await server.fetch('deliveryFile', { id: done.id })));
    const out = rgb(at('clear.mp4'), 200, 200);
    near([...out.subarray((100 * 200 + 50) * 3, (100 * 200 + 50) * 3 + 3)], [0xc0, 0x30, 0x20]);
    near([...out.subarray((100 * 200 + 150) * 3, (100 * 200 + 150) * 3 + 3)], [0x20, 0xc0, 0x40]);
  });

  it('that is a video of one frame is a photo', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=30:duration=1', '-frames:v', '1', '-pix_fmt', 'yuv420p', at('one.mp4'));
    expect((await server.bringIn(at('one.mp4'), 'one.mp4', true)).facts).toMatchObject({
      kind: 'photo',
      width: 320,
      height: 240,
      length: 0,
    });
  });
});

describe('a moving picture file', () => {
  it.each(['gif', 'webp'] as const)('(%s) is a clip, each picture as long as it says', async (kind) => {
    const colours = ['#c00000', '#00c000', '#0000c0'];
    const pages = await Promise.all(
      colours.map((background) =>
        sharp({ create: { width: 101, height: 77, channels: 3, background } })
          .png()
          .toBuffer(),
      ),
    );
    await sharp(pages, { join: { animated: true } })
      [kind]({ delay: [100, 300, 200] })
      .toFile(at(`moving.${kind}`));
    const item = await server.bringIn(at(`moving.${kind}`), `moving.${kind}`, true);
    expect(item).toMatchObject({ status: 'ready', error: null });
    expect(item.facts).toMatchObject({ kind: 'video', width: 101, height: 77, hasSound: false });
    expect(toSeconds(item.facts!.length)).toBeCloseTo(0.6, 2);
    const { times } = await server.call<{ times: number[] }>('mediaFrames', { id: item.id });
    expect(times.map((time) => Math.round(toSeconds(time) * 1000))).toEqual([0, 100, 400]);
  });
});

describe('a file that is not all there', () => {
  it('is taken for what can be read of it, and that is said', async () => {
    const sound = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=8'];
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=640x360:rate=30:duration=8',
      ...sound,
      '-pix_fmt',
      'yuv420p',
      '-movflags',
      '+faststart',
      at('long.mp4'),
    );
    const bytes = readFileSync(at('long.mp4'));
    writeFileSync(at('half.mp4'), bytes.subarray(0, Math.floor(bytes.length * 0.55)));
    const item = await server.bringIn(at('half.mp4'), 'half.mp4', true);
    expect(item).toMatchObject({ status: 'ready', error: null });
    expect(item.note).toMatch(/^Only 0:0\d\.\d of 0:08\.0 could be read/);
    const seconds = toSeconds(item.facts!.length);
    expect(seconds).toBeGreaterThan(2);
    expect(seconds).toBeLessThan(7);
  });

  it('takes no room for what it only claims: a minute of silence between two sounds', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'sine=frequency=440:duration=2', '-af', 'asetpts=PTS+gt(T\\,1)*60/TB', '-c:a', 'flac', at('leap.mkv'));
    const item = await server.bringIn(at('leap.mkv'), 'leap.mkv', true);
    expect(item).toMatchObject({ status: 'ready', error: null });
    expect(statSync(path.join(server.data, 'media', item.id, 'sound.pcm')).blocks * 512).toBeLessThan(3e6);
  });
});
