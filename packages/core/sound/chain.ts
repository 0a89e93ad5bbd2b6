import { silence, type Stereo } from './stereo';

/**
 * Something that is done to sound on its way. What it gives at a sample may depend on nothing but the samples around it, so that a
 * range mixed in two pieces is equal to the same range mixed whole.
 */
export interface Processor {
  /** How many samples before and after a sample decide what it becomes. */
  before: number;
  after: number;
  /**
   * `input` holds `before` samples more than asked for at its beginning and `after` more at its end; what is given back does not.
   * @param from the sample, on the timeline the sound stands on, at which the result begins
   */
  process(input: Stereo, from: number): Stereo;
}

/** Where sound comes from: samples [from, to) of a timeline. Shorter than that, or null, where there is none. */
export type SoundSource = (from: number, to: number) => Stereo | null;

/** Samples that a chain needs before (or after) those it is asked for. */
export const reachOf = (chain: readonly Processor[], side: 'before' | 'after') => chain.reduce((sum, one) => sum + one[side], 0);

/** Samples [from, to) of a source after all of a chain, which asks for as many more on either side as it needs. */
export function through(chain: readonly Processor[], source: SoundSource, from: number, to: number): Stereo | null {
  const [before, after] = [reachOf(chain, 'before'), reachOf(chain, 'after')];
  const [first, last] = [from - before, to + after];
  const read = source(first, last);
  if (!read) return null;
  // What is missing at the end is silence, which a chain with context must see; without context there is nothing to fill up.
  let sound = before + after > 0 ? filled(read, last - first) : read;
  let at = first;
  for (const one of chain) sound = one.process(sound, (at += one.before));
  return sound;
}

function filled(sound: Stereo, samples: number): Stereo {
  if (sound.left.length >= samples) return sound;
  const out = silence(samples);
  out.left.set(sound.left);
  out.right.set(sound.right);
  return out;
}
