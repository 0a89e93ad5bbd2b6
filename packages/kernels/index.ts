import { WASM } from './wasm';

/** Entries on a side of a cube of colours. */
export const CUBE_SIDE = 33;

/** What a level is counted in within a cube: 64 for one. */
export const CUBE_UNIT = 64;

/** int16 for each entry of a cube. */
export const CUBE_ENTRY = 4;

/** Entries past the end that the kernel may read, with no weight. */
const PAST = CUBE_SIDE * CUBE_SIDE + CUBE_SIDE + 1;

interface Exports {
  memory: WebAssembly.Memory;
  cube(at: number, count: number, table: number): void;
  sharpen(from: number, to: number, width: number, height: number, amount: number): void;
  grain(at: number, width: number, height: number, step: number, amount: number, seed: number): void;
  planes(from: number, to: number, width: number, height: number, open: boolean): void;
  mixed(at: number, over: number, count: number, share: number): void;
  laid(at: number, width: number, height: number, box: number, across: number, high: number, x: number, y: number): void;
  coloured(at: number, width: number, height: number, x: number, y: number, across: number, high: number, table: number): void;
}

let made: Exports | null = null;

/** The module, made when it is first needed. */
function kernels(): Exports {
  if (made) return made;
  const bytes = Uint8Array.from(atob(WASM), (letter) => letter.charCodeAt(0));
  made = new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as Exports;
  return made;
}

/** What the module keeps for itself at the beginning of its memory, in bytes. */
const OWN = 1024;

const CUBE_BYTES = (CUBE_SIDE ** 3 + PAST) * CUBE_ENTRY * 2;

/** Where pixels begin: after the cube, on a whole number of 16 bytes. */
const PIXELS = OWN + Math.ceil(CUBE_BYTES / 16) * 16;

/** Makes room for so many bytes of pixels. */
function room({ memory }: Exports, bytes: number): Uint8Array<ArrayBuffer> {
  const missing = PIXELS + bytes - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / 65_536));
  return new Uint8Array(memory.buffer as ArrayBuffer);
}

let loaded: Int16Array | null = null;

/** Has a cube lie where the kernels look for it. */
function load(wasm: Exports, cube: Int16Array): void {
  if (cube.length !== CUBE_SIDE ** 3 * CUBE_ENTRY) throw new RangeError('not a cube of that size');
  if (loaded === cube) return;
  new Int16Array(wasm.memory.buffer, OWN, cube.length).set(cube);
  loaded = cube;
}

/**
 * Takes pixels through a cube of colours, in place.
 *
 * @param rgba four bytes for each pixel, not multiplied by what shines through
 * @param cube CUBE_SIDE³ entries from red to blue, CUBE_ENTRY int16 each, in 1/CUBE_UNIT of a level
 */
export function throughCube(rgba: Uint8ClampedArray, cube: Int16Array): void {
  const wasm = kernels();
  const bytes = room(wasm, rgba.length);
  load(wasm, cube);
  bytes.set(rgba, PIXELS);
  wasm.cube(PIXELS, rgba.length >> 2, OWN);
  rgba.set(bytes.subarray(PIXELS, PIXELS + rgba.length));
}

/**
 * Sharpens a picture in place.
 *
 * @param amount how much of what a pixel differs from those around it is added: 0 to 4
 */
export function sharpen(rgba: Uint8ClampedArray, width: number, height: number, amount: number): void {
  if (rgba.length !== width * height * 4) throw new RangeError('not a picture of that size');
  const wasm = kernels();
  const bytes = room(wasm, rgba.length * 2);
  bytes.set(rgba, PIXELS);
  const to = PIXELS + rgba.length;
  wasm.sharpen(PIXELS, to, width, height, Math.round(amount * 256));
  rgba.set(bytes.subarray(to, to + rgba.length));
}

/**
 * Lays grain over a picture in place, the same for the same seed.
 *
 * @param size pixels across one grain
 * @param amount levels at most, 0 to 255
 */
export function grain(rgba: Uint8ClampedArray, width: number, height: number, size: number, amount: number, seed: number): void {
  if (rgba.length !== width * height * 4) throw new RangeError('not a picture of that size');
  const wasm = kernels();
  const bytes = room(wasm, rgba.length);
  bytes.set(rgba, PIXELS);
  wasm.grain(PIXELS, width, height, Math.max(1, Math.round(256 / size)), Math.round(amount), seed | 0);
  rgba.set(bytes.subarray(PIXELS, PIXELS + rgba.length));
}

/**
 * RGBA pixels as Y, Cb and Cr planes, 4:2:0, in the matrix of BT.709 and its limited range (ITU-R BT.709-6, section 3): what video
 * encoders take. Left to themselves, browsers take another matrix, and every colour is a little off.
 *
 * @param rgba four bytes for each of width × height pixels, multiplied by what shines through, as canvases keep them; both even, 4 at least across
 * @param open what shines through is kept, as a fourth plane, and taken out of the colours
 * @returns the planes one after the other, for the caller to keep: 1.5 bytes for each pixel, 2.5 where open
 */
export function toPlanes(rgba: Uint8Array | Uint8ClampedArray, width: number, height: number, open = false): Uint8Array<ArrayBuffer> {
  if (width < 4 || width % 2 !== 0 || height % 2 !== 0 || rgba.length !== width * height * 4)
    throw new RangeError('not a picture of that size');
  const wasm = kernels();
  const size = width * height * (open ? 2.5 : 1.5);
  const bytes = room(wasm, rgba.length + size);
  bytes.set(rgba, PIXELS);
  const to = PIXELS + rgba.length;
  wasm.planes(PIXELS, to, width, height, open);
  return bytes.slice(to, to + size);
}

/** A part of a frame, in pixels, all even. */
export interface Part {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What goes over a frame in planes. */
export type PlaneStep =
  /** A whole frame in planes, of which a part is first taken through a cube, and of which so much is seen (0 to 1). */
  | { kind: 'picture'; planes: Uint8Array; share: number; coloured: { cube: Int16Array; part: Part } | null }
  /** A part with what shines through, as {@link toPlanes} makes it. */
  | { kind: 'box'; planes: Uint8Array; part: Part }
  /** All of it through a cube. */
  | { kind: 'colours'; cube: Int16Array };

/** Room for what kernels write past the end of a frame. */
const SPARE = 16;

/**
 * A frame made in planes (yuv420p), step by step, from black.
 *
 * @param width of the frame in pixels; even, as its height is
 * @returns 1.5 bytes for each pixel, for the caller to keep
 */
export function composed(width: number, height: number, steps: readonly PlaneStep[]): Uint8Array<ArrayBuffer> {
  const wasm = kernels();
  const size = width * height * 1.5;
  const over = PIXELS + Math.ceil(size / 16) * 16 + SPARE;
  const largest = Math.max(size, ...steps.map((step) => ('planes' in step ? step.planes.length : 0)));
  const bytes = room(wasm, over - PIXELS + largest + SPARE);
  const within = ({ x, y, width: across, height: high }: Part) => {
    if ([x, y, across, high].some((n) => n % 2 !== 0) || x < 0 || y < 0 || x + across > width || y + high > height)
      throw new RangeError('not a part of the frame');
    return [x, y, across, high] as const;
  };
  bytes.fill(16, PIXELS, PIXELS + width * height);
  bytes.fill(128, PIXELS + width * height, PIXELS + size);
  for (const step of steps) {
    if (step.kind === 'colours') {
      load(wasm, step.cube);
      wasm.coloured(PIXELS, width, height, 0, 0, width, height, OWN);
    } else if (step.kind === 'box') {
      const [x, y, across, high] = within(step.part);
      if (step.planes.length !== across * high * 2.5) throw new RangeError('not planes of that size');
      bytes.set(step.planes, over);
      wasm.laid(PIXELS, width, height, over, across, high, x, y);
    } else {
      if (step.planes.length !== size) throw new RangeError('not planes of that size');
      const at = step.share === 1 ? PIXELS : over;
      bytes.set(step.planes, at);
      if (step.coloured) {
        load(wasm, step.coloured.cube);
        wasm.coloured(at, width, height, ...within(step.coloured.part), OWN);
      }
      if (at === over) wasm.mixed(PIXELS, over, size, Math.min(32_767, Math.round(step.share * 32_768)));
    }
  }
  return bytes.slice(PIXELS, PIXELS + size);
}
