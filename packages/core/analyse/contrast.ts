/** Of a level of 0 to 255 (sRGB), how much light it is: 0 to 1. */
export function linear(level: number): number {
  const share = level / 255;
  return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
}

/** Relative luminance of linear red, green and blue: 0 black, 1 white. */
export const luminanceOfLinear = (red: number, green: number, blue: number): number => 0.2126 * red + 0.7152 * green + 0.0722 * blue;

/** Relative luminance (WCAG 2.2) of a colour in levels of 0 to 255. */
export const luminance = (red: number, green: number, blue: number): number => luminanceOfLinear(linear(red), linear(green), linear(blue));

/** Red, green and blue of `#rrggbb`, 0 to 255. */
export function levelsOf(colour: string): [red: number, green: number, blue: number] {
  const level = (at: number) => Number.parseInt(colour.slice(at, at + 2), 16);
  return [level(1), level(3), level(5)];
}

/** The luminance of `#rrggbb`. */
export const luminanceOf = (colour: string): number => luminance(...levelsOf(colour));

/** How well one is told from the other, from 1 (not at all) to 21 (WCAG 2.2). @param one, other relative luminances */
export const contrast = (one: number, other: number): number => (Math.max(one, other) + 0.05) / (Math.min(one, other) + 0.05);

/** How dark and how bright a stretch of a picture is: a fifth of it is darker, and a fifth brighter than that. Relative luminances. */
export interface Ground {
  dark: number;
  light: number;
}

/** The ground that a box of a picture gives (pixels of it, cut off at its edges); null where none of it is in the picture. @param rgba four bytes each */
export function groundOf(
  rgba: Uint8ClampedArray,
  size: { width: number; height: number },
  box: { x: number; y: number; width: number; height: number },
): Ground | null {
  const [left, top] = [Math.max(0, Math.floor(box.x)), Math.max(0, Math.floor(box.y))];
  const [right, low] = [Math.min(size.width, Math.ceil(box.x + box.width)), Math.min(size.height, Math.ceil(box.y + box.height))];
  const found: number[] = [];
  for (let y = top; y < low; y += 1)
    for (let x = left; x < right; x += 1) {
      const at = (y * size.width + x) * 4;
      found.push(luminance(rgba[at] ?? 0, rgba[at + 1] ?? 0, rgba[at + 2] ?? 0));
    }
  if (found.length === 0) return null;
  found.sort((a, b) => a - b);
  const share = (part: number) => found[Math.min(found.length - 1, Math.floor(part * found.length))] ?? 0;
  return { dark: share(0.2), light: share(0.8) };
}
