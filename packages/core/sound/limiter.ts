import type { Processor } from './chain';
import type { Stereo } from './stereo';
import { PEAK_REACH, truePeak } from './truePeak';

/** The ceiling, in dB under full scale, measured between samples too: −1 dBTP with a little to spare. */
const CEILING = 10 ** (-1.05 / 20);

/** Samples in a block: gain is worked out for the edges of blocks, which lie on a grid of the timeline, and goes evenly between. */
const BLOCK = 16;

/** Blocks before and after a loud one over which it is made quieter, so that nobody hears it done: 8 ms. */
const REACH = 24;

/** How much each of the blocks around an edge counts: a Hann window that sums to one. */
const WEIGHTS = (() => {
  const raw = Float64Array.from({ length: REACH * 2 + 1 }, (_, k) => 1 + Math.cos(((k - REACH) / (REACH + 1)) * Math.PI));
  const sum = raw.reduce((all, one) => all + one, 0);
  return raw.map((one) => one / sum);
})();

/** Samples around each one that decide what becomes of it. */
const CONTEXT = (REACH * 2 + 3) * BLOCK + PEAK_REACH;

/**
 * Keeps sound under −1 dBTP: what is louder is made quieter a little before and until a little after. What is under it is left bit for
 * bit. A pure function of the samples around, on an absolute grid, so that a range limited in two pieces is equal to the whole.
 *
 * @param onWork gets how much was taken away at most, as a factor, of each stretch that was worked on
 */
export function limiter(onWork?: (gain: number) => void): Processor {
  return {
    before: CONTEXT,
    after: CONTEXT,
    process(input, from) {
      const count = input.left.length - CONTEXT * 2;
      const plain = { left: input.left.slice(CONTEXT, CONTEXT + count), right: input.right.slice(CONTEXT, CONTEXT + count) };
      const gains = edgeGains(input, from - CONTEXT, Math.floor(from / BLOCK), Math.floor((from + count - 1) / BLOCK) + 1);
      if (!gains) return plain;
      const out: Stereo = { left: new Float32Array(count), right: new Float32Array(count) };
      let least = 1;
      for (let i = 0; i < count; i += 1) {
        const n = from + i;
        const block = Math.floor(n / BLOCK);
        const [a, b] = gains.of(block);
        const gain = a + ((b - a) * (n - block * BLOCK)) / BLOCK;
        least = Math.min(least, gain);
        out.left[i] = (plain.left[i] as number) * gain;
        out.right[i] = (plain.right[i] as number) * gain;
      }
      onWork?.(least);
      return out;
    },
  };
}

/** The gain at the edges of blocks [first, last]; null where all of it is one. `begins` is the sample at which the input begins. */
function edgeGains(input: Stereo, begins: number, first: number, last: number): { of(block: number): [number, number] } | null {
  const low = first - REACH * 2 - 1;
  const needed = Float64Array.from({ length: last - low + REACH * 2 + 2 }, (_, i) => {
    const at = (low + i) * BLOCK - begins;
    const peak = Math.max(truePeak(input.left, at, at + BLOCK, CEILING), truePeak(input.right, at, at + BLOCK, CEILING));
    return peak > CEILING ? CEILING / peak : 1;
  });
  if (needed.every((one) => one === 1)) return null;
  // What an edge takes its mean over reaches one block further on one side, so that both edges of a loud block are held by it.
  const least = needed.map((_, i) => {
    let min = 1;
    for (let k = Math.max(0, i - REACH - 1); k <= Math.min(needed.length - 1, i + REACH); k += 1) min = Math.min(min, needed[k] as number);
    return min;
  });
  const at = (edge: number) => {
    let taken = 0; // what is taken away is summed, not what is left, so that nothing at all is exactly one
    for (let k = -REACH; k <= REACH; k += 1) taken += (WEIGHTS[k + REACH] as number) * (1 - (least[edge - low + k] ?? 1));
    return 1 - taken;
  };
  const edges = Float64Array.from({ length: last - first + 2 }, (_, i) => at(first + i));
  return { of: (block) => [edges[block - first] as number, edges[block - first + 1] as number] };
}
