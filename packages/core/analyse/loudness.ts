import { joined, LOUDNESS_STEP, lufs, PEAK_REACH, powerOf, truePeak, type Stereo } from '../sound';

/** K-weighting at 48 kHz (ITU-R BS.1770-4, tables 1 and 2): a shelf for the head, then a high pass. */
const SHELF = { b: [1.53512485958697, -2.69169618940638, 1.19839281085285], a: [-1.69065929318241, 0.73248077421585] } as const;
const HIGH_PASS = { b: [1, -2, 1], a: [-1.99004745483398, 0.99007225036621] } as const;

/** Steps that momentary (400 ms) and short-term loudness (3 s) look back over. */
const MOMENTARY = 4;
const SHORT = 30;

/** One side of the sound on its way through both filters, which keep their state. */
class Weighting {
  private s1 = 0;
  private s2 = 0;
  private p1 = 0;
  private p2 = 0;

  /** The weighted sum of squares of samples [from, to). */
  squares(samples: Float32Array, from: number, to: number): number {
    const [sb0, sb1, sb2] = SHELF.b;
    const [sa1, sa2] = SHELF.a;
    const [pb0, pb1, pb2] = HIGH_PASS.b;
    const [pa1, pa2] = HIGH_PASS.a;
    let { s1, s2, p1, p2 } = this;
    let sum = 0;
    for (let i = from; i < to; i += 1) {
      const x = samples[i] as number;
      const y = sb0 * x + s1;
      s1 = sb1 * x - sa1 * y + s2;
      s2 = sb2 * x - sa2 * y;
      const z = pb0 * y + p1;
      p1 = pb1 * y - pa1 * z + p2;
      p2 = pb2 * y - pa2 * z;
      sum += z * z;
    }
    Object.assign(this, { s1, s2, p1, p2 });
    return sum;
  }
}

/** The energy of sound as it comes: K-weighted mean square of every 100 ms, both sides summed. */
export class Energies {
  private readonly sides = [new Weighting(), new Weighting()] as const;
  readonly steps: number[] = [];
  private sum = 0;
  private counted = 0;

  /** Takes in what comes next. 48 kHz. */
  push({ left, right }: Stereo): void {
    for (let at = 0; at < left.length;) {
      const to = Math.min(left.length, at + LOUDNESS_STEP - this.counted);
      this.sum += this.sides[0].squares(left, at, to) + this.sides[1].squares(right, at, to);
      this.counted += to - at;
      at = to;
      if (this.counted < LOUDNESS_STEP) continue;
      this.steps.push(this.sum / LOUDNESS_STEP);
      [this.sum, this.counted] = [0, 0];
    }
  }
}

/** Loudness of a whole, of the energies of its 100 ms: without what is silent, and what is 10 LU quieter than the rest. LUFS; −∞ when it is all silent, or shorter than 400 ms. */
export function integratedOf(steps: readonly number[]): number {
  const blocks = steps.slice(MOMENTARY - 1).map((_, i) => {
    let sum = 0;
    for (let k = i; k < i + MOMENTARY; k += 1) sum += steps[k] as number;
    return sum / MOMENTARY;
  });
  const mean = (list: readonly number[]) => (list.length === 0 ? 0 : list.reduce((sum, one) => sum + one, 0) / list.length);
  const loud = blocks.filter((power) => power > powerOf(-70));
  const gate = mean(loud) / 10;
  return lufs(mean(loud.filter((power) => power > gate)));
}

/** Samples looked at together for their peak: most cannot be higher than what there was already. */
const PEAK_BLOCK = 64;

/** Loudness of sound as it comes (ITU-R BS.1770-4, EBU R 128): LUFS; −∞ where there is nothing yet. */
export class Loudness {
  private readonly energies = new Energies();
  private highest = 0;
  private tails: [Float32Array, Float32Array] = [new Float32Array(PEAK_REACH * 2), new Float32Array(PEAK_REACH * 2)];

  /** Takes in what comes next. 48 kHz. */
  push(sound: Stereo): void {
    this.energies.push(sound);
    const { left, right } = sound;
    this.tails = [this.peaks(left, this.tails[0]), this.peaks(right, this.tails[1])];
  }

  /** Looks for a higher peak in samples that go on from a tail; gives the next tail, which is looked at when what follows is there. */
  private peaks(samples: Float32Array, tail: Float32Array): Float32Array {
    const all = joined(tail, samples);
    const end = all.length - PEAK_REACH;
    for (let at = PEAK_REACH; at < end; at += PEAK_BLOCK)
      this.highest = Math.max(this.highest, truePeak(all, at, Math.min(end, at + PEAK_BLOCK), this.highest));
    return all.slice(-PEAK_REACH * 2);
  }

  private over(steps: number): number {
    const last = this.energies.steps.slice(-steps);
    return lufs(last.reduce((sum, one) => sum + one, 0) / steps);
  }

  /** Of the last 0.4 s. */
  get momentary(): number {
    return this.over(MOMENTARY);
  }

  /** Of the last 3 s. */
  get shortTerm(): number {
    return this.over(SHORT);
  }

  /** Of all of it, but for what is silent and what is 10 LU quieter than the rest. */
  get integrated(): number {
    return integratedOf(this.energies.steps);
  }

  /** The highest it went, between samples too, in dB under full scale (dBTP). */
  get peak(): number {
    return this.highest === 0 ? -Infinity : 20 * Math.log10(this.highest);
  }
}
