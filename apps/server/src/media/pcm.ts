import { ftruncateSync, fstatSync, readSync, writeSync } from 'node:fs';
import type { Stereo } from '@flimzy/core/sound';

/**
 * Decoded sound as it is kept: 48 kHz, stereo, in blocks of half a second. A block is the factor of its samples (32-bit float: the
 * block's highest sample over 32 767) and then 16-bit samples, left and right in turn, little-endian. So it takes 11.5 MB a minute,
 * half of what floats take, loses nothing over full scale, and lies 96 dB under the loudest sample of its half second. Silent blocks
 * are holes in the file and take nothing. Export and preview both read these, so they hear the same samples.
 */
const BLOCK = 24_000;
const FRAME_BYTES = 4;
const BLOCK_BYTES = 4 + BLOCK * FRAME_BYTES;

/** Writes decoded sound as it comes. */
export class PcmWriter {
  private readonly held = new Float32Array(BLOCK * 2);
  private filled = 0;
  private blocks = 0;
  private rest: Buffer = Buffer.alloc(0);
  /** Sample frames so far. */
  frames = 0;

  /** @param handle an open, empty file, for writing */
  constructor(private readonly handle: number) {}

  /** Takes 32-bit floats, left and right in turn, however they are cut; gives the whole sample frames among them. */
  push(bytes: Buffer): Float32Array {
    const all = this.rest.length > 0 ? Buffer.concat([this.rest, bytes]) : bytes;
    const count = Math.floor(all.length / 8) * 2;
    this.rest = Buffer.from(all.subarray(count * 4));
    // A copy of its own, at an address that floats can be read from.
    const samples = new Float32Array(all.buffer.slice(all.byteOffset, all.byteOffset + count * 4));
    for (let done = 0; done < count;) {
      const take = Math.min(count - done, this.held.length - this.filled);
      this.held.set(samples.subarray(done, done + take), this.filled);
      this.filled += take;
      done += take;
      if (this.filled === this.held.length) this.flush();
    }
    this.frames += count / 2;
    return samples;
  }

  private flush(): void {
    const samples = this.held.subarray(0, this.filled);
    let peak = 0;
    for (const sample of samples) peak = Math.max(peak, Number.isFinite(sample) ? Math.abs(sample) : 0);
    const place = this.blocks * BLOCK_BYTES;
    const bytes = Buffer.alloc(4 + this.filled * 2);
    if (peak > 0) {
      const factor = Math.fround(peak / 32_767);
      bytes.writeFloatLE(factor, 0);
      for (let i = 0; i < samples.length; i += 1)
        bytes.writeInt16LE(Math.max(-32_767, Math.min(32_767, Math.round((samples[i] || 0) / factor))), 4 + i * 2);
      writeSync(this.handle, bytes, 0, bytes.length, place);
    } else ftruncateSync(this.handle, place + bytes.length);
    this.blocks += 1;
    this.filled = 0;
  }

  /** Writes what is left. */
  finish(): void {
    if (this.filled > 0) this.flush();
  }
}

/** How many sample frames a file holds. */
export function pcmFrames(handle: number): number {
  const { size } = fstatSync(handle);
  const whole = Math.floor(size / BLOCK_BYTES);
  return whole * BLOCK + Math.max(0, Math.floor((size - whole * BLOCK_BYTES - 4) / FRAME_BYTES));
}

/** Sample frames [from, from + count) as floats, left and right in turn; fewer at the end. */
export function readPcm(handle: number, from: number, count: number): Float32Array<ArrayBuffer> {
  const end = Math.min(from + count, pcmFrames(handle));
  const out = new Float32Array(Math.max(0, end - from) * 2);
  for (let at = from; at < end;) {
    const block = Math.floor(at / BLOCK);
    const last = Math.min(end, (block + 1) * BLOCK);
    const place = block * BLOCK_BYTES;
    const head = Buffer.alloc(4);
    readSync(handle, head, 0, 4, place);
    const bytes = Buffer.alloc((last - at) * FRAME_BYTES);
    readSync(handle, bytes, 0, bytes.length, place + 4 + (at - block * BLOCK) * FRAME_BYTES);
    const factor = head.readFloatLE(0);
    for (let i = 0; i < (last - at) * 2; i += 1) out[(at - from) * 2 + i] = bytes.readInt16LE(i * 2) * factor;
    at = last;
  }
  return out;
}

/** The same as two sides. */
export function readStereo(handle: number, from: number, count: number): Stereo {
  const samples = readPcm(handle, from, count);
  const [left, right] = [new Float32Array(samples.length / 2), new Float32Array(samples.length / 2)];
  for (let i = 0; i < left.length; i += 1) {
    left[i] = samples[i * 2] as number;
    right[i] = samples[i * 2 + 1] as number;
  }
  return { left, right };
}
