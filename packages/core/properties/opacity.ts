import { defineCurved } from './curved';

/** How much of a clip's picture there is over what lies under it: 0 (nothing) to 1 (all). */
export const opacity = defineCurved({
  label: 'Opacity',
  called: 'Opacity',
  plain: 1,
  least: 0,
  most: 1,
  step: 0.05,
  shown: 100,
  unit: '%',
});
