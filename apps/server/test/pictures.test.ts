import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import type { MediaItem } from '@flimzy/contract';
import { frameStart, toSeconds } from '@flimzy/core/time';
import sharp from 'sharp';
import { bytesOf, frameOf, RATE, rgb } from './drawn';
import { ffmpeg, TestServer } from './running';
import { withServer } from './withServer';

let server: TestServer;
const at = withServer((started) => (server = started));

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
        const { at: pixel } = await frameOf(server, item, { width: 400, height: 300 }, from);
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
    const { at: pixel } = await frameOf(server, item, { width: 200, height: 300 }, 'original');
    const [top, bottom] = [pixel(100, 40), pixel(100, 260)];
    expect(top[0]! > top[2]! && bottom[2]! > bottom[0]!).toBe(true);
  });

  it('of 108 million pixels comes in, and is drawn', async () => {
    await halves(12_000, 9_000).jpeg({ quality: 80 }).toFile(at('huge.jpg'));
    const item = await server.bringIn(at('huge.jpg'), 'huge.jpg', true);
    expect(item).toMatchObject({ status: 'ready', error: null });
    expect(item.facts).toMatchObject({ width: 12_000, height: 9_000 });
    expect((await sharp(await bytesOf(await server.fetch('mediaProxy', { id: item.id }))).metadata()).width).toBeLessThanOrEqual(1920);
    const { at: pixel } = await frameOf(server, item, { width: 400, height: 300 }, 'original');
    expect(pixel(50, 150)[0]).toBeGreaterThan(150);
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

describe('what shines through', () => {
  const near = (got: readonly number[], due: readonly number[]) =>
    got.forEach((v, i) => expect(Math.abs(v - due[i]!)).toBeLessThanOrEqual(12));
  const GREEN = [0x20, 0xc0, 0x40];
  const RED = [0xc0, 0x30, 0x20];
  let green: MediaItem;

  beforeAll(async () => {
    await sharp({ create: { width: 200, height: 200, channels: 3, background: '#20c040' } })
      .png()
      .toFile(at('under.png'));
    green = await server.bringIn(at('under.png'));
  });

  /** Exports a piece, and looks at the left and the right half of some frames. */
  async function exported(piece: string, due: readonly [frame: number, left: number[], right: number[]][]): Promise<void> {
    const done = await server.deliver(piece);
    expect(done.error).toBeNull();
    writeFileSync(at('clear.mp4'), await bytesOf(await server.fetch('deliveryFile', { id: done.id })));
    for (const [frame, ...halves] of due) {
      const out = rgb(at('clear.mp4'), 200, 200, frame);
      for (const [n, colour] of halves.entries()) {
        const place = (100 * 200 + 50 + n * 100) * 3;
        near([...out.subarray(place, place + 3)], colour);
      }
    }
  }

  it.each(['png', 'webp'] as const)('does so beside a photo (%s), also in the export', async (kind) => {
    const hole = { input: { create: { width: 100, height: 200, channels: 4 as const, background: '#c03020' } }, left: 0, top: 0 };
    await sharp({ create: { width: 200, height: 200, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
      .composite([hole])
      [kind]({ quality: 100 })
      .toFile(at(`clear.${kind}`));
    const clear = await server.bringIn(at(`clear.${kind}`));
    expect([clear.facts?.alpha, green.facts?.alpha]).toEqual([true, undefined]);
    const { piece, at: pixel } = await frameOf(server, clear, { width: 200, height: 200 }, 'proxy', green);
    near(pixel(50, 100), RED);
    near(pixel(150, 100), GREEN);
    await exported(piece, [[0, RED, GREEN]]);
  });

  it('does so around a drawing, which is as sharp as anything needs it', async () => {
    const circle = '<circle cx="12" cy="12" r="6" fill="#c03020"/>';
    writeFileSync(
      at('sign.svg'),
      `<?xml version="1.0"?>\n<!-- a sign -->\n<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">${circle}</svg>`,
    );
    const item = await server.bringIn(at('sign.svg'), 'sign.svg', true);
    expect(item).toMatchObject({ status: 'ready', error: null, facts: { kind: 'photo', width: 2048, height: 2048, alpha: true } });
    const { at: pixel } = await frameOf(server, item, { width: 200, height: 200 }, 'original', green);
    near(pixel(100, 100), RED);
    near(pixel(20, 20), GREEN);
  });

  it.each(['gif', 'webp'] as const)('does so in a moving file (%s), frame after frame, in the preview and in the export', async (kind) => {
    const pages = await Promise.all(
      [0, 100].map((left) =>
        sharp({ create: { width: 200, height: 200, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
          .composite([{ input: { create: { width: 100, height: 200, channels: 4, background: '#c03020' } }, left, top: 0 }])
          .png()
          .toBuffer(),
      ),
    );
    await sharp(pages, { join: { animated: true } })
      [kind]({ delay: [200, 200] })
      .toFile(at(`clear-moving.${kind}`));
    const item = await server.bringIn(at(`clear-moving.${kind}`), `clear-moving.${kind}`, true);
    expect(item).toMatchObject({ status: 'ready', error: null, facts: { kind: 'video', alpha: true } });
    for (const from of ['proxy', 'original'] as const) {
      const { at: pixel } = await frameOf(server, item, { width: 200, height: 200 }, from, green);
      near(pixel(50, 100), RED);
      near(pixel(150, 100), GREEN);
    }
    const { piece } = await frameOf(server, item, { width: 200, height: 200 }, 'original', green);
    const [under, over] = (await server.open(piece)).piece.tracks.map(({ clips }) => clips[0]?.id ?? '');
    for (const [n, clip] of [under!, over!].entries())
      await server.edit(piece, 2 + n, ['trim', { clip, edge: 'tail', to: frameStart(12, RATE), rest: 'stay' }]);
    await exported(piece, [
      [1, RED, GREEN],
      [10, GREEN, RED],
    ]);
  });
});
