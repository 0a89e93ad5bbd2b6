import { frameAt, frameStart, fromSeconds, type Flicks, type Rate } from '@flimzy/core/time';

/** Who plays: a clock, and what is drawn by it. `Drawn` is a frame that is drawn, and not yet seen. */
export interface Player<Drawn> {
  /** Where the clock stands, in flicks of what plays. */
  clock: () => Flicks;
  /** Whether it goes already; until it does, the first frames are drawn. */
  going: () => boolean;
  /** How much faster than it is it plays. */
  speed: number;
  /** What plays now: its frames a second, its last frame, and when it ends; null ends playing. */
  playing: () => { rate: Rate; final: number; end: Flicks } | null;
  /** Draws frame `n` where nobody sees it. */
  draw: (n: number) => Promise<Drawn>;
  /** Whether it can still be shown as it was drawn. */
  fits: (drawn: Drawn) => boolean;
  show: (drawn: Drawn, n: number) => void;
  /** A time in milliseconds that only grows. */
  now: () => number;
  /** Lets a little time pass, and what was shown be seen. */
  wait: () => Promise<void>;
}

/** Frames that became due while it played, and those of them that were shown or passed over. */
export interface Played {
  due: number;
  shown: number;
  late: number;
}

/** So many frames are drawn before they are due: what takes five times as long as it lasts is not late by that alone. */
export const AHEAD = 5;

/**
 * Shows each frame when the clock stands on it. Those that come next are drawn before, while there is time for it until the next is due; where
 * drawing takes longer than a frame lasts, the one is drawn next that can be there in time. Ends with the clock past the end.
 */
export async function follow<Drawn>({ clock, going, speed, playing, draw, fits, show, now, wait }: Player<Drawn>): Promise<Played> {
  const figures = { due: 0, shown: 0, late: 0 };
  // How long the last two took: one that is slow by itself, a cut to another clip, says nothing about those after it.
  let [last, took, before] = [-1, 0, 0];
  let ready: { n: number; drawn: Drawn }[] = [];
  for (;;) {
    const what = playing();
    if (!what) break;
    const { rate, final, end } = what;
    if (!ready.every(({ drawn }) => fits(drawn))) ready = [];
    const due = frameAt(clock(), rate);
    while (ready[1] && ready[1].n <= due) ready.shift();
    const [next] = ready;
    const newest = ready.at(-1)?.n ?? last;
    const drawnBy = clock() + (going() ? Math.min(took, before) : 0);
    const room = !next || (ready.length < AHEAD && drawnBy <= frameStart(next.n, rate));
    if (next && next.n <= due) {
      ready.shift();
      show(next.drawn, next.n);
      if (last >= 0) {
        figures.due += next.n - last;
        figures.shown += 1;
        figures.late += next.n - last - 1;
      }
      last = next.n;
      // What was shown is seen once the worker comes to rest: not only after the next one is drawn.
      await wait();
    } else if (room && newest < final) {
      const n = Math.min(final, Math.max(newest + 1, frameAt(drawnBy, rate)));
      const began = now();
      ready.push({ n, drawn: await draw(n) });
      [before, took] = [took, Math.round(fromSeconds((now() - began) / 1000) * speed)];
    } else if (!next && clock() >= end) break;
    else await wait();
  }
  return figures;
}
