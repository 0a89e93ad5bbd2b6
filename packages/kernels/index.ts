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

/**
 * Takes pixels through a cube of colours, in place.
 *
 * @param rgba four bytes for each pixel, not multiplied by what shines through
 * @param cube CUBE_SIDE³ entries from red to blue, CUBE_ENTRY int16 each, in 1/CUBE_UNIT of a level
 */
export function throughCube(rgba: Uint8ClampedArray, cube: Int16Array): void {
  if (cube.length !== CUBE_SIDE ** 3 * CUBE_ENTRY) throw new RangeError('not a cube of that size');
  const wasm = kernels();
  const bytes = room(wasm, rgba.length);
  if (loaded !== cube) {
    new Int16Array(wasm.memory.buffer, OWN, cube.length).set(cube);
    loaded = cube;
  }
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
