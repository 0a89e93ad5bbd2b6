import { z } from 'zod';
import { FLICKS_PER_SECOND, type Flicks } from './flicks';

/** A frame rate as an exact fraction: 30000/1001 is 29.97. */
export const Rate = z.object({
  /** frames … */
  num: z.number().int().positive().max(240_000),
  /** … per this many seconds */
  den: z.number().int().positive().max(1_001),
});
export type Rate = z.infer<typeof Rate>;

/** The rates a piece can have; each divides a second into whole flicks. */
export const RATES: readonly Rate[] = [
  { num: 24_000, den: 1_001 },
  { num: 24, den: 1 },
  { num: 25, den: 1 },
  { num: 30_000, den: 1_001 },
  { num: 30, den: 1 },
  { num: 50, den: 1 },
  { num: 60_000, den: 1_001 },
  { num: 60, den: 1 },
];

/** Whether two rates are the same one. */
export const sameRate = (one: Rate, other: Rate): boolean => one.num === other.num && one.den === other.den;

/** A rate of which only every so many frames are left: 29.97 by 2 is 14.985. */
export const everyNth = ({ num, den }: Rate, n: number): Rate => (num % n === 0 ? { num: num / n, den } : { num, den: den * n });

/** Length of one frame in flicks. @throws RangeError when the rate does not divide a second into whole flicks. */
export function frameLength(rate: Rate): Flicks {
  const length = (FLICKS_PER_SECOND * rate.den) / rate.num;
  if (!Number.isInteger(length)) throw new RangeError(`${rate.num}/${rate.den} frames a second do not fall on whole flicks`);
  return length;
}

/** Whether the rate divides a second into whole flicks. */
export function isExact(rate: Rate): boolean {
  return Number.isInteger((FLICKS_PER_SECOND * rate.den) / rate.num);
}

/** Start of frame `n`, in flicks. */
export function frameStart(n: number, rate: Rate): Flicks {
  return n * frameLength(rate);
}

/** Number of the frame that is showing at a time. */
export function frameAt(time: Flicks, rate: Rate): number {
  return Math.floor(time / frameLength(rate));
}

/** The frame boundary nearest to a time. */
export function toGrid(time: Flicks, rate: Rate): Flicks {
  const length = frameLength(rate);
  return Math.round(time / length) * length;
}

/** The last frame boundary that is not after a time. */
export function toGridBelow(time: Flicks, rate: Rate): Flicks {
  return frameAt(time, rate) * frameLength(rate);
}

/** Whether a time is a frame boundary. */
export function onGrid(time: Flicks, rate: Rate): boolean {
  return Number.isSafeInteger(time) && time % frameLength(rate) === 0;
}

/** The piece rate nearest to a probed one, in frames a second. */
export function nearestRate(framesPerSecond: number): Rate {
  let best = RATES[4] as Rate;
  for (const rate of RATES)
    if (Math.abs(rate.num / rate.den - framesPerSecond) < Math.abs(best.num / best.den - framesPerSecond)) best = rate;
  return best;
}

/** "29.97", "30": a rate as people write it. */
export function rateName(rate: Rate): string {
  const value = rate.num / rate.den;
  return Number.isInteger(value) ? String(value) : (Math.round(value * 1000) / 1000).toFixed(value < 24 ? 3 : 2);
}
