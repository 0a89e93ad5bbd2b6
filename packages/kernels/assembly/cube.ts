// AssemblyScript. Colours through a cube of 33 × 33 × 33 entries.

/** Entries on a side of a cube of colours, less one. */
const STEPS: i32 = 32;
/** Bytes from one entry to the next, by blue, green and red: four int16 each, of which the last is not used. */
const BLUE: usize = 8;
const GREEN: usize = BLUE * 33;
const RED: usize = GREEN * 33;

/** A level as a place in the cube, in 1/256 of a step: 0 to STEPS × 256. */
// @ts-ignore: a decorator of AssemblyScript
@inline
export function placeOf(level: i32): i32 {
  return (level * (STEPS * 257) + 128) >> 8;
}

// @ts-ignore: a decorator of AssemblyScript
@inline
export function weighed(entry: usize, weight: i32): v128 {
  return i32x4.mul(v128.load16x4_s(entry), i32x4.splat(weight));
}

/**
 * What a colour becomes, tetrahedral between the entries of the cube: red, green, blue in 1/16384 of a level, not held between black and white.
 * The colour comes as places in the cube.
 */
// @ts-ignore: a decorator of AssemblyScript
@inline
export function inCube(r: i32, g: i32, b: i32, table: usize): v128 {
  const base = table + <usize>(r >> 8) * RED + <usize>(g >> 8) * GREEN + <usize>(b >> 8) * BLUE;
  const fr = r & 255;
  const fg = g & 255;
  const fb = b & 255;
  // From the corner of the lowest to that of the highest along the sides, the longest way first; without branches, which noise would have
  // guessed wrong.
  const most = max(fr, max(fg, fb));
  const least = min(fr, min(fg, fb));
  const middle = fr + fg + fb - most - least;
  const first = select<usize>(RED, select<usize>(GREEN, BLUE, fg >= fb), fr >= max(fg, fb));
  const last = select<usize>(BLUE, select<usize>(GREEN, RED, fg <= min(fr, fb)), fb <= min(fr, fg));
  const opposite = base + RED + GREEN + BLUE;
  let sum = weighed(base, 256 - most);
  sum = i32x4.add(sum, weighed(base + first, most - middle));
  sum = i32x4.add(sum, weighed(opposite - last, middle - least));
  return i32x4.add(sum, weighed(opposite, least));
}
