import { defineCurved } from './curved';

const share = { seldom: true, plain: 0, least: -4, most: 4, step: 0.01, shown: 100, unit: '%', digits: 1 } as const;

/** How far right of where its fit puts it a picture lies, as a share of the frame's width; below 0 left. */
export const x = defineCurved({ ...share, label: 'Across', called: 'Place across' });

/** How far lower, as a share of the frame's height. */
export const y = defineCurved({ ...share, label: 'Down', called: 'Place down' });
