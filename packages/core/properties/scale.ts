import { defineCurved } from './curved';

/** The largest a picture is made, in times of what its fit makes it. */
export const SCALE_MAX = 20;

/** How many times as large as its fit makes it a picture is. */
export const scale = defineCurved({
  seldom: true,
  label: 'Scale',
  called: 'Scale',
  plain: 1,
  least: 0.01,
  most: SCALE_MAX,
  step: 0.01,
  shown: 100,
  unit: '%',
});
