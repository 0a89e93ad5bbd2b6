import fc from 'fast-check';
import { toPlanes } from '../planes';

/** BT.709, limited range, in floating point: what the integers must come to. */
function exact(r: number, g: number, b: number): [y: number, cb: number, cr: number] {
  const y = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return [16 + (y * 219) / 255, 128 + ((b - y) / 1.8556) * (224 / 255), 128 + ((r - y) / 1.5748) * (224 / 255)];
}

test('pixels become the planes of BT.709, to the nearest step', () => {
  const byte = fc.integer({ min: 0, max: 255 });
  fc.assert(
    fc.property(fc.array(fc.tuple(byte, byte, byte), { minLength: 8, maxLength: 8 }), (pixels) => {
      const [width, height] = [4, 2];
      const out = new Uint8Array(12);
      toPlanes(new Uint8ClampedArray(pixels.flatMap((pixel) => [...pixel, 255])), width, height, out);
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
    const out = new Uint8Array(6);
    toPlanes(new Uint8ClampedArray(16).fill(grey), 2, 2, out);
    expect([...out]).toEqual([y, y, y, y, 128, 128]);
  }
});
