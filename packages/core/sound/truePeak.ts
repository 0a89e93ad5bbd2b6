/** Filters that give the values between samples: `phases` of them between one and the next, each from so many samples around. */
interface Between {
  taps: number;
  phases: readonly Float64Array[];
}

/** A Kaiser-windowed sinc, cut into its phases. Each sums to one, so that what stands still is left as it is. */
function between(factor: number, taps: number): Between {
  const bessel = (x: number) => {
    let [sum, term] = [1, 1];
    for (let k = 1; k < 40; k += 1) sum += term *= (x / 2 / k) ** 2;
    return sum;
  };
  const beta = 7;
  const phases = Array.from({ length: factor - 1 }, (_, p) => {
    const offset = (p + 1) / factor;
    const filter = Float64Array.from({ length: taps }, (__, k) => {
      const x = k - taps / 2 + 1 - offset;
      const window = bessel(beta * Math.sqrt(Math.max(0, 1 - (x / (taps / 2)) ** 2))) / bessel(beta);
      return window * (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
    });
    const sum = filter.reduce((all, one) => all + one, 0);
    return filter.map((one) => one / sum);
  });
  return { taps, phases };
}

const ROUGH = between(4, 24);
const FINE = between(8, 48);

/** Samples on either side that decide how high sound goes between two of them. */
export const PEAK_REACH = FINE.taps / 2;

/** What stands between samples is at most this many times as high as the highest sample that decides it. */
const MOST_BETWEEN = Math.max(...ROUGH.phases.map((filter) => filter.reduce((all, one) => all + Math.abs(one), 0)));

/** The highest of sample `i` and what stands between it and the next. All that decides it must be in the array. */
function highestAt(samples: Float32Array, i: number, { taps, phases }: Between): number {
  let peak = Math.abs(samples[i] as number);
  const first = i - taps / 2 + 1;
  for (let p = 0; p < phases.length; p += 1) {
    const filter = phases[p] as Float64Array;
    let sum = 0;
    for (let k = 0; k < taps; k += 1) sum += (filter[k] as number) * (samples[first + k] as number);
    if (sum > peak) peak = sum;
    else if (-sum > peak) peak = -sum;
  }
  return peak;
}

/**
 * How high a channel goes in samples [from, to), between samples too (ITU-R BS.1770-4, annex 2), as a factor of full scale. Where it
 * surely stays under `least` the answer is only that: something at most `least`. Samples outside the array are silence.
 */
export function truePeak(samples: Float32Array, from: number, to: number, least = 0): number {
  if (from < PEAK_REACH || to + PEAK_REACH > samples.length) {
    const around = new Float32Array(to - from + PEAK_REACH * 2);
    const [first, last] = [Math.max(0, from - PEAK_REACH), Math.min(samples.length, to + PEAK_REACH)];
    if (last > first) around.set(samples.subarray(first, last), first - from + PEAK_REACH);
    return truePeak(around, PEAK_REACH, PEAK_REACH + to - from, least);
  }
  let around = 0;
  let own = 0;
  for (let i = from - PEAK_REACH; i < to + PEAK_REACH; i += 1) {
    const height = Math.abs(samples[i] as number);
    if (height > around) around = height;
    if (height > own && i >= from && i <= to) own = height;
  }
  if (around * MOST_BETWEEN <= least) return Math.min(around, least);
  // Between two samples that are both low for where they stand, nothing stands out.
  const low = own * 0.4;
  let [peak, where] = [own, from];
  for (let i = from; i < to; i += 1) {
    if (Math.abs(samples[i] as number) < low && Math.abs(samples[i + 1] as number) < low) continue;
    const rough = highestAt(samples, i, ROUGH);
    if (rough > peak) [peak, where] = [rough, i];
  }
  // Looked at closely only where it matters: at the highest, when that is near what is asked about.
  if (peak > least * 0.8)
    for (let i = Math.max(from, where - 1); i <= Math.min(to - 1, where + 1); i += 1) peak = Math.max(peak, highestAt(samples, i, FINE));
  return peak;
}
