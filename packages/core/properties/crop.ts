import { defineCurved } from './curved';

const share = { seldom: true, plain: 0, least: 0, most: 0.98, step: 0.01, shown: 100, unit: '%', digits: 1 } as const;

/** How much of a picture is cut away on each side, as shares of its own width and height, before it is turned or flipped. */
export const cropLeft = defineCurved({ ...share, label: 'Crop left', called: 'Left crop' });
export const cropRight = defineCurved({ ...share, label: 'Crop right', called: 'Right crop' });
export const cropTop = defineCurved({ ...share, label: 'Crop top', called: 'Top crop' });
export const cropBottom = defineCurved({ ...share, label: 'Crop bottom', called: 'Bottom crop' });
