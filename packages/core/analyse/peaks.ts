import { joined, PEAK_REACH, truePeak, type Stereo } from '../sound';

/**
 * Waveform peaks: how far sound goes to either side of silence in each bin, as signed bytes (−128…127 for −1…1), at several resolutions
 * so that drawing never reads more than it shows.
 */

/** Samples (at 48 kHz) in one bin, finest first: about 188, 23 and 3 bins a second. */
export const PEAK_BINS = [256, 2_048, 16_384] as const;

/** One resolution: `data` holds low, high, low, high … */
export interface Peaks {
  bin: number;
  data: Int8Array;
}

const toByte = (sample: number) => Math.max(-128, Math.min(127, Math.round(sample * 127)));

/** What stands between samples is looked at where it can get higher than this (−12 dB): what is lower hardly any level brings to full scale. */
const MATTERS = 0.25;

/** Collects peaks of both sides together from sound that arrives in pieces of any size: 48 kHz, between samples too. */
export class PeakCollector {
  private readonly bytes: number[] = [];
  /** What came last: it is looked at once what follows it is there. */
  private tails: Stereo = { left: new Float32Array(PEAK_REACH), right: new Float32Array(PEAK_REACH) };
  private low = Infinity;
  private high = -Infinity;
  private filled = 0;

  constructor(private readonly bin: number) {}

  push({ left, right }: Stereo): void {
    const all = { left: joined(this.tails.left, left), right: left === right ? null : joined(this.tails.right, right) };
    const end = all.left.length - PEAK_REACH;
    for (let at = PEAK_REACH; at < end;) {
      const next = Math.min(end, at + this.bin - this.filled);
      this.look(all.left, at, next);
      if (all.right) this.look(all.right, at, next);
      this.filled += next - at;
      if (this.filled === this.bin) this.close();
      at = next;
    }
    const rest = Math.max(0, end - PEAK_REACH);
    this.tails = { left: all.left.slice(rest), right: (all.right ?? all.left).slice(rest) };
  }

  private look(samples: Float32Array, from: number, to: number): void {
    let [low, high] = [Infinity, -Infinity];
    for (let i = from; i < to; i += 1) {
      const s = samples[i] as number;
      if (s < low) low = s;
      if (s > high) high = s;
    }
    const own = Math.max(high, -low);
    // A stretch that is quiet itself stays so, however what is beside it rings on.
    const peak = own * 2 > MATTERS ? truePeak(samples, from, to, MATTERS) : 0;
    if (peak > own && high >= -low) high = peak;
    else if (peak > own) low = -peak;
    this.low = Math.min(this.low, low);
    this.high = Math.max(this.high, high);
  }

  private close(): void {
    this.bytes.push(toByte(this.low), toByte(this.high));
    this.low = Infinity;
    this.high = -Infinity;
    this.filled = 0;
  }

  /** Ends the last, partly filled bin and gives everything collected. */
  finish(): Peaks {
    const silence = new Float32Array(PEAK_REACH);
    this.push({ left: silence, right: silence.slice() });
    if (this.filled > 0) this.close();
    return { bin: this.bin, data: Int8Array.from(this.bytes) };
  }
}

/** Peaks of the finest bins at every resolution, finest first. */
export function atEveryBin(finest: Peaks): Peaks[] {
  const all = [finest];
  for (const bin of PEAK_BINS.slice(1)) {
    const last = all[all.length - 1] as Peaks;
    all.push(coarser(last, bin / last.bin));
  }
  return all;
}

/** The same peaks in bins `factor` times as long. */
export function coarser(peaks: Peaks, factor: number): Peaks {
  const count = Math.ceil(peaks.data.length / 2 / factor);
  const data = new Int8Array(count * 2);
  for (let i = 0; i < count; i += 1) {
    let low = 127;
    let high = -128;
    for (let j = i * factor; j < Math.min((i + 1) * factor, peaks.data.length / 2); j += 1) {
      low = Math.min(low, peaks.data[j * 2] as number);
      high = Math.max(high, peaks.data[j * 2 + 1] as number);
    }
    data[i * 2] = low;
    data[i * 2 + 1] = high;
  }
  return { bin: peaks.bin * factor, data };
}
