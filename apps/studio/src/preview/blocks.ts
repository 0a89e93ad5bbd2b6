import { silence, type Stereo } from '@flimzy/core/sound';

/**
 * Samples [from, to) of a sound that is there in blocks of `size` each, from sample 0 on. Past the end of a block that is shorter, and before
 * the first, there is silence; with a block that is missing it ends.
 */
export function fromBlocks(size: number, from: number, to: number, blockAt: (n: number) => Stereo | null): Stereo {
  const out = silence(to - from);
  for (let n = Math.max(0, Math.floor(from / size)); n * size < to; n += 1) {
    const block = blockAt(n);
    const first = Math.max(from, n * size);
    if (!block) return { left: out.left.subarray(0, first - from), right: out.right.subarray(0, first - from) };
    const [begin, end] = [first - n * size, Math.min(to - n * size, block.left.length)];
    if (end <= begin) continue;
    out.left.set(block.left.subarray(begin, end), first - from);
    out.right.set(block.right.subarray(begin, end), first - from);
  }
  return out;
}
