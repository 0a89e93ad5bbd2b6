import { intoPlaced, type Layer, type Rect, type Size } from '@flimzy/core/frame';
import { laidPlane } from '@flimzy/kernels';
import { BACKDROP_SPREADS, backdropSizes, softSizes, spreadPlaces } from '@flimzy/stage';
import { LOST } from './base';

/** One of the planes of a picture: of what is bright, or of one of its two colours, which have half of its sides. */
interface Plane {
  levels: Uint8Array;
  size: Size;
}

/** The planes of a picture, each made into another one, together again. */
function each(planes: Uint8Array, size: Size, make: (plane: Plane, bright: boolean) => Uint8Array): Uint8Array {
  const [count, half] = [size.width * size.height, { width: size.width / 2, height: size.height / 2 }];
  const parts = [
    make({ levels: planes.subarray(0, count), size }, true),
    make({ levels: planes.subarray(count, count * 1.25), size: half }, false),
    make({ levels: planes.subarray(count * 1.25, count * 1.5), size: half }, false),
  ];
  return Buffer.concat(parts);
}

const layingAt = (rect: Rect, { width, height }: Size) => ({
  into: intoPlaced({ rect }, { width, height }),
  kept: { left: 0, top: 0, right: width, low: height },
});

/** Of another size, bilinear as a canvas has it; all of it, or with its corners elsewhere. */
function resized({ levels, size }: Plane, to: Size, rect: Rect = { x: 0, y: 0, ...to }): Plane {
  return { levels: laidPlane(levels, size, to, [{ laid: layingAt(rect, size), share: 1 }]), size: to };
}

/** Each place becomes the mean of itself and the four `by` away. */
function spread({ levels, size }: Plane, by: number): Plane {
  const layings = spreadPlaces(by).map(({ x, y, share }) => ({ laid: layingAt({ x, y, ...size }, size), share }));
  return { levels: laidPlane(levels, size, size, layings), size };
}

/** A frame out of focus, by the steps by which the stage takes it there. */
export function softened(planes: Uint8Array, frame: Size, soft: number): Uint8Array {
  const { half, small } = softSizes(soft, frame);
  return each(planes, frame, (plane) => resized(spread(resized(resized(plane, half), small), 1), plane.size).levels);
}

/** The backdrop of a frame that a picture of a size makes, by the steps by which the stage makes it. */
export function backdrop(planes: Uint8Array, size: Size, layer: Extract<Layer, { kind: 'backdrop' }>, frame: Size): Uint8Array {
  const { rect, soft, light, colourful } = layer;
  const { down, first, small } = backdropSizes(soft, frame);
  const shown = { x: rect.x * down, y: rect.y * down, width: rect.width * down, height: rect.height * down };
  const black = 16 + (LOST * 219) / 255;
  return each(planes, size, (plane, bright) => {
    let made = resized(resized(plane, first, shown), small);
    for (const by of BACKDROP_SPREADS) made = spread(made, by);
    const { levels } = resized(made, first);
    const dimmed = levels.map((level) => (bright ? 16 + Math.max(0, level - black) * light : 128.5 + (level - 128) * light * colourful));
    const { width, height } = frame;
    return resized({ levels: dimmed, size: first }, bright ? frame : { width: width / 2, height: height / 2 }).levels;
  });
}
