import type { Loop } from '../open/engine';

/*
 * What is played again and again is counted on through every round: from where playing began, past where the stretch ends. All of it is in
 * whole numbers of one unit, be it flicks, samples or frames.
 */

/** A stretch in another unit; null where nothing of it is left. */
export function loopIn(loop: Loop | null, unit: (time: number) => number): Loop | null {
  const [from, to] = loop ? [unit(loop.from), unit(loop.to)] : [0, 0];
  return to > from ? { from, to } : null;
}

/** How often the stretch was played from its start when one has counted to `at`. */
export const roundAt = (at: number, loop: Loop | null): number =>
  loop && at >= loop.to ? Math.floor((at - loop.from) / (loop.to - loop.from)) : 0;

/** Where in the piece one is who has counted to `at`. */
export const within = (at: number, loop: Loop | null): number => (loop ? at - roundAt(at, loop) * (loop.to - loop.from) : at);

/** Whether playing is over that has come to a time of a piece so long; again and again it is where a part of the stretch is gone. */
export const isOver = (now: number, loop: Loop | null, length: number): boolean => (loop ? loop.to > length : now >= length);

/** What of the piece is played while one counts from `from` to `to`, in order, each in one go. */
export function stretches(from: number, to: number, loop: Loop | null): Loop[] {
  const all: Loop[] = [];
  for (let at = from; at < to;) {
    const here = within(at, loop);
    const count = Math.min(to - at, loop ? loop.to - here : Infinity);
    all.push({ from: here, to: here + count });
    at += count;
  }
  return all;
}
