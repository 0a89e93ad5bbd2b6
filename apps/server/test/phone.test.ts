import { readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { frameStart, toSeconds } from '@flimzy/core/time';
import { bytesOf, frameOf, RATE, rgb } from './drawn';
import { ffmpeg, ROOT, TestServer } from './running';
import { withServer } from './withServer';

let server: TestServer;
const at = withServer((started) => (server = started));

const meanError = (a: Buffer, b: Buffer) => {
  expect(a.length).toBe(b.length);
  let sum = 0;
  for (let i = 0; i < a.length; i += 1) sum += Math.abs(a[i]! - b[i]!);
  return sum / a.length;
};

/** A QuickTime file, its index at the end, with a box of 24 bytes more at the end of the one that is in all those named (ISO/IEC 14496-12). */
function withBox(file: Buffer, way: readonly string[], name: string, head: readonly number[]): Buffer {
  const box = Buffer.alloc(32);
  box.writeUInt32BE(32, 0);
  box.write(name, 4, 'latin1');
  Buffer.from(head).copy(box, 8);
  const sizes: number[] = [];
  let [from, to] = [0, file.length];
  for (const wanted of way) {
    let at = from;
    while (file.toString('latin1', at + 4, at + 8) !== wanted) {
      at += file.readUInt32BE(at);
      if (at >= to) throw new Error(`no ${wanted}`);
    }
    sizes.push(at);
    [from, to] = [at + 8 + (wanted === 'stsd' ? 8 : 0), at + file.readUInt32BE(at)];
  }
  const made = Buffer.concat([file.subarray(0, to), box, file.subarray(to)]);
  for (const at of sizes) made.writeUInt32BE(file.readUInt32BE(at) + 32, at);
  return made;
}

it('standard definition keeps its brightness, in the preview and in the export', async () => {
  // What Y, Cb and Cr of BT.601 say, in RGB (ITU-R BT.601-7, 2.5.1).
  const [y, cb, cr] = [110, 112, 140];
  const due = [
    1.164 * (y - 16) + 1.596 * (cr - 128),
    1.164 * (y - 16) - 0.392 * (cb - 128) - 0.813 * (cr - 128),
    1.164 * (y - 16) + 2.017 * (cb - 128),
  ];
  const flat = `color=size=640x480:rate=30:duration=1,format=yuv420p,geq=lum=${y}:cb=${cb}:cr=${cr}`;
  ffmpeg('-f', 'lavfi', '-i', flat, '-colorspace', 'smpte170m', '-qp', '4', at('sd.mp4'));
  const item = await server.bringIn(at('sd.mp4'));
  const piece = await server.newPiece({ width: 640, height: 480, rate: RATE });
  await server.edit(piece.id, 0, ['add', { track: 'main', media: item.facts!, at: null, from: 0, length: frameStart(25, RATE) }]);
  const done = await server.deliver(piece.id);
  expect(done.error).toBeNull();
  for (const file of [server.fetch('mediaProxy', { id: item.id }), server.fetch('deliveryFile', { id: done.id })]) {
    writeFileSync(at('sd-seen.mp4'), await bytesOf(await file));
    const [...pixel] = rgb(at('sd-seen.mp4'), 640, 480, 5).subarray(0, 3);
    pixel.forEach((v, i) => expect(Math.abs(v - due[i]!)).toBeLessThanOrEqual(1.6));
  }
});

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
      const { piece: drawn } = await frameOf(server, item, { width: 640, height: 360 }, 'original');
      const png = at(`${kind}-drawn.png`);
      writeFileSync(png, await bytesOf(await server.fetch('pieceFrame', { id: drawn }, { at: 0, width: 640, from: 'original' })));
      expect(meanError(rgb(png, 640, 360), rgb(sdr, 640, 360, 0))).toBeLessThanOrEqual(2);
    },
  );

  it('whose colours are coded as nothing here can read them is taken in, and that is said', async () => {
    const file = at('own.mov');
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=320x240:rate=30:duration=0.5',
      '-c:v',
      'libx265',
      '-pix_fmt',
      'yuv420p10le',
      '-tag:v',
      'hvc1',
      file,
    );
    // Which profile it has stands in a box of its own: version 1.0, profile 5, level 1, an RPU and a base layer that is compatible with nothing.
    writeFileSync(
      file,
      withBox(readFileSync(file), ['moov', 'trak', 'mdia', 'minf', 'stbl', 'stsd', 'hvc1'], 'dvcC', [1, 0, 5 << 1, (1 << 3) | 0b101]),
    );
    const item = await server.bringIn(file, 'own.mov');
    expect(item).toMatchObject({ status: 'ready', error: null });
    expect(item.note).toMatch(/Dolby Vision profile 5, which cannot be read/);
    const plain = await server.bringIn(at('hlg.mov'), 'plain.mov');
    expect(plain.note).toBeNull();
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
