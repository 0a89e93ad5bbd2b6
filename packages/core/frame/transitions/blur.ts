import { whole, type TransitionKindEntry } from './kind';

/** One picture goes out of focus, the other comes into it. */
export const blur: TransitionKindEntry = {
  takes: [],
  draw: (p, from, to) => {
    const soft = 1 - Math.abs(2 * p - 1);
    return to.length === 0 ? whole(from, 1 - p, { soft }) : [...whole(from, 1, { soft }), ...whole(to, p, { soft })];
  },
};
