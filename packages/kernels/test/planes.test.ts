import fc from 'fast-check';
import { toPlanes } from '..';

/** BT.709, limited range, in floating point: what the integers must come to. */
function exact(r: number, g: number, b: number): [y: number, cb: number, cr: number] {
  const y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return [16 + (y * 219) / 255, 128 + ((b - y) / 1.8556) * (224 / 255), 128 + ((r - y) / 1.5748) * (224 / 255)];
}

test('pixels become the planes of BT.709, to the nearest step', () => {
  const byte = fc.integer({ min: 0, max: 255 });
  fc.assert(
    fc.property(fc.array(fc.tuple(byte, byte, byte), { minLength: 8, maxLength: 8 }), (pixels) => {
      const out = toPlanes(new Uint8ClampedArray(pixels.flatMap((pixel) => [...pixel, 255])), 4, 2);
      expect(out).toHaveLength(12);
      const close = (one: number, other: number) => expect(Math.abs(one - other)).toBeLessThanOrEqual(0.52);
      pixels.forEach(([r, g, b], n) => close(out[n]!, exact(r, g, b)[0]));
      for (const x of [0, 1]) {
        const square = [0, 1, 4, 5].map((n) => pixels[n + x * 2]!);
        const [r, g, b] = [0, 1, 2].map((c) => square.reduce((sum, pixel) => sum + pixel[c]!, 0) / 4) as [number, number, number];
        close(out[8 + x]!, exact(r, g, b)[1]);
        close(out[10 + x]!, exact(r, g, b)[2]);
      }
    }),
  );
});

test('black, white and grey are without colour, and as dark and bright as video is', () => {
  for (const [grey, y] of [
    [0, 16],
    [255, 235],
    [128, 126],
  ] as const) {
    const out = toPlanes(
      new Uint8ClampedArray(6 * 2 * 4).fill(grey).map((level, i) => (i % 4 === 3 ? 255 : level)),
      6,
      2,
    );
    expect([...out]).toEqual([...Array<number>(12).fill(y), ...Array<number>(6).fill(128)]);
  }
});

test('what shines through is kept as a plane of its own, and taken out of the colours', () => {
  const byte = fc.integer({ min: 0, max: 255 });
  const through = fc.oneof(fc.constantFrom(0, 255), fc.integer({ min: 24, max: 254 }));
  fc.assert(
    fc.property(fc.tuple(byte, byte, byte), fc.array(through, { minLength: 12, maxLength: 12 }), ([r, g, b], alphas) => {
      const rgba = alphas.flatMap((alpha) => [r, g, b].map((level) => Math.round((level * alpha) / 255)).concat(alpha));
      const out = toPlanes(Uint8Array.from(rgba), 6, 2, true);
      expect(out).toHaveLength(30);
      expect([...out.subarray(18)]).toEqual(alphas);
      const [y, cb, cr] = exact(r, g, b);
      // A colour that little of is seen is known less exactly, by 255 / alpha.
      const close = (one: number, due: number, alpha: number) => expect(Math.abs(one - due)).toBeLessThanOrEqual(0.6 + 140 / alpha);
      alphas.forEach((alpha, n) => alpha > 0 && close(out[n]!, y, alpha));
      for (const x of [0, 1, 2]) {
        const seen = [0, 1, 6, 7].reduce((sum, n) => sum + alphas[n + x * 2]!, 0) / 4;
        if (seen === 0) continue;
        close(out[12 + x]!, cb, seen);
        close(out[15 + x]!, cr, seen);
      }
    }),
  );
});

test('where nothing is drawn there is black without colour that nobody sees, and what has no such size is refused', () => {
  expect([...toPlanes(new Uint8Array(32), 4, 2, true)]).toEqual([
    ...Array<number>(8).fill(16),
    ...Array<number>(4).fill(128),
    ...Array<number>(8).fill(0),
  ]);
  for (const [width, height] of [
    [2, 2],
    [5, 2],
    [4, 3],
    [4, 4],
  ] as const)
    expect(() => toPlanes(new Uint8Array(32), width, height)).toThrow(RangeError);
});
