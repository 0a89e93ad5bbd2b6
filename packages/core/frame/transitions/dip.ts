import type { TransitionKindEntry } from './kind';

/** Into a colour, and out of it. */
export const dip: TransitionKindEntry = {
  takes: ['colour'],
  draw: (p, from, to, _frame, { colour }) => [...(p < 0.5 ? from : to), { kind: 'fill', colour, opacity: 1 - Math.abs(2 * p - 1) }],
};
