import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { MediaItem } from '@flimzy/contract';
import { wavHeader, type Hearing } from '@flimzy/core/sound';
import { fromSamples, toSeconds } from '@flimzy/core/time';
import { ffmpeg, ffprobe, TestServer } from './running';
import { withServer } from './withServer';

/** How alike two pictures are, as ffmpeg's filter says: 1 is equal. */
const ssim = (a: string, b: string) => {
  const { stderr } = spawnSync('ffmpeg', ['-i', a, '-i', b, '-lavfi', '[0][1]ssim', '-f', 'null', '-'], { encoding: 'utf8' });
  return Number(/All:([\d.]+)/.exec(stderr)?.[1]);
};

const PICTURE = ['-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=30:duration=1'];
const TONE = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=1:sample_rate=44100'];
let server: TestServer;
const at = withServer((started) => (server = started));

describe('the light of an item', () => {
  it('is that of each of its frames, part by part, white and black as far apart as they are; a photo has one, a sound none', async () => {
    // White for three frames, black for three; the lower half is always black.
    const strobe =
      'color=white:size=160x320:rate=30:duration=1,drawbox=y=ih/2:color=black:t=fill,drawbox=color=black:t=fill:enable=gte(mod(n\\,6)\\,3)';
    ffmpeg('-f', 'lavfi', '-i', strobe, '-pix_fmt', 'yuv420p', at('strobe.mp4'));
    const lightOf = async (file: string) => {
      const { id } = await server.bringIn(at(file), file, true);
      // Asked for twice at once, it is measured once.
      const [one, other] = await Promise.all([server.fetch('mediaLight', { id }), server.fetch('mediaLight', { id })]);
      if (one.status !== 200) return one.status;
      const light = Buffer.from(await one.arrayBuffer());
      expect(light.equals(Buffer.from(await other.arrayBuffer()))).toBe(true);
      return light;
    };
    const light = (await lightOf('strobe.mp4')) as Buffer;
    expect(light.length).toBe(30 * 64 * 3);
    for (let n = 0; n < 30; n += 1)
      for (let cell = 0; cell < 64; cell += 1) {
        const white = n % 6 < 3 && cell < 32;
        for (const part of light.subarray((n * 64 + cell) * 3, (n * 64 + cell + 1) * 3))
          if (white) expect(part).toBeGreaterThan(235);
          else expect(part).toBeLessThan(20);
      }
    ffmpeg('-f', 'lavfi', '-i', 'color=red:size=160x320:rate=30:duration=0.2', '-pix_fmt', 'yuv420p', at('red.mp4'));
    const [red, green, blue] = (await lightOf('red.mp4')) as Buffer;
    expect([red! > 225, green! < 30, blue! < 30]).toEqual([true, true, true]);
    ffmpeg('-f', 'lavfi', '-i', 'color=gray:size=64x48:rate=1:duration=1', '-frames:v', '1', at('grey.png'));
    const grey = (await lightOf('grey.png')) as Buffer;
    expect([grey.length, Math.max(...grey) - Math.min(...grey) < 4, grey[0]! > 110 && grey[0]! < 146]).toEqual([192, true, true]);
    ffmpeg(...TONE, at('only-tone.wav'));
    expect(await lightOf('only-tone.wav')).toBe(404);
  });
});

describe('what has sound', () => {
  it('is listened to when it can be used already: how loud it is, and where someone speaks', async () => {
    execFileSync('espeak-ng', ['-v', 'en-us', '-w', at('words.wav'), 'The tail keeps the kite steady in the wind, however hard it blows.']);
    ffmpeg('-i', at('words.wav'), '-af', 'adelay=2000:all=1,apad=pad_dur=2', at('talk.wav'));
    const { id, heard, status } = await server.bringIn(at('talk.wav'), 'talk.wav', true);
    expect([status, heard]).toEqual(['ready', true]);
    const { speech, loudness } = await server.call<Hearing>('mediaHearing', { id });
    expect(Math.abs(speech[0]![0] / 48_000 - 2)).toBeLessThan(0.15);
    expect(loudness.slice(0, 18).every((one) => one < -700)).toBe(true);
    expect(Math.max(...loudness)).toBeGreaterThan(-350);
    ffmpeg(...PICTURE, at('silent.mp4'));
    const silent = await server.bringIn(at('silent.mp4'), 'silent.mp4', true);
    expect(silent.heard).toBe(false);
    expect((await server.fetch('mediaHearing', { id: silent.id })).status).toBe(409);
  });
});

describe('every kind of file a phone has', () => {
  it.each<[string, string[], Partial<NonNullable<MediaItem['facts']>>]>([
    ['h264.mp4', [...PICTURE, ...TONE, '-pix_fmt', 'yuv420p', '-shortest'], { kind: 'video', width: 320, height: 240, hasSound: true }],
    ['prores.mov', [...PICTURE, '-c:v', 'prores_ks'], { kind: 'video', hasSound: false }],
    ['vp9.webm', [...PICTURE, ...TONE, '-c:v', 'libvpx-vp9', '-deadline', 'realtime', '-shortest'], { kind: 'video', hasSound: true }],
    ['hevc.mp4', [...PICTURE, '-c:v', 'libx265', '-x265-params', 'log-level=error', '-tag:v', 'hvc1'], { kind: 'video' }],
    [
      'odd.mp4',
      ['-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=25:duration=1,scale=321:241', '-pix_fmt', 'yuv444p'],
      { kind: 'video', width: 321, height: 241 },
    ],
    ['sound.mp3', TONE, { kind: 'sound', hasSound: true, width: 0 }],
    ['sound.wav', TONE, { kind: 'sound' }],
    ['sound.aac', TONE, { kind: 'sound' }],
    ['sound.opus', TONE, { kind: 'sound' }],
    ['sound.flac', TONE, { kind: 'sound' }],
    ['surround.m4a', [...TONE, '-af', 'pan=5.1|c0=c0|c1=c0|c2=c0|c3=c0|c4=c0|c5=c0'], { kind: 'sound' }],
    ['photo.jpg', [...PICTURE, '-frames:v', '1'], { kind: 'photo', length: 0, width: 320, rate: null }],
    ['photo.png', [...PICTURE, '-frames:v', '1'], { kind: 'photo' }],
    ['photo.webp', [...PICTURE, '-frames:v', '1'], { kind: 'photo' }],
  ])('%s comes in, byte for byte, and can be used', async (name, args, facts) => {
    ffmpeg(...args, at(name));
    const item = await server.bringIn(at(name));
    expect(item.error).toBeNull();
    expect(item.facts).toMatchObject(facts);
    if (item.facts?.kind !== 'photo') expect(toSeconds(item.facts!.length)).toBeCloseTo(1, 0);
    const original = Buffer.from(await (await server.fetch('mediaOriginal', { id: item.id })).arrayBuffer());
    expect(createHash('sha256').update(original).digest('hex')).toBe(
      createHash('sha256')
        .update(readFileSync(at(name)))
        .digest('hex'),
    );
    expect((await server.fetch('mediaProxy', { id: item.id })).status).toBe(200);
  });
});

describe('what is found out about a file', () => {
  it('is its size as seen, when it is turned by metadata', async () => {
    ffmpeg(...PICTURE, '-pix_fmt', 'yuv420p', at('flat.mp4'));
    ffmpeg('-i', at('flat.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', at('turned.mp4'));
    const { facts, id } = await server.bringIn(at('turned.mp4'));
    expect([facts?.width, facts?.height]).toEqual([240, 320]);
    writeFileSync(at('proxy.mp4'), Buffer.from(await (await server.fetch('mediaProxy', { id })).arrayBuffer()));
    expect(ffprobe('-show_entries', 'stream=width,height', '-of', 'csv=p=0', at('proxy.mp4'))).toBe('240,320');
  });

  it('is its size as seen, when its pixels are not square', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=360x288:rate=25:duration=1,setsar=16/11', '-pix_fmt', 'yuv420p', at('wide.mp4'));
    expect((await server.bringIn(at('wide.mp4'))).facts).toMatchObject({ width: 524, height: 288 });
  });

  it('is every frame’s own time, for a variable rate', async () => {
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=160x120:rate=30:duration=2',
      '-vf',
      "select='not(gt(n,20)*eq(mod(n,3),1))'",
      '-fps_mode',
      'vfr',
      '-pix_fmt',
      'yuv420p',
      at('vfr.mp4'),
    );
    const item = await server.bringIn(at('vfr.mp4'));
    expect(item.variableRate).toBe(true);
    const frames = await server.call<{ times: number[] }>('mediaFrames', { id: item.id });
    const packets = ffprobe('-select_streams', 'v', '-show_entries', 'packet=pts_time', '-of', 'csv=p=0', at('vfr.mp4'))
      .split('\n')
      .map((line) => Number(line.replace(',', '')))
      .sort((a, b) => a - b);
    expect(frames.times.length).toBe(packets.length);
    frames.times.forEach((time, i) => expect(Math.abs(toSeconds(time) - packets[i]!)).toBeLessThan(0.0006));
  });

  it('is a frame table, filmstrip and waveform that fit the length', async () => {
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=640x360:rate=30000/1001:duration=5',
      '-f',
      'lavfi',
      '-i',
      'sine=frequency=440:duration=5',
      '-pix_fmt',
      'yuv420p',
      at('ntsc.mp4'),
    );
    const item = await server.bringIn(at('ntsc.mp4'), 'ntsc.mp4', true);
    expect(await server.call('mediaFrames', { id: item.id })).toMatchObject({ first: 0, num: 30_000, den: 1_001, count: 150 });
    expect(item.filmstrip!.count * toSeconds(item.filmstrip!.step)).toBeGreaterThanOrEqual(toSeconds(item.facts!.length));
    // Its sharp pictures are the frames of the strip, one by one.
    const { count, step, sharp } = item.filmstrip!;
    expect(sharp).toBe(480);
    for (const n of [0, 7, count - 1]) {
      const tile = await server.fetch('mediaTile', { id: item.id }, { n });
      expect(tile.headers.get('content-type')).toBe('image/jpeg');
      writeFileSync(at('tile.jpg'), Buffer.from(await tile.arrayBuffer()));
      expect(ffprobe('-show_entries', 'stream=width,height', '-of', 'csv=p=0', at('tile.jpg')).trim()).toBe('480,270');
      const shown = n * toSeconds(step);
      // The last frame begun by then: ffmpeg gives the first that begins from where it is sent to.
      const likeness = (seconds: number) => {
        ffmpeg(
          '-ss',
          String(Math.max(0, seconds - 1 / 30)),
          '-i',
          at('ntsc.mp4'),
          '-frames:v',
          '1',
          '-vf',
          'scale=480:270',
          at('frame.png'),
        );
        return ssim(at('tile.jpg'), at('frame.png'));
      };
      expect(likeness(shown)).toBeGreaterThan(0.85);
      expect(likeness(shown)).toBeGreaterThan(likeness((shown + 2.5) % 5));
    }
    expect((await server.fetch('mediaTile', { id: item.id }, { n: count })).status).toBe(404);
    const peaks = new Int8Array(await (await server.fetch('mediaPeaks', { id: item.id }, { bin: 256 })).arrayBuffer());
    expect(Math.abs(peaks.length / 2 - (5 * 48_000) / 256)).toBeLessThan(10);
    expect(Math.max(...peaks)).toBeGreaterThan(10);
    const pcm = new Float32Array(await (await server.fetch('mediaSound', { id: item.id }, { from: 48_000, count: 100 })).arrayBuffer());
    expect(pcm.length).toBe(200);
    expect(pcm[0]).toBe(pcm[1]);
  });

  it('is shown, with one picture, while the proxy is made', async () => {
    ffmpeg(...PICTURE, ...TONE, '-pix_fmt', 'yuv420p', at('soon.mp4'));
    const told = await server.listen();
    const bytes = readFileSync(at('soon.mp4'));
    const upload = await server.beginUpload('soon.mp4', bytes.length);
    const id = upload.split('/').at(-1)!;
    await server.sendPart(upload, 0, bytes);
    const event = await told((one) => one.type === 'media' && one.item.id === id && one.item.work?.step === 'proxy');
    expect(event).toMatchObject({ item: { status: 'preparing', facts: { width: 320, hasSound: true }, filmstrip: { count: 1 } } });
    expect((await server.settled(id, true)).filmstrip!.count).toBe(4);
  });

  it('is under the id that the app chose, and never taken for another that comes under the same', async () => {
    const samples = Float32Array.from({ length: 40_123 }, (_, i) => 0.4 * Math.sin(i / 9));
    const bytes = Buffer.concat([wavHeader(samples.length), Buffer.from(samples.buffer)]);
    const id = crypto.randomUUID();
    const upload = await server.beginUpload('Narration 1.wav', bytes.length, id);
    expect(upload.endsWith(id)).toBe(true);
    await server.sendPart(upload, 0, bytes);
    const item = await server.settled(id, true);
    expect(item).toMatchObject({ id, name: 'Narration 1', facts: { kind: 'sound', length: fromSamples(samples.length), hasSound: true } });
    const pcm = new Float32Array(await (await server.fetch('mediaSound', { id }, { from: 9_000, count: 100 })).arrayBuffer());
    pcm.forEach((one, i) => expect(Math.abs(one - samples[9_000 + (i >> 1)]!)).toBeLessThan(1e-4));
    await expect(server.beginUpload('other.wav', 5_000, id)).rejects.toThrow('on the shelf already');
    const kept = Buffer.from(await (await server.fetch('mediaOriginal', { id })).arrayBuffer());
    expect(kept.equals(bytes)).toBe(true);
    expect((await server.beginUpload('odd.wav', 5_000, '../../etc/x')).split('/').at(-1)).toMatch(/^[0-9a-f-]{36}$/);
  });

  it('keeps sound in step that begins later than the picture', async () => {
    ffmpeg(...PICTURE, '-itsoffset', '0.5', ...TONE, '-pix_fmt', 'yuv420p', at('late.mkv'));
    const item = await server.bringIn(at('late.mkv'));
    const pcm = new Float32Array(await (await server.fetch('mediaSound', { id: item.id }, { from: 0, count: 48_000 })).arrayBuffer());
    const first = pcm.findIndex((v) => Math.abs(v) > 500 / 32_768) / 2 / 48_000;
    expect(first).toBeGreaterThan(0.48);
    expect(first).toBeLessThan(0.53);
  });
});

describe('a file that is no good', () => {
  it.each<[string, () => void, RegExp]>([
    ['words.mp4', () => writeFileSync(at('words.mp4'), 'this is not a film'), /not a video, photo or sound file/],
    ['cut.mp4', () => writeFileSync(at('cut.mp4'), readFileSync(at('h264.mp4')).subarray(0, 9000)), /cut off or damaged|not a video/],
  ])('%s is refused with a sentence and leaves nothing half-made', async (name, make, sentence) => {
    make();
    const item = await server.bringIn(at(name));
    expect(item.status).toBe('failed');
    expect(item.error).toMatch(sentence);
    expect(item.error).toContain(name);
    expect(readdirSync(path.join(server.data, 'media', item.id))).toEqual(['original']);
    expect((await server.fetch('mediaProxy', { id: item.id })).status).toBe(404);
    // The file itself can be taken back, and tried again, for a while.
    const back = Buffer.from(await (await server.fetch('mediaOriginal', { id: item.id })).arrayBuffer());
    expect(back.equals(readFileSync(at(name)))).toBe(true);
    await server.call('prepareAgain', { id: item.id });
    expect((await server.settled(item.id)).error).toBe(item.error);
  });

  it('is refused before it is sent when it is empty', async () => {
    await expect(server.beginUpload('nothing.mp4', 0)).rejects.toThrow(/empty/);
  });

  it('cannot name a place on the disk', async () => {
    const item = await server.bringIn(at('sound.wav'), '../../../tmp/evil.wav');
    expect(item.name).toBe('evil');
    expect(readdirSync(path.join(server.data, 'media'))).toContain(item.id);
    expect((await fetch(`${server.address}/api/media/..%2f..%2fetc%2fpasswd/original`)).status).toBe(400);
  });
});

describe('the shelf', () => {
  it('gives back what was taken off it; the files never went', async () => {
    const item = await server.bringIn(at('sound.wav'));
    await server.call('deleteMedia', { id: item.id });
    expect((await server.call<MediaItem[]>('listMedia')).some((i) => i.id === item.id)).toBe(false);
    expect((await server.fetch('mediaProxy', { id: item.id })).status).toBe(200);
    await server.call('restoreMedia', { id: item.id });
    expect((await server.call<MediaItem[]>('listMedia')).some((i) => i.id === item.id)).toBe(true);
  });
});
