/**
 * Exact time. One flick is 1/705 600 000 s: every usual frame rate (NTSC included) and sample rate divides it, so a time is
 * an integer and never drifts. Safe up to 2^53 flicks, about 147 days.
 */
export const FLICKS_PER_SECOND = 705_600_000;

/** The rate at which all sound is computed, in samples per second and per channel. */
export const SAMPLE_RATE = 48_000;

/** Flicks in one sample at {@link SAMPLE_RATE}: 14 700. */
export const FLICKS_PER_SAMPLE = FLICKS_PER_SECOND / SAMPLE_RATE;

/** The longest timeline, and the latest time anything on one may have: a day. Sums of such times stay exact. */
export const LONGEST = 86_400 * FLICKS_PER_SECOND;

/** A time or a length in flicks: an integer. */
export type Flicks = number;

/** Seconds (as probed or measured) to the nearest flick. Never feed a result of {@link toSeconds} back into a document. */
export function fromSeconds(seconds: number): Flicks {
  return Math.round(seconds * FLICKS_PER_SECOND);
}

/** Flicks to seconds, for media APIs and drawing only. */
export function toSeconds(flicks: Flicks): number {
  return flicks / FLICKS_PER_SECOND;
}

/** The sample (at 48 kHz) nearest to a time. */
export function toSamples(flicks: Flicks): number {
  return Math.round(flicks / FLICKS_PER_SAMPLE);
}

/** The exact time of a sample (at 48 kHz). */
export function fromSamples(samples: number): Flicks {
  return samples * FLICKS_PER_SAMPLE;
}

/** Whether a time falls on a sample (at 48 kHz). */
export function onSampleGrid(flicks: Flicks): boolean {
  return Number.isSafeInteger(flicks) && flicks % FLICKS_PER_SAMPLE === 0;
}

/** The sample boundary nearest to a time, in flicks. */
export function toSampleGrid(flicks: Flicks): Flicks {
  return Math.round(flicks / FLICKS_PER_SAMPLE) * FLICKS_PER_SAMPLE;
}

/** Two times (or places) with the earlier first: what runs backwards gives its ends the other way round. */
export const ascending = (a: number, b: number): [earlier: number, later: number] => (a <= b ? [a, b] : [b, a]);
