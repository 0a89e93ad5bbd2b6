import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { execFileSync } from 'node:child_process';
import { createCanvas } from '@napi-rs/canvas';
import { drawCode } from './code';
import type { Scene } from './scenes/outdoors';
import { loudness } from './sound/voice';
import type { Mono } from './sound/synth';

export interface Shot {
  file: string;
  scene: Scene;
  width: number;
  height: number;
  rate: string;
  seconds: number;
  sound?: { left: Mono; right?: Mono };
  /** What the mouth follows. */
  voice?: Mono;
  /** Time of the scene at the first frame, in seconds. */
  offset?: number;
  /** Degrees clockwise to be turned by metadata: the picture is stored turned the other way. */
  turned?: 0 | 90;
  /** Which frames of an even rate are left out, as ffmpeg's `select` says it too: a variable rate. */
  skip?: { test: (n: number) => boolean; select: string };
  /** Draws the frame's number into the picture, for tests. */
  coded?: boolean;
  crf?: number;
}

/** Writes stereo samples as a 16-bit WAV file. */
export function writeWav(file: string, left: Mono, right: Mono = left): void {
  const data = Buffer.alloc(44 + left.length * 4);
  data.write('RIFF', 0);
  data.writeUInt32LE(36 + left.length * 4, 4);
  data.write('WAVEfmt ', 8);
  data.writeUInt32LE(16, 16);
  data.writeUInt16LE(1, 20);
  data.writeUInt16LE(2, 22);
  data.writeUInt32LE(48_000, 24);
  data.writeUInt32LE(192_000, 28);
  data.writeUInt16LE(4, 32);
  data.writeUInt16LE(16, 34);
  data.write('data', 36);
  data.writeUInt32LE(left.length * 4, 40);
  const clip = (v: number) => Math.max(-32768, Math.min(32767, Math.round(v * 32767)));
  for (let i = 0; i < left.length; i += 1) {
    data.writeInt16LE(clip(left[i] as number), 44 + i * 4);
    data.writeInt16LE(clip(right[i] as number), 46 + i * 4);
  }
  writeFileSync(file, data);
}

/** Encodes stereo samples to a sound file of the kind its name says. */
export function writeSound(file: string, left: Mono, right: Mono = left): void {
  const dir = mkdtempSync(path.join(tmpdir(), 'sound-'));
  try {
    writeWav(path.join(dir, 's.wav'), left, right);
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', path.join(dir, 's.wav'), '-b:a', '160k', file]);
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
}

/** Draws a shot frame by frame and encodes it as a phone would: H.264 and AAC in MP4. */
export async function film(shot: Shot): Promise<void> {
  const { width, height, seconds, scene, offset = 0, turned = 0, voice, skip } = shot;
  const [num = 30, den = 1] = shot.rate.split('/').map(Number);
  const count = Math.round((seconds * num) / den);
  const canvas = createCanvas(turned ? height : width, turned ? width : height);
  const c = canvas.getContext('2d');
  const dir = mkdtempSync(path.join(tmpdir(), 'film-'));
  try {
    const args = [
      '-v',
      'error',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgba',
      '-s',
      `${canvas.width}x${canvas.height}`,
      '-r',
      shot.rate,
      '-i',
      'pipe:0',
    ];
    if (shot.sound) {
      writeWav(path.join(dir, 's.wav'), shot.sound.left, shot.sound.right);
      args.push('-i', path.join(dir, 's.wav'), '-c:a', 'aac', '-b:a', '96k', '-t', String(seconds));
    }
    const filters = ['scale=out_color_matrix=bt709:out_range=tv', 'format=yuv420p'];
    if (skip) filters.unshift(`select='not(${skip.select})'`);
    const plain = path.join(dir, 'plain.mp4');
    args.push(
      '-vf',
      filters.join(','),
      ...(skip ? ['-fps_mode', 'vfr'] : []),
      '-c:v',
      'libx264',
      '-preset',
      shot.coded ? 'veryfast' : 'slow',
      '-crf',
      String(shot.crf ?? 24),
      '-g',
      '60',
    );
    args.push(
      '-colorspace',
      'bt709',
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
      '-color_range',
      'tv',
      '-movflags',
      '+faststart',
      plain,
    );
    const encoder = spawn('ffmpeg', args, { stdio: ['pipe', 'inherit', 'inherit'] });
    const done = once(encoder, 'close');
    let shown = -1;
    for (let n = 0; n < count; n += 1) {
      const t = (n * den) / num;
      c.setTransform(1, 0, 0, 1, 0, 0);
      if (turned) c.setTransform(0, 1, -1, 0, height, 0);
      scene(c, width, height, t + offset, voice ? loudness(voice, t) : 0);
      if (!skip?.test(n)) shown += 1;
      if (shot.coded) drawCode(c, width, height, Math.max(0, shown));
      if (!encoder.stdin.write(Buffer.from(canvas.data()))) await once(encoder.stdin, 'drain');
    }
    encoder.stdin.end();
    const [code] = (await done) as [number];
    if (code !== 0) throw new Error(`ffmpeg could not encode ${shot.file}`);
    const turn = turned ? ['-metadata:s:v:0', 'rotate=90'] : [];
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', plain, '-c', 'copy', ...turn, '-movflags', '+faststart', shot.file]);
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
}
