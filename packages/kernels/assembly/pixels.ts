// AssemblyScript. Pixels are RGBA, one byte each, in place where nothing else is said; what shines through stays as it is.

import { inCube, placeOf } from './cube';
import { scattered } from './lit';

export { grained, sharpened } from './lit';
export { masked, opacities, placed, plane } from './placed';
export { coloured, halved, laid, mixed, planes, shown } from './planes';

/**
 * Takes every colour through a cube, tetrahedral between its entries: `count` pixels at `at`. The cube holds 33 × 33 × 33 entries from red
 * to blue, each red, green, blue and nothing in int16, in 1/64 of a level.
 */
export function cube(at: usize, count: i32, table: usize): void {
  const end = at + (<usize>count << 2);
  for (let p = at; p < end; p += 4) {
    const pixel = load<u32>(p);
    const became = inCube(placeOf(pixel & 255), placeOf((pixel >> 8) & 255), placeOf((pixel >> 16) & 255), table);
    const sum = i32x4.shr_s(i32x4.add(became, i32x4.splat(1 << 13)), 14);
    const words = i16x8.narrow_i32x4_s(sum, sum);
    const bytes = i8x16.narrow_i16x8_u(words, words);
    store<u32>(p, (<u32>i32x4.extract_lane(bytes, 0) & 0x00ffffff) | (pixel & 0xff000000));
  }
}

// @ts-ignore: a decorator of AssemblyScript
@inline
function level(value: i32): u32 {
  return <u32>(value < 0 ? 0 : value > 255 ? 255 : value);
}

/** Takes what a pixel differs from its four neighbours by, `amount`/256 of it, on top of it: from `from` into `to`. */
export function sharpen(from: usize, to: usize, width: i32, height: i32, amount: i32): void {
  const row = width << 2;
  for (let y = 0; y < height; y += 1) {
    const up = y > 0 ? -row : 0;
    const down = y < height - 1 ? row : 0;
    for (let x = 0; x < width; x += 1) {
      const p = from + <usize>(y * row + (x << 2));
      const left = x > 0 ? -4 : 0;
      const right = x < width - 1 ? 4 : 0;
      let out: u32 = load<u32>(p) & 0xff000000;
      for (let c = 0; c < 3; c += 1) {
        const at = p + c;
        const own = <i32>load<u8>(at);
        const around = <i32>load<u8>(at + up) + <i32>load<u8>(at + down) + <i32>load<u8>(at + left) + <i32>load<u8>(at + right);
        const more = ((own * 4 - around) * amount + 512) >> 10;
        out |= level(own + more) << (c << 3);
      }
      store<u32>(to + <usize>(y * row + (x << 2)), out);
    }
  }
}

/**
 * Lays grain over a picture, in place: most in the middle of the scale, none in black and white. `step`: 1/256 of a grain for one pixel;
 * `amount`: levels at most.
 */
export function grain(at: usize, width: i32, height: i32, step: i32, amount: i32, seed: i32): void {
  for (let y = 0; y < height; y += 1) {
    const gy = <u32>((y * step) >> 8);
    for (let x = 0; x < width; x += 1) {
      const p = at + (<usize>(y * width + x) << 2);
      const pixel = load<u32>(p);
      const r = <i32>(pixel & 255);
      const g = <i32>((pixel >> 8) & 255);
      const b = <i32>((pixel >> 16) & 255);
      const luma = (r * 54 + g * 183 + b * 19) >> 8;
      const h = scattered(<u32>((x * step) >> 8), gy, <u32>seed);
      const noise = <i32>(h & 255) + <i32>((h >> 8) & 255) - 255;
      const weight = (luma * (255 - luma)) >> 6;
      const more = (noise * amount * weight) >> 16;
      store<u32>(p, level(r + more) | (level(g + more) << 8) | (level(b + more) << 16) | (pixel & 0xff000000));
    }
  }
}
