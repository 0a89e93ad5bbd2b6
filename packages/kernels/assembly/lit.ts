// AssemblyScript. What is done to the brightness of a frame in planes (as in planes.ts) alone.

/** A number that looks like chance, the same for the same place and seed. */
// @ts-ignore: a decorator of AssemblyScript
@inline
export function scattered(x: u32, y: u32, seed: u32): u32 {
  let h = x * 0x9e3779b1 + y * 0x85ebca77 + seed * 0xc2b2ae3d;
  h = (h ^ (h >> 15)) * 0x2c1b3c6d;
  h = (h ^ (h >> 12)) * 0x297a2d39;
  return h ^ (h >> 15);
}

/** Eight numbers as levels of luma that video has. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function video(p: usize, levels: v128): void {
  const words = i16x8.max_s(i16x8.min_s(levels, i16x8.splat(235)), i16x8.splat(16));
  v128.store64_lane(p, i8x16.narrow_i16x8_u(words, words), 0);
}

// @ts-ignore: a decorator of AssemblyScript
@inline
function eight(p: usize): v128 {
  return i16x8.extend_low_i8x16_u(v128.load64_zero(p));
}

/**
 * Lays grain over a plane of luma (8 at least across), in place: most in the middle of the scale, none in black and white. `step`: 1/256 of a grain
 * for one pixel; `amount`: levels at most, of 255. `temp`: room for two bytes for each pixel across.
 */
export function grained(at: usize, width: i32, height: i32, step: i32, amount: i32, seed: i32, temp: usize): void {
  let row: u32 = 0xffffffff;
  for (let y = 0; y < height; y += 1) {
    const gy = <u32>((y * step) >> 8);
    if (gy !== row) {
      row = gy;
      let last: u32 = 0xffffffff;
      let noise = 0;
      for (let x = 0; x < width; x += 1) {
        const gx = <u32>((x * step) >> 8);
        if (gx !== last) {
          const h = scattered(gx, gy, <u32>seed);
          noise = ((<i32>(h & 255) + <i32>((h >> 8) & 255) - 255) * amount) >> 3;
          last = gx;
        }
        store<i16>(temp + (<usize>x << 1), <i16>noise);
      }
    }
    const line = at + <usize>(y * width);
    // Some of the last eight may be done already when they are: they are taken as they were.
    const end = eight(line + <usize>(width - 8));
    for (let next = 0; next < width; next += 8) {
      const short = next + 8 > width;
      const x = short ? width - 8 : next;
      const own = short ? end : eight(line + <usize>x);
      const above = i16x8.sub(own, i16x8.splat(16));
      const stretched = i16x8.add(above, i16x8.q15mulr_sat_s(above, i16x8.splat(5387)));
      const luma = i16x8.max_s(i16x8.min_s(stretched, i16x8.splat(255)), i16x8.splat(0));
      const weight = i16x8.shr_u(i16x8.mul(luma, i16x8.sub(i16x8.splat(255), luma)), 6);
      const more = i16x8.q15mulr_sat_s(v128.load(temp + (<usize>x << 1)), i16x8.shl(weight, 7));
      video(line + <usize>x, i16x8.add(own, i16x8.q15mulr_sat_s(more, i16x8.splat(880))));
    }
  }
}

/** Takes what luma differs from its four neighbours by, `amount`/256 of it, on top of it: a plane at `from` (10 at least across) into one at `to`. */
export function sharpened(from: usize, to: usize, width: i32, height: i32, amount: i32): void {
  const by = i32x4.splat(amount);
  const half = i32x4.splat(512);
  for (let y = 0; y < height; y += 1) {
    const up = <usize>(y > 0 ? -width : 0);
    const down = <usize>(y < height - 1 ? width : 0);
    const line = from + <usize>(y * width);
    const out = to + <usize>(y * width);
    for (let x = 0; x < width; x += width - 1) {
      const p = line + <usize>x;
      const own = <i32>load<u8>(p);
      const beside = <i32>load<u8>(x > 0 ? p - 1 : p) + <i32>load<u8>(x < width - 1 ? p + 1 : p);
      const around = <i32>load<u8>(p + up) + <i32>load<u8>(p + down) + beside;
      store<u8>(out + <usize>x, <u8>max(16, min(235, own + (((own * 4 - around) * amount + 512) >> 10))));
    }
    for (let next = 1; next < width - 1; next += 8) {
      const x = <usize>min(next, width - 9);
      const p = line + x;
      const own = eight(p);
      const around = i16x8.add(i16x8.add(eight(p + up), eight(p + down)), i16x8.add(eight(p - 1), eight(p + 1)));
      const off = i16x8.sub(i16x8.shl(own, 2), around);
      const low = i32x4.shr_s(i32x4.add(i32x4.mul(i32x4.extend_low_i16x8_s(off), by), half), 10);
      const high = i32x4.shr_s(i32x4.add(i32x4.mul(i32x4.extend_high_i16x8_s(off), by), half), 10);
      video(out + x, i16x8.add(own, i16x8.narrow_i32x4_s(low, high)));
    }
  }
}
