import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';

/** A file made by code: its name, and what makes it. */
export interface Made {
  name: string;
  make: (file: string, folder: string) => void | Promise<void>;
}

const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
const picture = (size = '320x240', rate = '30', seconds = 1) => [
  '-f',
  'lavfi',
  '-i',
  `testsrc2=size=${size}:rate=${rate}:duration=${seconds}`,
];
const tone = (rate = 48_000, seconds = 1) => ['-f', 'lavfi', '-i', `sine=frequency=440:duration=${seconds}:sample_rate=${rate}`];
const video = (name: string, args: string[], source = picture()): Made => ({ name, make: (file) => void ffmpeg(...source, ...args, file) });
const sound = (name: string, args: string[] = [], source = tone()): Made => ({
  name,
  make: (file) => void ffmpeg(...source, ...args, file),
});
const photo = (name: string, make: (image: Sharp) => Sharp): Made => ({
  name,
  make: async (file) => void (await make(sharp({ create: { width: 301, height: 199, channels: 3, background: '#c06030' } })).toFile(file)),
});
const turned = (degrees: number): Made => ({
  name: `turned-${degrees}.mp4`,
  make: (file) => {
    ffmpeg(...picture(), '-pix_fmt', 'yuv420p', `${file}.flat.mp4`);
    ffmpeg('-i', `${file}.flat.mp4`, '-c', 'copy', '-metadata:s:v:0', `rotate=${degrees}`, file);
  },
});
const x264 = ['-pix_fmt', 'yuv420p', '-preset', 'ultrafast'];

/** Files that a phone, a camera or a friend may well send: every one must come in and be whole. */
export const ODD: readonly Made[] = [
  video('plain.mp4', x264),
  video('422.mp4', ['-pix_fmt', 'yuv422p', '-preset', 'ultrafast']),
  video('444-ten-bit.mp4', ['-pix_fmt', 'yuv444p10le', '-preset', 'ultrafast']),
  video('hevc-ten-bit.mov', ['-c:v', 'libx265', '-pix_fmt', 'yuv420p10le', '-x265-params', 'log-level=error', '-tag:v', 'hvc1']),
  video('hevc-422.mov', ['-c:v', 'libx265', '-pix_fmt', 'yuv422p10le', '-x265-params', 'log-level=error', '-tag:v', 'hvc1']),
  video('vp8.webm', ['-c:v', 'libvpx', '-deadline', 'realtime']),
  video('vp9.webm', ['-c:v', 'libvpx-vp9', '-deadline', 'realtime']),
  video('mpeg4.avi', ['-c:v', 'mpeg4']),
  video('mpeg2.ts', ['-c:v', 'mpeg2video']),
  video('mpeg2.mpg', ['-c:v', 'mpeg2video']),
  video('mjpeg.mov', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p']),
  video('prores.mov', ['-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le']),
  video('flash.flv', ['-c:v', 'flv1']),
  video('windows.asf', ['-c:v', 'wmv2']),
  turned(90),
  turned(180),
  turned(270),
  video('wide-pixels.mp4', ['-vf', 'setsar=16/11', ...x264]),
  video('woven.mp4', ['-vf', 'interlace', '-flags', '+ildct+ilme', ...x264]),
  video('uneven.mp4', ['-vf', "select='not(eq(mod(n,4),1))'", '-fps_mode', 'vfr', ...x264]),
  video('ntsc.mp4', x264, picture('320x240', '30000/1001')),
  video('fast.mp4', x264, picture('320x240', '120')),
  video('slow.mp4', x264, picture('320x240', '1', 3)),
  video('tiny.mp4', x264, picture('16x16')),
  video('odd-size.mkv', ['-c:v', 'ffv1'], picture('33x17')),
  video('strip.mp4', x264, picture('2048x64')),
  video('full-range.mp4', ['-pix_fmt', 'yuvj420p', '-preset', 'ultrafast']),
  video('late-sound.mkv', ['-itsoffset', '0.4', ...tone(), ...x264]),
  video('two-sounds.mkv', [...tone(), '-map', '0:v', '-map', '1:a', '-map', '1:a', ...x264]),
  sound('old-phone.wav', ['-ac', '1', '-c:a', 'pcm_u8'], tone(8000)),
  sound('studio.flac', ['-sample_fmt', 's32'], tone(96_000)),
  sound('surround.m4a', ['-af', 'pan=5.1|c0=c0|c1=c0|c2=c0|c3=c0|c4=c0|c5=c0']),
  sound('lossless.m4a', ['-c:a', 'alac']),
  sound('vorbis.ogg', ['-c:a', 'libvorbis']),
  sound('big-endian.aiff'),
  photo('sixteen-bit.png', (image) => image.toColourspace('rgb16').png()),
  photo('grey.jpg', (image) => image.greyscale().jpeg()),
  photo('print-colours.jpg', (image) => image.toColourspace('cmyk').jpeg()),
  photo('lossless.webp', (image) => image.webp({ lossless: true })),
  photo('scan.tiff', (image) => image.tiff()),
  photo('small.avif', (image) => image.avif()),
  video('paint.bmp', ['-frames:v', '1']),
];

const text = (name: string, content: string): Made => ({ name, make: (file) => writeFileSync(file, content) });
const bytes = (name: string, content: Buffer): Made => ({ name, make: (file) => writeFileSync(file, content) });
/** A good file, spoiled. */
const spoiled = (name: string, from: string, spoil: (good: Buffer) => Buffer): Made => ({
  name,
  make: async (file, folder) => {
    const good = path.join(folder, `good-${from}`);
    await ODD.find((one) => one.name === from)?.make(good, folder);
    writeFileSync(file, spoil(readFileSync(good)));
  },
});
const noise = (length: number) => Buffer.from(Array.from({ length }, (_, i) => (i * i * 31 + i * 7 + (i >> 3)) & 255));
const cut = (share: number) => (good: Buffer) => good.subarray(0, Math.floor(good.length * share));
const scrambled = (good: Buffer) => Buffer.concat([good.subarray(0, 200), noise(good.length - 400), good.subarray(-200)]);
/** A PNG's head that claims a size. */
function pngOf(width: number, height: number): Buffer {
  const head = Buffer.from('89504e470d0a1a0a0000000d49484452000000000000000008060000000000000000000049454e44ae426082', 'hex');
  head.writeUInt32BE(width, 16);
  head.writeUInt32BE(height, 20);
  return head;
}
/** A WAV's head that claims more than there is. */
function wavOf(claimed: number): Buffer {
  const wav = Buffer.alloc(44 + 4000);
  wav.write('RIFF', 0);
  wav.writeUInt32LE(claimed, 4);
  wav.write('WAVEfmt ', 8);
  wav.writeUInt32LE(16, 16);
  wav.writeUInt16LE(1, 20);
  wav.writeUInt16LE(2, 22);
  wav.writeUInt32LE(48_000, 24);
  wav.writeUInt32LE(192_000, 28);
  wav.writeUInt16LE(4, 32);
  wav.writeUInt16LE(16, 34);
  wav.write('data', 36);
  wav.writeUInt32LE(claimed, 40);
  return wav;
}

/** Files that are no media, broken, or made to do harm: none may hurt the server, another file, or be lost without a word. */
export const BROKEN: readonly Made[] = [
  text('words.mp4', 'this is not a film'),
  bytes('one-byte.mov', Buffer.from([0])),
  bytes('zeros.mp4', Buffer.alloc(100_000)),
  bytes('noise.mp4', noise(100_000)),
  bytes('noise.jpg', noise(50_000)),
  bytes('just-a-start.jpg', Buffer.from([0xff, 0xd8, 0xff])),
  bytes('just-a-start.png', Buffer.from('89504e470d0a1a0a', 'hex')),
  bytes('just-a-start.gif', Buffer.from('GIF89a')),
  bytes('just-a-start.webp', Buffer.from('RIFF\x10\0\0\0WEBP')),
  bytes('just-a-start.heic', Buffer.from('\0\0\0\x18ftypheic\0\0\0\0mif1heic', 'latin1')),
  bytes('just-a-start.mp4', Buffer.from('\0\0\0\x18ftypisom\0\0\0\0isommp42', 'latin1')),
  bytes('huge-claim.png', pngOf(60_000, 60_000)),
  bytes('endless-claim.png', pngOf(0x7fffffff, 0x7fffffff)),
  bytes('no-size.png', pngOf(0, 0)),
  bytes('claims-4-gb.wav', wavOf(0xffffffff)),
  bytes('claims-nothing.wav', wavOf(0)),
  text('playlist.mp4', '#EXTM3U\n#EXT-X-TARGETDURATION:5\n#EXTINF:5,\n/etc/passwd\n#EXT-X-ENDLIST\n'),
  text('playlist.m3u8', '#EXTM3U\n#EXTINF:5,\nhttp://127.0.0.1:1/x.ts\n#EXT-X-ENDLIST\n'),
  text('list.mov', "ffconcat version 1.0\nfile '/etc/passwd'\n"),
  text('manifest.mpd', '<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011"><Period/></MPD>'),
  text('session.sdp', 'v=0\no=- 0 0 IN IP4 127.0.0.1\ns=x\nc=IN IP4 127.0.0.1\nm=video 1234 RTP/AVP 96\n'),
  text('drawing.png', '<svg xmlns="http://www.w3.org/2000/svg"><image href="file:///etc/passwd"/></svg>'),
  text('page.jpg', '<!doctype html><script>alert(1)</script>'),
  text('paper.pdf', '%PDF-1.4\n1 0 obj<<>>endobj\ntrailer<<>>'),
  bytes('archive.mp4', Buffer.concat([Buffer.from('PK\x03\x04'), noise(5000)])),
  bytes('program.mp4', Buffer.concat([Buffer.from('\x7fELF', 'latin1'), noise(5000)])),
  spoiled('cut-index.mp4', 'plain.mp4', cut(0.9)),
  spoiled('cut-early.mp4', 'plain.mp4', cut(0.2)),
  spoiled('cut.webm', 'vp9.webm', cut(0.5)),
  spoiled('cut.ts', 'mpeg2.ts', cut(0.5)),
  spoiled('cut.png', 'sixteen-bit.png', cut(0.5)),
  spoiled('cut.jpg', 'grey.jpg', cut(0.5)),
  spoiled('cut.webp', 'lossless.webp', cut(0.6)),
  spoiled('cut.flac', 'studio.flac', cut(0.4)),
  spoiled('scrambled.mp4', 'plain.mp4', scrambled),
  spoiled('scrambled.mkv', 'late-sound.mkv', scrambled),
  spoiled('scrambled.jpg', 'grey.jpg', scrambled),
  spoiled('scrambled.m4a', 'lossless.m4a', scrambled),
  spoiled('../../../tmp/escape.mp4', 'plain.mp4', (good) => good),
  spoiled(`${'n'.repeat(240)}.mp4`, 'plain.mp4', (good) => good),
  spoiled("“quoted” 'and' \n broken \u202E name.mp4", 'plain.mp4', (good) => good),
];

/** Makes one in a folder, under a name of the folder's own; gives the file. */
export async function makeFile(one: Made, folder: string, n: number): Promise<string> {
  const file = path.join(folder, `${n}${path.extname(one.name).replace(/[^.\w]/g, '')}`);
  await one.make(file, folder);
  return file;
}
