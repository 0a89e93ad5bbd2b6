import { halvingsFor } from '../src/preview/planes';

it('halves a picture to the nearest size of those it is drawn in, and never makes it larger', () => {
  const drawn = [2000, 540, 400, 383, 381, 270, 192, 190, 68, 0];
  expect(drawn.map((width) => halvingsFor(540, width))).toEqual([0, 0, 0, 0, 1, 1, 1, 2, 3, 9]);
});
