import { defineCurved } from './curved';

const share = { seldom: true, plain: 0.5, least: 0, most: 1, step: 0.01, shown: 100, unit: '%' } as const;

/**
 * The point of a picture that stays as near the middle of the frame as it can without uncovering an edge, as shares of the
 * picture's width and height: what is kept when the frame shows only a part of it, whatever shape the frame has.
 */
export const focusX = defineCurved({ ...share, label: 'Focus across', called: 'Focus across' });
export const focusY = defineCurved({ ...share, label: 'Focus down', called: 'Focus down' });
