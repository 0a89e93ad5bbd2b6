import { eased, whole, type TransitionKindEntry } from './kind';

/** The new picture is seen in a circle that grows. */
export const circle: TransitionKindEntry = {
  takes: ['soft'],
  draw: (p, from, to, _frame, { soft }) =>
    to.length === 0
      ? whole(from, 1, { mask: { kind: 'radial', at: 1 - eased(p), soft, inside: true } })
      : [...from, ...whole(to, 1, { mask: { kind: 'radial', at: eased(p), soft, inside: true } })],
};
