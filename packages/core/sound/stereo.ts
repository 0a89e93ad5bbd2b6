import { LEVEL_MIN } from '../piece';

/** Two channels of float samples at 48 kHz, equally long. */
export interface Stereo {
  left: Float32Array;
  right: Float32Array;
}

/** So many samples of silence. */
export function silence(samples: number): Stereo {
  return { left: new Float32Array(samples), right: new Float32Array(samples) };
}

/**
 * Gives decoded sound of a media item: `count` samples from sample `from` of the material. Shorter (or null) where there is
 * none; what is missing is silence.
 */
export type PcmReader = (media: string, from: number, count: number) => Stereo | null;

/** dB to a factor; −60 and less is silence. */
export function gainOf(level: number): number {
  return level <= LEVEL_MIN ? 0 : 10 ** (level / 20);
}

/** Highest absolute sample of both channels, as a factor: 1 is full scale (0 dBFS). */
export function peakOf(sound: Stereo): number {
  let peak = 0;
  for (const channel of [sound.left, sound.right])
    for (let i = 0; i < channel.length; i += 1) peak = Math.max(peak, Math.abs(channel[i] as number));
  return peak;
}

/** One channel's samples and those that come after them. */
export function joined(first: Float32Array, after: Float32Array): Float32Array {
  const all = new Float32Array(first.length + after.length);
  all.set(first);
  all.set(after, first.length);
  return all;
}
