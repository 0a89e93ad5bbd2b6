import { grainOf, kernels, load, OWN, PIXELS, room, sharpnessOf } from './module';

export { CUBE_ENTRY, CUBE_SIDE, CUBE_UNIT } from './module';
export * from './compose';

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
  wasm.sharpen(PIXELS, to, width, height, sharpnessOf(amount));
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
  wasm.grain(PIXELS, width, height, ...grainOf(size, amount, seed));
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

/**
 * What shines through pixels, by itself.
 *
 * @param rgba four bytes for each pixel
 * @returns one byte for each, for the caller to keep
 */
export function opacitiesOf(rgba: Uint8Array | Uint8ClampedArray): Uint8Array<ArrayBuffer> {
  const wasm = kernels();
  const count = rgba.length >> 2;
  const bytes = room(wasm, rgba.length + count);
  bytes.set(rgba, PIXELS);
  const to = PIXELS + rgba.length;
  wasm.opacities(PIXELS, to, count);
  return bytes.slice(to, to + count);
}
