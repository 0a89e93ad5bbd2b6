import { eased, shifted, whole, type TransitionKindEntry } from './kind';

/** The new picture pushes the old one out. */
export const push: TransitionKindEntry = {
  takes: ['direction'],
  draw: (p, from, to, frame, { direction }) => [
    ...whole(from, 1, { placed: shifted(frame, direction, eased(p)) }),
    ...whole(to, 1, { placed: shifted(frame, direction, eased(p) - 1) }),
  ],
};
