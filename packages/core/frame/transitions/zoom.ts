import { eased, grown, whole, type TransitionKindEntry } from './kind';

/** Into the old picture and through it to the new one. */
export const zoom: TransitionKindEntry = {
  takes: [],
  draw: (p, from, to, frame) => [
    ...whole(to, 1, { placed: grown(frame, 1.5 - 0.5 * eased(p)) }),
    ...whole(from, to.length === 0 ? 1 - p : 1 - eased(p), { placed: grown(frame, 1 + 2 * eased(p) ** 2) }),
  ],
};
