import { EASES, type Direction, type Motion, type MotionKind } from '../properties';

/** Where something that moves is when it is only partly there: against where it lies when it is. Lengths in its own height. */
export interface Moved {
  opacity: number;
  x: number;
  y: number;
  scale: number;
  /** Degrees clockwise. */
  turn: number;
  /** What of it is seen, from one side on; 1: all. */
  seen: number;
}

/** Where it lies when it is there. */
export const THERE: Moved = { opacity: 1, x: 0, y: 0, scale: 1, turn: 0, seen: 1 };

const late = EASES.slowEnd;

/** Goes past 1 a little and comes back. */
const springing = (p: number) => 1 + 2.70158 * (p - 1) ** 3 + 1.70158 * (p - 1) ** 2;

/** Falls and jumps twice before it lies still. */
function hopping(p: number): number {
  const n = 7.5625;
  if (p < 1 / 2.75) return n * p * p;
  if (p < 2 / 2.75) return n * (p - 1.5 / 2.75) ** 2 + 0.75;
  if (p < 2.5 / 2.75) return n * (p - 2.25 / 2.75) ** 2 + 0.9375;
  return n * (p - 2.625 / 2.75) ** 2 + 0.984375;
}

const towards = (direction: Direction, by: number): Pick<Moved, 'x' | 'y'> => ({
  x: direction === 'left' ? -by : direction === 'right' ? by : 0,
  y: direction === 'up' ? -by : direction === 'down' ? by : 0,
});

/** Each kind by how far it has come, 0 (nothing of it is there) to 1. Coming in it goes in its direction; going, back again. */
const KINDS: Record<MotionKind, (p: number, direction: Direction) => Partial<Moved>> = {
  fade: (p) => ({ opacity: p }),
  rise: (p, direction) => ({ opacity: Math.min(1, p * 1.6), ...towards(direction, late(p) - 1) }),
  slide: (p, direction) => ({ opacity: Math.min(1, p * 4), ...towards(direction, 6 * (late(late(p)) - 1)) }),
  grow: (p) => ({ opacity: Math.min(1, p * 3), scale: Math.max(0.02, springing(p)) }),
  stamp: (p) => ({ opacity: Math.min(1, p * 2), scale: 1 + 1.4 * (1 - late(p)) }),
  swing: (p, direction) => ({
    opacity: Math.min(1, p * 2),
    turn: (direction === 'right' || direction === 'down' ? -1 : 1) * 40 * (1 - springing(p)),
    scale: 0.7 + 0.3 * late(p),
  }),
  unveil: (p) => ({ seen: late(p) }),
  type: (p) => ({ opacity: p > 0 ? 1 : 0 }),
  hop: (p, direction) => ({ opacity: Math.min(1, p * 5), ...towards(direction, 1.6 * (hopping(p) - 1)) }),
};

/** A motion on its way: what of a title is there, and in which direction it moves. */
export type OnItsWay = Pick<Motion, 'kind' | 'by' | 'direction'> & {
  /** 0 (nothing of it is there) to 1 (all). */
  at: number;
};

/** How much of the time of one overlaps with the next, where several move one after the other. */
const OVERLAP = 0.6;

/** Where number `n` of `count` that move one after the other is. */
export function movedAt({ kind, direction, at }: OnItsWay, n: number, count: number): Moved {
  const each = kind === 'type' ? 1 / Math.max(1, count) : 1 / (1 + (count - 1) * (1 - OVERLAP));
  const begins = kind === 'type' ? n * each : n * each * (1 - OVERLAP);
  const p = Math.max(0, Math.min(1, (at - begins) / each));
  if (p >= 1 - 1e-9) return THERE;
  if (p <= 0) return { ...THERE, opacity: 0 };
  return { ...THERE, ...KINDS[kind](p, direction) };
}
