// AssemblyScript. Planes are Y, Cb and Cr, 4:2:0, one byte each, one after the other, by BT.709 between 16 and 235 (240).

import { inCube } from './cube';

// What red, green and blue of two pixels give luma and the two of chroma, in 1/16384, from 255 levels to 219 and 224.
// @ts-ignore: a decorator of AssemblyScript
@inline
function luma(): v128 {
  return i16x8(2991, 10063, 1016, 0, 2991, 10063, 1016, 0);
}
// @ts-ignore: a decorator of AssemblyScript
@inline
function blue(): v128 {
  return i16x8(-1649, -5547, 7196, 0, -1649, -5547, 7196, 0);
}
// @ts-ignore: a decorator of AssemblyScript
@inline
function red(): v128 {
  return i16x8(7196, -6536, -660, 0, 7196, -6536, -660, 0);
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
      let above = pairs(i32x4.dot_i16x8_s(upLeft, luma()), i32x4.dot_i16x8_s(upRight, luma()));
      let below = pairs(i32x4.dot_i16x8_s(lowLeft, luma()), i32x4.dot_i16x8_s(lowRight, luma()));
      const left = i16x8.add(upLeft, lowLeft);
      const right = i16x8.add(upRight, lowRight);
      let hues = pairs(
        pairs(i32x4.dot_i16x8_s(left, blue()), i32x4.dot_i16x8_s(right, blue())),
        pairs(i32x4.dot_i16x8_s(left, red()), i32x4.dot_i16x8_s(right, red())),
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

/** Planes over others, `share`/32768 of them: `count` bytes at `over` onto those at `at`. */
export function mixed(at: usize, over: usize, count: i32, share: i32): void {
  const by = i16x8.splat(<i16>share);
  const end = at + <usize>count;
  // What is over the last whole sixteen is room that belongs to nobody.
  for (let p = at, q = over; p < end; p += 16, q += 16) {
    const under = v128.load(p);
    const above = v128.load(q);
    const low = i16x8.extend_low_i8x16_u(under);
    const high = i16x8.extend_high_i8x16_u(under);
    const lows = i16x8.q15mulr_sat_s(i16x8.sub(i16x8.extend_low_i8x16_u(above), low), by);
    const highs = i16x8.q15mulr_sat_s(i16x8.sub(i16x8.extend_high_i8x16_u(above), high), by);
    v128.store(p, i8x16.narrow_i16x8_u(i16x8.add(low, lows), i16x8.add(high, highs)));
  }
}

/** One level over another, so much of it: `alpha` of `all`. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function onto(p: usize, level: i32, alpha: i32, all: i32): void {
  const under = <i32>load<u8>(p);
  store<u8>(p, <u8>((under * (all - alpha) + level * alpha + (all >> 1)) / all));
}

/**
 * Lays planes with what shines through (as {@link planes} makes them) over those of a frame `width` by `height` at `at`: a box of `across` by `high`
 * (all even) at `box`, with its corner at `x`, `y` of the frame (even).
 */
export function laid(at: usize, width: i32, height: i32, box: usize, across: i32, high: i32, x: i32, y: i32): void {
  const size = across * high;
  const whole = width * height;
  for (let row = 0; row < high; row += 2) {
    for (let column = 0; column < across; column += 2) {
      const own = box + <usize>(row * across + column);
      const alpha = own + <usize>(size + (size >> 1));
      const above = <i32>load<u16>(alpha);
      const below = <i32>load<u16>(alpha + <usize>across);
      if ((above | below) === 0) continue;
      const p = at + <usize>((y + row) * width + x + column);
      onto(p, load<u8>(own), above & 255, 255);
      onto(p + 1, load<u8>(own + 1), above >> 8, 255);
      onto(p + <usize>width, load<u8>(own + <usize>across), below & 255, 255);
      onto(p + <usize>width + 1, load<u8>(own + <usize>across + 1), below >> 8, 255);
      const through = (above & 255) + (above >> 8) + (below & 255) + (below >> 8);
      const from = box + <usize>(size + (row >> 1) * (across >> 1) + (column >> 1));
      const to = at + <usize>(whole + ((y + row) >> 1) * (width >> 1) + ((x + column) >> 1));
      onto(to, load<u8>(from), through, 1020);
      onto(to + <usize>(whole >> 2), load<u8>(from + <usize>(size >> 2)), through, 1020);
    }
  }
}

/** A place in the cube, out of 1/256 of one. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function within(place: i32): i32 {
  return max(0, min(8192, place >> 8));
}

/** What the cube makes of two pixels, as red, green, blue and nothing in 1/128 of a level. `one`, `two`: of their luma, 1/256 of a place in the cube. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function became(one: i32, two: i32, r: i32, g: i32, b: i32, table: usize): v128 {
  const first = i32x4.shr_s(inCube(within(one + r), within(one + g), within(one + b), table), 7);
  const second = i32x4.shr_s(inCube(within(two + r), within(two + g), within(two + b), table), 7);
  return i16x8.max_s(i16x8.min_s(i16x8.narrow_i32x4_s(first, second), i16x8.splat(32640)), i16x8.splat(0));
}

/**
 * Takes a part of a frame's planes (`width` by `height` at `at`; the part `across` by `high` from `x`, `y` on; all even) through a cube of
 * colours, in place.
 */
export function coloured(at: usize, width: i32, height: i32, x: i32, y: i32, across: i32, high: i32, table: usize): void {
  const whole = width * height;
  const row = <usize>width;
  // 8192 places of 255 levels, 1/256 of a place: for one level of luma, Cr in red and green, Cb in green and blue.
  const one = 9576;
  for (let down = y; down < y + high; down += 2) {
    for (let aside = x; aside < x + across; aside += 2) {
      const p = at + <usize>(down * width + aside);
      const hue = at + <usize>(whole + (down >> 1) * (width >> 1) + (aside >> 1));
      const cb = <i32>load<u8>(hue) - 128;
      const cr = <i32>load<u8>(hue + <usize>(whole >> 2)) - 128;
      const r = cr * 14744 + 128 - 16 * one;
      const g = cb * -1754 + cr * -4383 + 128 - 16 * one;
      const b = cb * 17373 + 128 - 16 * one;
      const up = became(<i32>load<u8>(p) * one, <i32>load<u8>(p + 1) * one, r, g, b, table);
      const low = became(<i32>load<u8>(p + row) * one, <i32>load<u8>(p + row + 1) * one, r, g, b, table);
      const lights = pairs(i32x4.dot_i16x8_s(up, luma()), i32x4.dot_i16x8_s(low, luma()));
      const levels = four(i32x4.shr_s(i32x4.add(lights, i32x4.splat((16 << 21) + (1 << 20))), 21));
      store<u16>(p, <u16>levels);
      store<u16>(p + row, <u16>(levels >> 16));
      const halves = pairs(
        i32x4.add(i32x4.dot_i16x8_s(up, blue()), i32x4.dot_i16x8_s(low, blue())),
        i32x4.add(i32x4.dot_i16x8_s(up, red()), i32x4.dot_i16x8_s(low, red())),
      );
      const hues = four(i32x4.shr_s(i32x4.add(pairs(halves, halves), i32x4.splat((128 << 23) + (1 << 22))), 23));
      store<u8>(hue, <u8>hues);
      store<u8>(hue + <usize>(whole >> 2), <u8>(hues >> 8));
    }
  }
}

/** One colour of eight pixels as bytes, in the lower half: their light in 1/32 of a level, and what the colour adds to it. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function eight(light: v128, more: v128): v128 {
  const levels = i16x8.shr_s(i16x8.add(i16x8.add(light, more), i16x8.splat(16)), 5);
  return i8x16.narrow_i16x8_u(levels, levels);
}

/** Eight pixels at `to`, of the luma at `from` and what their hues add to red, green and blue. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function lightened(from: usize, to: usize, r: v128, g: v128, b: v128): void {
  const above = i16x8.sub(i16x8.extend_low_i8x16_u(v128.load64_zero(from)), i16x8.splat(16));
  const light = i16x8.q15mulr_sat_s(i16x8.shl(above, 6), i16x8.splat(19077));
  const rg = v128.shuffle<i8>(eight(light, r), eight(light, g), 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
  const ba = v128.shuffle<i8>(eight(light, b), i8x16.splat(-1), 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
  v128.store(to, v128.shuffle<i16>(rg, ba, 0, 8, 1, 9, 2, 10, 3, 11));
  v128.store(to + 16, v128.shuffle<i16>(rg, ba, 4, 12, 5, 13, 6, 14, 7, 15));
}

/**
 * From planes at `from` to pixels at `to`, four bytes each, nothing shining through: `width` by `height`, even, 8 at least across. The four
 * pixels of a hue have it alike.
 */
export function shown(from: usize, to: usize, width: i32, height: i32): void {
  const row = <usize>width;
  const hues = from + row * <usize>height;
  const quarter = (row * <usize>height) >> 2;
  for (let y = 0; y < height; y += 2) {
    const line = <usize>y * row;
    for (let next = 0; next < width; next += 8) {
      // The last eight may be some of the ones before once more.
      const x = <usize>min(next, width - 8);
      const hue = hues + (line >> 2) + (x >> 1);
      const u = i16x8.sub(i16x8.extend_low_i8x16_u(v128.load32_zero(hue)), i16x8.splat(128));
      const v = i16x8.sub(i16x8.extend_low_i8x16_u(v128.load32_zero(hue + quarter)), i16x8.splat(128));
      const cb = i16x8.shl(v128.shuffle<i16>(u, u, 0, 0, 1, 1, 2, 2, 3, 3), 7);
      const cr = i16x8.shl(v128.shuffle<i16>(v, v, 0, 0, 1, 1, 2, 2, 3, 3), 7);
      const r = i16x8.q15mulr_sat_s(cr, i16x8.splat(14686));
      const g = i16x8.add(i16x8.q15mulr_sat_s(cb, i16x8.splat(-1747)), i16x8.q15mulr_sat_s(cr, i16x8.splat(-4366)));
      const b = i16x8.q15mulr_sat_s(cb, i16x8.splat(17305));
      lightened(from + line + x, to + ((line + x) << 2), r, g, b);
      lightened(from + line + row + x, to + ((line + row + x) << 2), r, g, b);
    }
  }
}

/** Pixels in half the size each way, each the mean of four: `width` by `height` at `from` (what is odd of them left out) into `to`, four at least across. */
export function halved(from: usize, to: usize, width: i32, height: i32): void {
  const row = <usize>width << 2;
  const across = width >> 1;
  for (let y = 0; y < height >> 1; y += 1) {
    const up = from + ((<usize>y * row) << 1);
    for (let next = 0; next < across; next += 2) {
      // The last two may be one of those before once more.
      const x = <usize>min(next, across - 2);
      const above = v128.load(up + (x << 3));
      const below = v128.load(up + row + (x << 3));
      const left = i16x8.add(i16x8.extend_low_i8x16_u(above), i16x8.extend_low_i8x16_u(below));
      const right = i16x8.add(i16x8.extend_high_i8x16_u(above), i16x8.extend_high_i8x16_u(below));
      const sums = i16x8.add(v128.shuffle<i64>(left, right, 0, 2), v128.shuffle<i64>(left, right, 1, 3));
      const means = i16x8.shr_u(i16x8.add(sums, i16x8.splat(2)), 2);
      v128.store64_lane(to + ((<usize>(y * across) + x) << 2), i8x16.narrow_i16x8_u(means, means), 0);
    }
  }
}
