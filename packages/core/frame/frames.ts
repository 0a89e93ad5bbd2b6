import { z } from 'zod';
import { FLICKS_PER_SECOND, type Flicks } from '../time';

/**
 * When each frame of a video begins, in flicks from the start of the material, as measured from the file. Evenly spaced
 * frames are kept as a formula; variable rates as a list.
 */
export const FrameTimes = z.union([
  z.object({
    first: z.number().int(),
    num: z.number().int().positive(),
    den: z.number().int().positive(),
    count: z.number().int().positive(),
  }),
  z.object({ times: z.array(z.number().int()).min(1) }),
]);
export type FrameTimes = z.infer<typeof FrameTimes>;

/** Containers round a frame's time to their own clock: up to half a millisecond, in flicks. A frame counts as begun this much early. */
export const TIME_TOLERANCE: Flicks = FLICKS_PER_SECOND / 1000;

/** How many frames there are. */
export function frameCount(frames: FrameTimes): number {
  return 'times' in frames ? frames.times.length : frames.count;
}

/** When frame `n` begins, in flicks. */
export function frameTime(frames: FrameTimes, n: number): Flicks {
  if ('times' in frames) return frames.times[Math.max(0, Math.min(n, frames.times.length - 1))] as Flicks;
  return frames.first + Math.round((n * FLICKS_PER_SECOND * frames.den) / frames.num);
}

/** The frame showing at a time of the material: the last one begun by then; the first before any has, the last after all. */
export function sourceFrameAt(frames: FrameTimes, time: Flicks): number {
  const due = time + TIME_TOLERANCE;
  let low = 0;
  let high = frameCount(frames) - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (frameTime(frames, middle) <= due) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Finds the formula behind measured frame times where there is one (each within the tolerance), else keeps the list. */
export function describeFrames(times: readonly Flicks[], rate: { num: number; den: number }): FrameTimes {
  const formula: FrameTimes = { first: times[0] ?? 0, num: rate.num, den: rate.den, count: times.length };
  const even = times.every((time, n) => Math.abs(frameTime(formula, n) - time) <= TIME_TOLERANCE * 0.6);
  return even ? formula : { times: [...times] };
}

/** The picture of a filmstrip that stands for a time of the material: one for each `step` flicks, the last for all that comes after. */
export function sourceTile(strip: { count: number; step: Flicks }, time: Flicks): number {
  return Math.max(0, Math.min(strip.count - 1, Math.floor(time / strip.step)));
}
