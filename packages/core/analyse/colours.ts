/** How far apart two colours are that are offered beside each other, in levels of red, green and blue together. */
const APART = 96;

/** Colours with more of these than that are put together before they are counted, in levels. */
const STEP = 32;

/**
 * The colours that make a picture, the most of it first: each far enough from those before it to be told apart.
 *
 * @param rgba pixels, four bytes each
 * @returns `#rrggbb`
 */
export function coloursOf(rgba: Uint8ClampedArray, most: number): string[] {
  const boxes = new Map<number, { n: number; sum: [number, number, number] }>();
  for (let i = 0; i + 3 < rgba.length; i += 4) {
    const [r, g, b] = [rgba[i] ?? 0, rgba[i + 1] ?? 0, rgba[i + 2] ?? 0];
    const key = (Math.floor(r / STEP) << 16) | (Math.floor(g / STEP) << 8) | Math.floor(b / STEP);
    const box = boxes.get(key) ?? { n: 0, sum: [0, 0, 0] };
    box.n += 1;
    box.sum[0] += r;
    box.sum[1] += g;
    box.sum[2] += b;
    boxes.set(key, box);
  }
  const chosen: [number, number, number][] = [];
  const byCount = [...boxes.values()].sort((one, other) => other.n - one.n);
  for (const { n, sum } of byCount) {
    if (chosen.length >= most) break;
    const colour = sum.map((one) => Math.round(one / n)) as [number, number, number];
    const near = chosen.some((one) => one.reduce((away, level, i) => away + Math.abs(level - (colour[i] ?? 0)), 0) < APART);
    if (!near) chosen.push(colour);
  }
  return chosen.map((colour) => `#${colour.map((level) => level.toString(16).padStart(2, '0')).join('')}`);
}
