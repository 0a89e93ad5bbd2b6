import type { Ctx } from './scenes/paint';

/** Bits of the machine-readable frame code; also its parity, so that a misread one is known. */
export const CODE_BITS = 12;

/** Where the code stands: a row of squares in the middle of the picture, so that every fit and fill keeps it. Fractions of the short side. */
export const CODE_SQUARE = 0.055;

/** Draws a frame's number as black and white squares: a white one, the bits (highest first), the parity, a black one. */
export function drawCode(c: Ctx, w: number, h: number, n: number): void {
  const s = Math.round(Math.min(w, h) * CODE_SQUARE);
  const bits = codeBits(n);
  const [x0, y0] = [Math.round((w - s * bits.length) / 2), Math.round((h - s) / 2)];
  bits.forEach((bit, i) => {
    c.fillStyle = bit ? '#ffffff' : '#000000';
    c.fillRect(x0 + i * s, y0, s, s);
  });
}

/** The squares of a number, first to last. */
export function codeBits(n: number): number[] {
  const bits = Array.from({ length: CODE_BITS }, (_, i) => (n >> (CODE_BITS - 1 - i)) & 1);
  return [1, ...bits, bits.reduce((a, b) => a ^ b, 0), 0];
}

/**
 * Reads a code back from grey values (0…255) sampled at the middle of each square. Returns the number, or null when the
 * marks or the parity do not fit.
 */
export function readCode(values: readonly number[]): number | null {
  const bits = values.map((v) => (v > 128 ? 1 : 0));
  if (bits.length !== CODE_BITS + 3 || bits[0] !== 1 || bits.at(-1) !== 0) return null;
  const data = bits.slice(1, 1 + CODE_BITS);
  if (data.reduce<number>((a, b) => a ^ b, 0) !== bits[1 + CODE_BITS]) return null;
  return data.reduce<number>((n, b) => n * 2 + b, 0);
}

/** Middles of the squares in a picture where the short side of the material measures `side` pixels, centred. */
export function codePoints(width: number, height: number, side: number): { x: number; y: number }[] {
  const s = side * CODE_SQUARE;
  const count = CODE_BITS + 3;
  return Array.from({ length: count }, (_, i) => ({ x: Math.round(width / 2 + (i + 0.5 - count / 2) * s), y: Math.round(height / 2) }));
}
