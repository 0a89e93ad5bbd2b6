import { z } from 'zod';
import { SAMPLE_RATE, toSamples, type Flicks } from '../time';

/** Samples of which one loudness is kept: 100 ms. */
export const LOUDNESS_STEP = SAMPLE_RATE / 10;

/** LUFS of a K-weighted mean square, summed over the channels (ITU-R BS.1770-4), and back. */
export const lufs = (power: number) => (power <= 0 ? -Infinity : -0.691 + 10 * Math.log10(power));
export const powerOf = (loudness: number) => 10 ** ((loudness + 0.691) / 10);

/** What is silent is kept as this, in LUFS. */
const SILENT = -100;

/** What was heard in a media item, once, when it came in: how loud it is and where someone speaks. */
export const Hearing = z.object({
  /** Loudness of every {@link LOUDNESS_STEP} samples of the material, in tenths of LUFS. */
  loudness: z.array(z.number().int()),
  /** Where someone speaks, in samples of the material, in order. */
  speech: z.array(z.tuple([z.number().int(), z.number().int()])),
});
export type Hearing = z.infer<typeof Hearing>;

/** Gives what was heard in a media item; null while that is not known. */
export type HearingReader = (media: string) => Hearing | null;

/** A loudness as it is kept. */
export const keptLoudness = (power: number) => Math.round(Math.max(SILENT, lufs(power)) * 10);

/** The energy of a step of the material, by its number; 0 where there is none. */
export function energyAt({ loudness }: Hearing, step: number): number {
  const kept = loudness[step];
  return kept === undefined || kept <= SILENT * 10 ? 0 : powerOf(kept / 10);
}

/** How far around a stretch its surroundings reach, in steps: 2 s. */
const NEARBY = 20;

/** The level (dB under full scale) at which a tone on both sides is as loud as the sound around a stretch of a material (flicks); −20 where nothing is known. */
export function levelAround(media: string, from: Flicks, to: Flicks, hearing: HearingReader): number {
  const heard = hearing(media);
  if (!heard) return -20;
  const step = (at: Flicks) => Math.floor(toSamples(at) / LOUDNESS_STEP);
  const energies: number[] = [];
  for (let k = step(from) - NEARBY; k <= step(to) + NEARBY; k += 1) energies.push(energyAt(heard, k));
  const loud = energies.filter((one) => one > powerOf(-60));
  if (loud.length === 0) return -20;
  // A tone of 1 kHz on both sides has the loudness of its level.
  return Math.round(Math.max(-60, Math.min(-3, lufs(loud.reduce((sum, one) => sum + one, 0) / loud.length))));
}
