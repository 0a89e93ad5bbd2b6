export type { ChangePixels, DrawContext, Pen, Scratch, Seen } from './context';
export { BACKDROP_SPREADS, backdropSizes, drawFrame, drawTitle, softSizes, spreadPlaces } from './draw';
export { FAMILIES, familyName, fileOf, filesFor, filesOf, filesOfParts, weightOf } from './fonts';
export { boxOfPart, boxOfParts } from './overlay';
export { SHAPES, svgOf } from './shapes';
export { cubeFor, drawVignette, grainFor, sharpnessFor } from './effects';
export { drawMask } from './masks';
