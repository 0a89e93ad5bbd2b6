/**
 * Waveform peaks: the lowest and highest sample of each bin, as signed bytes (−128…127 for −1…1), at several resolutions so
 * that drawing never reads more than it shows.
 */

/** Samples (at 48 kHz) in one bin, finest first: about 188, 23 and 3 bins a second. */
export const PEAK_BINS = [256, 2_048, 16_384] as const;

/** One resolution: `data` holds low, high, low, high … */
export interface Peaks {
  bin: number;
  data: Int8Array;
}

const toByte = (sample: number) => Math.max(-128, Math.min(127, Math.round(sample * 127)));

/** Collects peaks from mono samples that arrive in pieces of any size. */
export class PeakCollector {
  private readonly bytes: number[] = [];
  private low = Infinity;
  private high = -Infinity;
  private filled = 0;

  constructor(private readonly bin: number) {}

  push(samples: Float32Array): void {
    for (let i = 0; i < samples.length; i += 1) {
      const s = samples[i] as number;
      if (s < this.low) this.low = s;
      if (s > this.high) this.high = s;
      this.filled += 1;
      if (this.filled === this.bin) this.close();
    }
  }

  private close(): void {
    this.bytes.push(toByte(this.low), toByte(this.high));
    this.low = Infinity;
    this.high = -Infinity;
    this.filled = 0;
  }

  /** Ends the last, partly filled bin and gives everything collected. */
  finish(): Peaks {
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
