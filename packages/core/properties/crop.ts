import { defineCurved } from './curved';

const share = { plain: 0, least: 0, most: 0.98, step: 0.01, shown: 100, unit: '%', digits: 1 } as const;

/** How much of a picture is cut away on each side, as shares of its own width and height, before it is turned or flipped. */
export const cropLeft = defineCurved({ seldom: { field: 'cropLeft' }, ...share, label: 'Crop left', called: 'Left crop' });
export const cropRight = defineCurved({ seldom: { field: 'cropRight' }, ...share, label: 'Crop right', called: 'Right crop' });
export const cropTop = defineCurved({ seldom: { field: 'cropTop' }, ...share, label: 'Crop top', called: 'Top crop' });
export const cropBottom = defineCurved({ seldom: { field: 'cropBottom' }, ...share, label: 'Crop bottom', called: 'Bottom crop' });
