import { whole, type TransitionKindEntry } from './kind';

/** One picture through the other. */
export const dissolve: TransitionKindEntry = {
  takes: [],
  draw: (p, from, to) => (to.length === 0 ? whole(from, 1 - p) : [...from, ...whole(to, p)]),
};
