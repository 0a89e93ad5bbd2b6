import { SAMPLE_RATE } from '../time';

/** A chirp: 15 ms from 1 to 5 kHz, which small speakers play and small microphones hear. */
const CHIRP = Math.round(0.015 * SAMPLE_RATE);
const [LOW, HIGH] = [1_000, 5_000];
/** When each begins, in samples: unevenly, so that one is not taken for the next. */
const AT = [0.1, 0.75, 1.48, 2.09, 2.85, 3.52].map((seconds) => Math.round(seconds * SAMPLE_RATE));
/** The longest delay that is looked for: 0.6 s, which wireless speakers stay under. */
export const LONGEST_DELAY = Math.round(0.6 * SAMPLE_RATE);

function chirp(): Float32Array {
  return Float32Array.from({ length: CHIRP }, (_, i) => {
    const t = i / CHIRP;
    const phase = 2 * Math.PI * (CHIRP / SAMPLE_RATE) * (LOW * t + ((HIGH - LOW) * t * t) / 2);
    return 0.5 * (1 - Math.cos(2 * Math.PI * t)) * Math.sin(phase);
  });
}

/** The clicks that a latency is measured with: mono, 48 kHz, a little over four seconds. */
export function clicks(): Float32Array {
  const out = new Float32Array((AT.at(-1) ?? 0) + CHIRP + LONGEST_DELAY);
  const one = chirp();
  for (const at of AT) out.set(one, at);
  return out;
}

/** Samples between two places of the first look: well under half a wave of the highest frequency. The second looks at each around what was found. */
const COARSE = 2;

/** How well a recording fits the chirp from each of some places on, whatever its sign. What lies outside the recording is silent. */
function fits(recorded: Float32Array, one: Float32Array, from: number, count: number, step: number): Float32Array {
  const around = new Float32Array(count + CHIRP);
  const first = Math.max(0, from);
  around.set(recorded.subarray(first, from + around.length), first - from);
  let energy = 1e-9;
  for (let i = 0; i < CHIRP; i += 1) energy += (around[i] as number) ** 2;
  const out = new Float32Array(Math.ceil(count / step));
  for (let at = 0; at < count; at += 1) {
    if (at % step === 0) {
      let alike = 0;
      for (let i = 0; i < CHIRP; i += 1) alike += (around[at + i] as number) * (one[i] as number);
      out[at / step] = alike ** 2 / Math.max(1e-9, energy);
    }
    energy += (around[at + CHIRP] as number) ** 2 - (around[at] as number) ** 2;
  }
  return out;
}

const best = (list: Float32Array) => list.reduce((at, one, i) => (one > (list[at] as number) ? i : at), 0);

/** Clicks that must be heard alike, and how far they may lie apart, in samples: 1 ms. */
const ENOUGH = 4;
const ALIKE = 48;

/**
 * How much later the clicks are in a recording than they were played, in samples; null when they were not heard well enough to tell.
 *
 * @param recorded mono, 48 kHz, from the moment on at which {@link clicks} began to be played
 */
export function delayOf(recorded: Float32Array): number | null {
  const one = chirp();
  const energy = one.reduce((sum, x) => sum + x * x, 0);
  const delays = AT.flatMap((at) => {
    const coarse = fits(recorded, one, at, LONGEST_DELAY, COARSE);
    const near = best(coarse) * COARSE;
    const fine = fits(recorded, one, at + near - COARSE, 2 * COARSE, 1);
    const top = best(fine);
    // Of the energy that is there, at least a tenth is the chirp: more than noise comes to.
    return (fine[top] as number) / energy > 0.1 ? [near - COARSE + top] : [];
  });
  const groups = delays.map((middle) => delays.filter((other) => Math.abs(other - middle) <= ALIKE));
  const most = groups.reduce<number[]>((a, b) => (b.length > a.length ? b : a), []);
  return most.length < ENOUGH ? null : Math.round(most.reduce((sum, x) => sum + x, 0) / most.length);
}
