import { whole, type TransitionKindEntry } from './kind';

/** The new picture is uncovered by an edge that goes across. */
export const wipe: TransitionKindEntry = {
  takes: ['direction', 'soft'],
  draw: (p, from, to, _frame, { direction, soft }) =>
    to.length === 0
      ? whole(from, 1, { mask: { kind: 'linear', direction, at: p, soft, inside: false } })
      : [...from, ...whole(to, 1, { mask: { kind: 'linear', direction, at: p, soft, inside: true } })],
};
