import { defineCurved } from './curved';

/** How many times as large as its fit makes it a picture is. */
export const scale = defineCurved({
  seldom: { field: 'scale' },
  label: 'Scale',
  called: 'Scale',
  plain: 1,
  least: 0.01,
  most: 20,
  step: 0.01,
  shown: 100,
  unit: '%',
});
