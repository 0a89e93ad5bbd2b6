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
 * The pixels of a picture in planes, as `toPlanes` makes them (not open); in half its size each way as often as is wanted, down to eight across.
 *
 * @param planes 1.5 bytes for each of width × height pixels; both even, 8 at least across
 * @returns RGBA, four bytes for each pixel: a view of the kernels' own memory, right until one of them is used again
 */
export function fromPlanes(
  planes: Uint8Array,
  width: number,
  height: number,
  halvings = 0,
): { rgba: Uint8ClampedArray<ArrayBuffer>; width: number; height: number } {
  if (width < 8 || width % 2 !== 0 || height < 2 || height % 2 !== 0 || planes.length !== width * height * 1.5)
    throw new RangeError('not planes of that size');
  const wasm = kernels();
  const start = PIXELS + Math.ceil(planes.length / 16) * 16;
  const bytes = room(wasm, start - PIXELS + width * height * 8);
  bytes.set(planes, PIXELS);
  wasm.shown(PIXELS, start, width, height);
  const made = { at: start, width, height };
  for (let n = 0; n < halvings && made.width >= 16 && made.height >= 4; n += 1) {
    const to = made.at + made.width * made.height * 4;
    wasm.halved(made.at, to, made.width, made.height);
    Object.assign(made, { at: to, width: made.width >> 1, height: made.height >> 1 });
  }
  const rgba = new Uint8ClampedArray(bytes.buffer, made.at, made.width * made.height * 4);
  return { rgba, width: made.width, height: made.height };
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
