import { eased, shifted, whole, type TransitionKindEntry } from './kind';

/** The new picture comes in over the old one, which stays. */
export const slide: TransitionKindEntry = {
  takes: ['direction'],
  draw: (p, from, to, frame, { direction }) =>
    to.length === 0
      ? whole(from, 1, { placed: shifted(frame, direction, eased(p)) })
      : [...from, ...whole(to, 1, { placed: shifted(frame, direction, eased(p) - 1) })],
};
