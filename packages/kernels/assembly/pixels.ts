// AssemblyScript. Pixels are RGBA, one byte each, in place where nothing else is said; what shines through stays as it is.

/** Entries on a side of a cube of colours, less one. */
const STEPS: i32 = 32;
/** Bytes from one entry to the next, by blue, green and red: four int16 each, of which the last is not used. */
const BLUE: usize = 8;
const GREEN: usize = BLUE * 33;
const RED: usize = GREEN * 33;

/** A level as a place in the cube, in 1/256 of a step: 0 to STEPS × 256. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function placeOf(level: i32): i32 {
  return (level * (STEPS * 257) + 128) >> 8;
}

// @ts-ignore: a decorator of AssemblyScript
@inline
function weighed(entry: usize, weight: i32): v128 {
  return i32x4.mul(v128.load16x4_s(entry), i32x4.splat(weight));
}

/**
 * Takes every colour through a cube, tetrahedral between its entries: `count` pixels at `at`. The cube holds 33 × 33 × 33 entries from red
 * to blue, each red, green, blue and nothing in int16, in 1/64 of a level.
 */
export function cube(at: usize, count: i32, table: usize): void {
  const end = at + (<usize>count << 2);
  for (let p = at; p < end; p += 4) {
    const pixel = load<u32>(p);
    const r = placeOf(pixel & 255);
    const g = placeOf((pixel >> 8) & 255);
    const b = placeOf((pixel >> 16) & 255);
    const base = table + <usize>(r >> 8) * RED + <usize>(g >> 8) * GREEN + <usize>(b >> 8) * BLUE;
    const fr = r & 255;
    const fg = g & 255;
    const fb = b & 255;
    // From the corner of the lowest to that of the highest along the sides, the longest way first.
    let most = fr;
    let middle = fg;
    let least = fb;
    let first = RED;
    let second = GREEN;
    let third = BLUE;
    if (most < middle) {
      const f = most;
      most = middle;
      middle = f;
      const s = first;
      first = second;
      second = s;
    }
    if (middle < least) {
      const f = middle;
      middle = least;
      least = f;
      const s = second;
      second = third;
      third = s;
    }
    if (most < middle) {
      const f = most;
      most = middle;
      middle = f;
      const s = first;
      first = second;
      second = s;
    }
    const one = base + first;
    const two = one + second;
    let sum = weighed(base, 256 - most);
    sum = i32x4.add(sum, weighed(one, most - middle));
    sum = i32x4.add(sum, weighed(two, middle - least));
    sum = i32x4.add(sum, weighed(two + third, least));
    sum = i32x4.shr_s(i32x4.add(sum, i32x4.splat(1 << 13)), 14);
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

// @ts-ignore: a decorator of AssemblyScript
@inline
function scattered(x: u32, y: u32, seed: u32): u32 {
  let h = x * 0x9e3779b1 + y * 0x85ebca77 + seed * 0xc2b2ae3d;
  h = (h ^ (h >> 15)) * 0x2c1b3c6d;
  h = (h ^ (h >> 12)) * 0x297a2d39;
  return h ^ (h >> 15);
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

/** The sums of each two lanes that lie beside each other, of one and then of another. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function pairs(a: v128, b: v128): v128 {
  return i32x4.add(v128.shuffle<i32>(a, b, 0, 2, 4, 6), v128.shuffle<i32>(a, b, 1, 3, 5, 7));
}

/** Four numbers from 0 to 255 as four bytes. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function four(levels: v128): u32 {
  const words = i16x8.narrow_i32x4_s(levels, levels);
  return <u32>i32x4.extract_lane(i8x16.narrow_i16x8_u(words, words), 0);
}

/** What four pixels have of a colour, in 1/16384 and multiplied by what shines through, without that: `through` from 0 to `all`. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function straight(sums: v128, through: v128, all: f32): v128 {
  const share = f32x4.div(f32x4.splat(all), f32x4.convert_i32x4_s(i32x4.max_s(through, i32x4.splat(1))));
  return i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.convert_i32x4_s(sums), share));
}

/**
 * From pixels to planes as encoders take them, by BT.709 between 16 and 235 (240): `width` by `height` pixels (even, 4 at least across) at `from`,
 * multiplied by what shines through, into a plane of luma, two of chroma of a quarter of its size each, and, where `open`, one of what
 * shines through, one after the other at `to`. What shines through is taken out of the colours then.
 */
export function planes(from: usize, to: usize, width: i32, height: i32, open: bool): void {
  // Red, green, blue in 1/16384, from 255 levels to 219 and 224.
  const luma = i16x8(2991, 10063, 1016, 0, 2991, 10063, 1016, 0);
  const blue = i16x8(-1649, -5547, 7196, 0, -1649, -5547, 7196, 0);
  const red = i16x8(7196, -6536, -660, 0, 7196, -6536, -660, 0);
  const count = <usize>(width * height);
  const row = <usize>width;
  const quarter = count >> 2;
  const alpha = count + quarter + quarter;
  for (let y = 0; y < height; y += 2) {
    const line = <usize>y * row;
    for (let next = 0; next < width; next += 4) {
      // The last four may be two of the ones before once more.
      const x = <usize>min(next, width - 4);
      const p = from + ((line + x) << 2);
      const out = to + line + x;
      const hue = to + count + (line >> 2) + (x >> 1);
      const up = v128.load(p);
      const low = v128.load(p + (row << 2));
      if (open && !v128.any_true(v128.or(up, low))) {
        store<u32>(out, 0x10101010);
        store<u32>(out + row, 0x10101010);
        store<u16>(hue, 0x8080);
        store<u16>(hue + quarter, 0x8080);
        store<u32>(out + alpha, 0);
        store<u32>(out + alpha + row, 0);
        continue;
      }
      const upLeft = i16x8.extend_low_i8x16_u(up);
      const upRight = i16x8.extend_high_i8x16_u(up);
      const lowLeft = i16x8.extend_low_i8x16_u(low);
      const lowRight = i16x8.extend_high_i8x16_u(low);
      let above = pairs(i32x4.dot_i16x8_s(upLeft, luma), i32x4.dot_i16x8_s(upRight, luma));
      let below = pairs(i32x4.dot_i16x8_s(lowLeft, luma), i32x4.dot_i16x8_s(lowRight, luma));
      const left = i16x8.add(upLeft, lowLeft);
      const right = i16x8.add(upRight, lowRight);
      let hues = pairs(
        pairs(i32x4.dot_i16x8_s(left, blue), i32x4.dot_i16x8_s(right, blue)),
        pairs(i32x4.dot_i16x8_s(left, red), i32x4.dot_i16x8_s(right, red)),
      );
      if (open) {
        const throughUp = i32x4.shr_u(up, 24);
        const throughLow = i32x4.shr_u(low, 24);
        above = straight(above, throughUp, 255);
        below = straight(below, throughLow, 255);
        const each = i32x4.add(throughUp, throughLow);
        const both = pairs(each, each);
        hues = straight(hues, both, 1020);
        store<u32>(out + alpha, four(throughUp));
        store<u32>(out + alpha + row, four(throughLow));
      }
      const half = i32x4.splat((16 << 14) + (1 << 13));
      store<u32>(out, four(i32x4.shr_s(i32x4.add(above, half), 14)));
      store<u32>(out + row, four(i32x4.shr_s(i32x4.add(below, half), 14)));
      const levels = four(i32x4.shr_s(i32x4.add(hues, i32x4.splat((128 << 16) + (1 << 15))), 16));
      store<u16>(hue, <u16>levels);
      store<u16>(hue + quarter, <u16>(levels >> 16));
    }
  }
}
