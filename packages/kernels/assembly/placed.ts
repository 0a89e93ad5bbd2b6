// AssemblyScript. Planes as in planes.ts; a picture laid anywhere into a frame, bilinear between its pixels, its edges as soft as one pixel of the frame.

let spanFrom: i32 = 0;
let spanTo: i32 = 0;

/** Narrows the span of columns to those where `by` · (x + ½) + `base` lies between `low` and `high`. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function narrow(by: f64, base: f64, low: f64, high: f64): void {
  if (low > high || Math.abs(by) < 1e-9) {
    if (low > high || base < low || base > high) spanTo = spanFrom;
    return;
  }
  const one = (low - base) / by;
  const other = (high - base) / by;
  spanFrom = max(spanFrom, <i32>Math.ceil(Math.max(-1e6, Math.min(1e6, Math.min(one, other))) - 0.5));
  spanTo = min(spanTo, <i32>Math.floor(Math.max(-1e6, Math.min(1e6, Math.max(one, other))) - 0.5) + 1);
}

/** How much of a pixel lies inside of two edges, `past` the one and `before` the other, in pixels of the frame. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function inside(past: f64, before: f64): f64 {
  return Math.max(0, Math.min(1, past + 0.5)) * Math.max(0, Math.min(1, before + 0.5));
}

/** `level`, in 1/256, over what is at `p`, `share`/256 of it. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function over(p: usize, level: i32, share: i32): void {
  store<u8>(p, <u8>((<i32>load<u8>(p) * (256 - share) * 256 + level * share + 32768) >> 16));
}

/** Between four pixels: `x`, `y` in 1/256 of the way from the first. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function between(a: i32, b: i32, c: i32, d: i32, x: i32, y: i32): i32 {
  return ((a * (256 - x) + b * x) * (256 - y) + (c * (256 - x) + d * x) * y) >> 8;
}

/** A row between two of a picture, `y`/128 of the way, `count` pixels in 1/128 of a level, 16 bits each: up to 7 more are written. */
function row(to: usize, above: usize, below: usize, count: i32, y: i32): void {
  const near = i16x8.splat(<i16>(128 - y));
  const far = i16x8.splat(<i16>y);
  for (let i = 0; i < count; i += 8) {
    const one = i16x8.extend_low_i8x16_u(v128.load64_zero(above + i));
    const other = i16x8.extend_low_i8x16_u(v128.load64_zero(below + i));
    v128.store(to + (i << 1), i16x8.add(i16x8.mul(one, near), i16x8.mul(other, far)));
  }
}

/**
 * Lays a plane `across` by `high` at `from` over one `width` by `height` at `at`. The pixel of the frame in column x and row y shows the place
 * u = `a`·(x + ½) + `c`·(y + ½) + `e`, v = `b`·(x + ½) + `d`·(y + ½) + `f`; only what lies between `left`, `top`, `right` and `low` is seen,
 * `share`/256 of it. `temp`: room for two bytes for each pixel across, eight for each one of the frame's, and 64.
 */
export function plane(
  at: usize, width: i32, height: i32, from: usize, across: i32, high: i32,
  a: f64, b: f64, c: f64, d: f64, e: f64, f: f64,
  left: f64, top: f64, right: f64, low: f64, share: i32, temp: usize,
): void {
  // Pixels of the picture for one of the frame, each way.
  const su = Math.sqrt(a * a + c * c);
  const sv = Math.sqrt(b * b + d * d);
  const insideU = Math.max(0.5, su / 2);
  const insideV = Math.max(0.5, sv / 2);
  const firstU = <i32>Math.max(0, Math.floor(left));
  const firstV = <i32>Math.max(0, Math.floor(top));
  const lastU = <i32>Math.min(across, Math.ceil(right)) - 1;
  const lastV = <i32>Math.min(high, Math.ceil(low)) - 1;
  const stride = <usize>across;
  const stepU = <i32>Math.round(a * 65536);
  const stepV = <i32>Math.round(b * 65536);
  // Neither turned nor slanted, all rows take the same columns: where in a row each begins, in bytes, and the weights of it and the next.
  const upright = Math.abs(b) < 1e-9 && Math.abs(c) < 1e-9;
  const columns = temp + ((<usize>across * 2 + 47) & ~15);
  let noted = false;
  for (let y = 0; y < height; y += 1) {
    const baseU = upright ? e : c * (<f64>y + 0.5) + e;
    const baseV = d * (<f64>y + 0.5) + f;
    spanFrom = 0;
    spanTo = width;
    narrow(a, baseU, left - su / 2, right + su / 2);
    narrow(b, baseV, top - sv / 2, low + sv / 2);
    const begin = spanFrom;
    const end = spanTo;
    if (begin >= end) continue;
    narrow(a, baseU, left + insideU, right - insideU);
    narrow(b, baseV, top + insideV, low - insideV);
    const inner = spanFrom < spanTo ? spanFrom : end;
    const outer = spanFrom < spanTo ? spanTo : end;
    const line = at + <usize>(y * width);
    // Near an edge: as much as lies inside of it, and no pixel from beyond.
    for (let x = begin; x < end; x += 1) {
      if (x === inner) x = outer;
      if (x >= end) break;
      const u = a * (<f64>x + 0.5) + baseU;
      const v = b * (<f64>x + 0.5) + baseV;
      const seen = inside((u - left) / su, (right - u) / su) * inside((v - top) / sv, (low - v) / sv);
      const pu = <i32>Math.floor((u - 0.5) * 65536);
      const pv = <i32>Math.floor((v - 0.5) * 65536);
      const one = <usize>max(firstU, min(lastU, pu >> 16));
      const two = <usize>max(firstU, min(lastU, (pu >> 16) + 1));
      const up = from + <usize>max(firstV, min(lastV, pv >> 16)) * stride;
      const down = from + <usize>max(firstV, min(lastV, (pv >> 16) + 1)) * stride;
      const level = between(load<u8>(up + one), load<u8>(up + two), load<u8>(down + one), load<u8>(down + two), (pu >> 8) & 255, (pv >> 8) & 255);
      over(line + x, level, <i32>Math.round(seen * <f64>share));
    }
    if (inner >= outer) continue;
    let pu = <i32>Math.floor((a * (<f64>inner + 0.5) + baseU - 0.5) * 65536);
    let pv = <i32>Math.floor((b * (<f64>inner + 0.5) + baseV - 0.5) * 65536);
    if (upright) {
      const ends = pu + stepU * (outer - 1 - inner);
      const first = min(pu, ends) >> 16;
      const above = from + <usize>(pv >> 16) * stride + <usize>first;
      const y128 = (pv >> 9) & 127;
      // The row below the last one is not there, and has no weight.
      row(temp, above, y128 === 0 ? above : above + stride, (max(pu, ends) >> 16) - first + 2, y128);
      pu -= first << 16;
      if (!noted) {
        for (let x = inner; x < outer; x += 1, pu += stepU) {
          const far = (pu >> 8) & 255;
          store<u32>(columns + (<usize>x << 3), <u32>(pu >> 16) << 1);
          store<u32>(columns + (<usize>x << 3) + 4, <u32>(256 - far) | (<u32>far << 16));
        }
        noted = true;
      }
      let x = inner;
      for (; x + 4 <= outer; x += 4) {
        const at4 = columns + (<usize>x << 3);
        let two = v128.load32_zero(temp + <usize>load<u32>(at4));
        two = v128.load32_lane(temp + <usize>load<u32>(at4 + 8), two, 1);
        two = v128.load32_lane(temp + <usize>load<u32>(at4 + 16), two, 2);
        two = v128.load32_lane(temp + <usize>load<u32>(at4 + 24), two, 3);
        const weights = v128.shuffle<i32>(v128.load(at4), v128.load(at4 + 16), 1, 3, 5, 7);
        let levels = i32x4.dot_i16x8_s(two, weights); // in 1/32768
        if (share < 256) {
          const words = v128.load32_zero(line + x);
          const under = i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(words));
          const seen = i32x4.mul(i32x4.shr_s(levels, 7), i32x4.splat(share));
          levels = i32x4.shr_s(i32x4.add(seen, i32x4.mul(under, i32x4.splat((256 - share) << 8))), 1);
        }
        const rounded = i32x4.shr_s(i32x4.add(levels, i32x4.splat(16384)), 15);
        const narrow16 = i16x8.narrow_i32x4_s(rounded, rounded);
        v128.store32_lane(line + x, i8x16.narrow_i16x8_u(narrow16, narrow16), 0);
      }
      for (; x < outer; x += 1) {
        const two = load<u32>(temp + <usize>load<u32>(columns + (<usize>x << 3)));
        const by = load<u32>(columns + (<usize>x << 3) + 4);
        over(line + x, <i32>(((two & 65535) * (by & 65535) + (two >> 16) * (by >> 16)) >> 7), share);
      }
      continue;
    }
    for (let x = inner; x < outer; x += 1, pu += stepU, pv += stepV) {
      const up = from + <usize>(pv >> 16) * stride + <usize>(pu >> 16);
      const one = <i32>load<u16>(up);
      const two = <i32>load<u16>(up + stride);
      const level = between(one & 255, one >> 8, two & 255, two >> 8, (pu >> 8) & 255, (pv >> 8) & 255);
      if (share === 256) store<u8>(line + x, <u8>((level + 128) >> 8));
      else over(line + x, level, share);
    }
  }
}

/**
 * Lays planes of a picture `across` by `high` at `from` over those of a frame `width` by `height` at `at` (all even). In pixels of the picture:
 * u = `a`·x + `c`·y + `e` and v = `b`·x + `d`·y + `f` is the place that a place of the frame shows, and only what lies between `left`, `top`,
 * `right` and `low` is seen; `share`/256 of it. `temp`: room for two bytes for each pixel across, eight for each one of the frame's, and 64.
 */
export function placed(
  at: usize, width: i32, height: i32, from: usize, across: i32, high: i32,
  a: f64, b: f64, c: f64, d: f64, e: f64, f: f64,
  left: f64, top: f64, right: f64, low: f64, share: i32, temp: usize,
): void {
  plane(at, width, height, from, across, high, a, b, c, d, e, f, left, top, right, low, share, temp);
  let to = at + <usize>(width * height);
  let own = from + <usize>(across * high);
  for (let hue = 0; hue < 2; hue += 1) {
    plane(
      to, width >> 1, height >> 1, own, across >> 1, high >> 1,
      a, b, c, d, e / 2, f / 2, left / 2, top / 2, right / 2, low / 2, share, temp,
    );
    to += <usize>((width * height) >> 2);
    own += <usize>((across * high) >> 2);
  }
}

/** What shines through pixels (RGBA), by itself: `count` of them. */
export function opacities(from: usize, to: usize, count: i32): void {
  for (let i: usize = 0; i < <usize>count; i += 1) store<u8>(to + i, load<u8>(from + (i << 2) + 3));
}

/** How much of a difference is seen: in 1/32767. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function part(under: v128, above: v128, by: v128): v128 {
  return i16x8.add(under, i16x8.q15mulr_sat_s(i16x8.sub(above, under), by));
}

/** The same for one level: `by` of `all`. */
// @ts-ignore: a decorator of AssemblyScript
@inline
function one(p: usize, q: usize, by: i32, all: i32): void {
  const under = <i32>load<u8>(p);
  store<u8>(p, <u8>((under * (all - by) + <i32>load<u8>(q) * by + (all >> 1)) / all));
}

/** Planes over others through a mask, of one byte for each pixel: `width` by `height` (even), at `above` onto those at `at`. */
export function masked(at: usize, above: usize, mask: usize, width: i32, height: i32): void {
  const count = <usize>(width * height);
  let i: usize = 0;
  for (; i + 16 <= count; i += 16) {
    const m = v128.load(mask + i);
    if (!v128.any_true(m)) continue;
    const under = v128.load(at + i);
    const top = v128.load(above + i);
    const lowM = i16x8.extend_low_i8x16_u(m);
    const highM = i16x8.extend_high_i8x16_u(m);
    const lows = part(
      i16x8.extend_low_i8x16_u(under), i16x8.extend_low_i8x16_u(top), i16x8.add(i16x8.shl(lowM, 7), i16x8.shr_u(lowM, 1)),
    );
    const highs = part(
      i16x8.extend_high_i8x16_u(under), i16x8.extend_high_i8x16_u(top), i16x8.add(i16x8.shl(highM, 7), i16x8.shr_u(highM, 1)),
    );
    v128.store(at + i, i8x16.narrow_i16x8_u(lows, highs));
  }
  for (; i < count; i += 1) one(at + i, above + i, load<u8>(mask + i), 255);
  const half = width >> 1;
  for (let y = 0; y < height >> 1; y += 1) {
    const up = mask + <usize>(2 * y * width);
    const down = up + <usize>width;
    for (let hue = 0; hue < 2; hue += 1) {
      const off = count + (<usize>hue * count >> 2) + <usize>(y * half);
      let x = 0;
      for (; x + 8 <= half; x += 8) {
        const q = <usize>(x << 1);
        const sum = i16x8.add(i16x8.extadd_pairwise_i8x16_u(v128.load(up + q)), i16x8.extadd_pairwise_i8x16_u(v128.load(down + q)));
        if (!v128.any_true(sum)) continue;
        const p = at + off + x;
        const under = i16x8.extend_low_i8x16_u(v128.load64_zero(p));
        const top = i16x8.extend_low_i8x16_u(v128.load64_zero(above + off + x));
        const mixed = part(under, top, i16x8.add(i16x8.shl(sum, 5), i16x8.shr_u(sum, 3)));
        v128.store64_lane(p, i8x16.narrow_i16x8_u(mixed, mixed), 0);
      }
      for (; x < half; x += 1) {
        const q = <usize>(x << 1);
        const sum = <i32>load<u8>(up + q) + <i32>load<u8>(up + q + 1) + <i32>load<u8>(down + q) + <i32>load<u8>(down + q + 1);
        one(at + off + x, above + off + x, sum, 1020);
      }
    }
  }
}
