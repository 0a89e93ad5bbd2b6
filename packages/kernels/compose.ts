import { grainOf, kernels, load, OWN, PIXELS, room, sharpnessOf } from './module';

/** A part of a frame, in pixels, all even. */
export interface Part {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** How something lies in a frame: which of its places one of the frame shows (u = a·x + c·y + e, v = b·x + d·y + f, in pixels), and what of it is seen. */
export interface Laying {
  into: readonly [a: number, b: number, c: number, d: number, e: number, f: number];
  kept: { left: number; top: number; right: number; low: number };
}

/** What goes over a frame in planes. */
export type PlaneStep =
  /** A whole frame in planes, of which a part is first taken through a cube, and of which so much is seen (0 to 1). */
  | { kind: 'picture'; planes: Uint8Array; share: number; coloured: { cube: Int16Array; part: Part } | null }
  /** A picture of another size in planes, laid anywhere. */
  | { kind: 'placed'; planes: Uint8Array; width: number; height: number; laid: Laying; share: number }
  /** A part with what shines through, as `toPlanes` makes it. */
  | { kind: 'box'; planes: Uint8Array; part: Part }
  /** All of it through a cube. */
  | { kind: 'colours'; cube: Int16Array }
  /** Grain over all of it: pixels across one grain, levels at most (0 to 255), the same for the same seed. */
  | { kind: 'grain'; size: number; amount: number; seed: number }
  /** So much of what its pixels differ from those around them is added, 0 to 4. */
  | { kind: 'sharpen'; amount: number }
  /** Steps that make a frame of their own, from black: so much of it is seen, through a mask of one byte for each pixel, or laid anywhere. */
  | { kind: 'group'; steps: readonly PlaneStep[]; share: number; mask: Uint8Array | null; laid: Laying | null };

/** Room for what kernels write past the end of a frame. */
const SPARE = 16;

/** How many frames lie within each other, how much else has to be held at once, in bytes, and how wide the widest picture is that is laid. */
function needs(steps: readonly PlaneStep[]): { depth: number; bytes: number; widest: number } {
  let [depth, bytes, widest] = [1, 0, 0];
  for (const step of steps) {
    if ('planes' in step) bytes = Math.max(bytes, step.planes.length);
    if (step.kind === 'placed') widest = Math.max(widest, step.width);
    if (step.kind !== 'group') continue;
    const inner = needs(step.steps);
    depth = Math.max(depth, inner.depth + 1);
    bytes = Math.max(bytes, inner.bytes, step.mask?.length ?? 0);
    widest = Math.max(widest, inner.widest);
  }
  return { depth, bytes, widest };
}

/** Room for what a kernel notes down while it lays a picture: two bytes for each pixel across, eight for each one of the frame's. */
const noted = (across: number, width: number) => across * 2 + width * 8 + 4 * SPARE;

const upTo16 = (n: number) => Math.ceil(n / 16) * 16;

/** The same share out of so many. */
const shareOf = (share: number, all: number, most = all) => Math.max(0, Math.min(most, Math.round(share * all)));

/**
 * A frame made in planes (yuv420p), step by step, from black.
 *
 * @param width of the frame in pixels; even, as its height is
 * @returns 1.5 bytes for each pixel, for the caller to keep
 */
export function composed(width: number, height: number, steps: readonly PlaneStep[]): Uint8Array<ArrayBuffer> {
  const wasm = kernels();
  const size = width * height * 1.5;
  const each = upTo16(size) + SPARE;
  const { depth, bytes: held, widest } = needs(steps);
  // Frames within each other, then what goes over one, then what a kernel notes down on the way.
  const over = PIXELS + depth * each;
  const temp = over + upTo16(Math.max(size, held)) + SPARE;
  const bytes = room(wasm, temp - PIXELS + noted(Math.max(width, widest), width));

  const within = ({ x, y, width: across, height: high }: Part) => {
    if ([x, y, across, high].some((n) => n % 2 !== 0) || x < 0 || y < 0 || x + across > width || y + high > height)
      throw new RangeError('not a part of the frame');
    return [x, y, across, high] as const;
  };
  const put = (planes: Uint8Array, length: number, at: number) => {
    if (planes.length !== length) throw new RangeError('not planes of that size');
    bytes.set(planes, at);
  };
  const lay = (at: number, from: number, across: number, high: number, { into, kept }: Laying, share: number) => {
    const { left, top, right, low } = kept;
    if (left >= right || top >= low) return; // else its edge would be seen
    wasm.placed(at, width, height, from, across, high, ...into, left, top, right, low, shareOf(share, 256), temp);
  };
  const mix = (at: number, from: number, share: number) => wasm.mixed(at, from, size, shareOf(share, 32_768, 32_767));

  const make = (all: readonly PlaneStep[], at: number): void => {
    bytes.fill(16, at, at + width * height);
    bytes.fill(128, at + width * height, at + size);
    for (const step of all) {
      switch (step.kind) {
        case 'colours':
          load(wasm, step.cube);
          wasm.coloured(at, width, height, 0, 0, width, height, OWN);
          break;
        case 'grain':
          wasm.grained(at, width, height, ...grainOf(step.size, step.amount, step.seed), temp);
          break;
        case 'sharpen':
          bytes.copyWithin(over, at, at + width * height);
          wasm.sharpened(over, at, width, height, sharpnessOf(step.amount));
          break;
        case 'box': {
          const [x, y, across, high] = within(step.part);
          put(step.planes, across * high * 2.5, over);
          wasm.laid(at, width, height, over, across, high, x, y);
          break;
        }
        case 'placed':
          put(step.planes, step.width * step.height * 1.5, over);
          lay(at, over, step.width, step.height, step.laid, step.share);
          break;
        case 'group': {
          const own = at + each;
          make(step.steps, own);
          if (step.laid) lay(at, own, width, height, step.laid, step.share);
          else if (step.mask) {
            put(step.mask, width * height, over);
            wasm.masked(at, own, over, width, height);
          } else mix(at, own, step.share);
          break;
        }
        default: {
          const to = step.share === 1 ? at : over;
          put(step.planes, size, to);
          if (step.coloured) {
            load(wasm, step.coloured.cube);
            wasm.coloured(to, width, height, ...within(step.coloured.part), OWN);
          }
          if (to === over) mix(at, over, step.share);
        }
      }
    }
  };
  make(steps, PIXELS);
  return bytes.slice(PIXELS, PIXELS + size);
}

/**
 * One plane of levels laid into another, once or several times one over the other, each by so much (0 to 1): from nothing.
 *
 * @returns a byte for each of width × height, for the caller to keep
 */
export function laidPlane(
  levels: Uint8Array,
  size: { width: number; height: number },
  { width, height }: { width: number; height: number },
  layings: readonly { laid: Laying; share: number }[],
): Uint8Array<ArrayBuffer> {
  if (levels.length !== size.width * size.height) throw new RangeError('not a plane of that size');
  const wasm = kernels();
  const from = PIXELS + upTo16(width * height) + SPARE;
  const temp = from + upTo16(levels.length) + SPARE;
  const bytes = room(wasm, temp - PIXELS + noted(size.width, width));
  bytes.fill(0, PIXELS, PIXELS + width * height);
  bytes.set(levels, from);
  for (const { laid, share } of layings) {
    const { left, top, right, low } = laid.kept;
    wasm.plane(PIXELS, width, height, from, size.width, size.height, ...laid.into, left, top, right, low, shareOf(share, 256), temp);
  }
  return bytes.slice(PIXELS, PIXELS + width * height);
}

/** A picture in planes (yuv420p) through a cube of colours; both sides even. */
export function colouredPlanes(planes: Uint8Array, width: number, height: number, cube: Int16Array): Uint8Array<ArrayBuffer> {
  const part = { x: 0, y: 0, width, height };
  return composed(width, height, [{ kind: 'picture', planes, share: 1, coloured: { cube, part } }]);
}
