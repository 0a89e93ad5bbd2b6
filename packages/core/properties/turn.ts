import { defineCurved } from './curved';

/** How far a picture is turned about its middle, in degrees clockwise. */
export const turn = defineCurved({
  seldom: true,
  label: 'Turn',
  called: 'Turn',
  plain: 0,
  least: -3600,
  most: 3600,
  step: 1,
  shown: 1,
  unit: '°',
  digits: 1,
});
