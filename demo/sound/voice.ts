import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Mono } from './synth';

/** Speaks a text with espeak-ng, as mono samples at 48 kHz. */
export function speak(text: string, voice = 'en-gb', pitch = 45, speed = 150): Mono {
  const dir = mkdtempSync(path.join(tmpdir(), 'voice-'));
  try {
    const wav = path.join(dir, 'v.wav');
    execFileSync('espeak-ng', ['-v', voice, '-p', String(pitch), '-s', String(speed), '-g', '4', '-w', wav, text]);
    const raw = execFileSync(
      'ffmpeg',
      [
        '-v',
        'error',
        '-i',
        wav,
        '-af',
        'highpass=f=90,lowpass=f=7500,acompressor=threshold=0.1:ratio=3',
        '-ac',
        '1',
        '-ar',
        '48000',
        '-f',
        'f32le',
        'pipe:1',
      ],
      { maxBuffer: 1 << 28 },
    );
    return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
}

/** How loud samples are around a time in seconds, 0…1: what opens the mouth. */
export function loudness(sound: Mono, seconds: number): number {
  const at = Math.round(seconds * 48_000);
  let sum = 0;
  for (let i = at - 900; i < at + 900; i += 1) sum += (sound[i] ?? 0) ** 2;
  return Math.min(1, Math.sqrt(sum / 1800) * 6);
}
