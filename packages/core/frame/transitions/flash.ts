import type { TransitionKindEntry } from './kind';

/** A flash of light that is gone more slowly than it came. */
export const flash: TransitionKindEntry = {
  takes: [],
  draw: (p, from, to) => {
    const light = p < 0.3 ? (p / 0.3) ** 2 : ((1 - p) / 0.7) ** 1.5;
    return [...(p < 0.3 ? from : to), { kind: 'fill', colour: '#ffffff', opacity: light }];
  },
};
