import { execFileSync } from 'node:child_process';
import path from 'node:path';
import fc from 'fast-check';
import { CUBE_ENTRY, CUBE_SIDE, CUBE_UNIT, grain, sharpen, throughCube } from '..';
import { WASM } from '../wasm';

/** A cube of a function of colours, levels 0 to 1. */
function cube(of: (r: number, g: number, b: number) => number[]): Int16Array {
  const out = new Int16Array(CUBE_SIDE ** 3 * CUBE_ENTRY);
  const steps = CUBE_SIDE - 1;
  let at = 0;
  for (let r = 0; r <= steps; r += 1)
    for (let g = 0; g <= steps; g += 1)
      for (let b = 0; b <= steps; b += 1) {
        of(r / steps, g / steps, b / steps).forEach((level, i) => (out[at + i] = Math.round(level * 255 * CUBE_UNIT)));
        at += CUBE_ENTRY;
      }
  return out;
}

const pixels = fc.uint8Array({ minLength: 4, maxLength: 400 }).map((bytes) => Uint8ClampedArray.from(bytes.slice(0, bytes.length & ~3)));

it('are compiled from what stands in assembly/', () => {
  const script = `import('./scripts/kernels.mjs').then((m) => m.compileKernels()).then((b) => process.stdout.write(b.toString('base64')))`;
  const made = execFileSync(process.execPath, ['-e', script], { cwd: path.resolve(__dirname, '../../..') }).toString();
  expect(made).toBe(WASM);
});

describe('a cube of colours', () => {
  it('that changes nothing leaves every pixel, and what shines through, as it is', () => {
    const plain = cube((r, g, b) => [r, g, b]);
    fc.assert(
      fc.property(pixels, (rgba) => {
        const out = Uint8ClampedArray.from(rgba);
        throughCube(out, plain);
        expect(out).toEqual(rgba);
      }),
    );
  });

  it('is within a level of the function that it was made of, where that is smooth', () => {
    const of = (r: number, g: number, b: number) => [0.2 + 0.6 * r * g, 1 - b ** 1.4, 0.3 * r + 0.7 * Math.sqrt(0.1 + 0.9 * g) * b];
    const table = cube(of);
    fc.assert(
      fc.property(pixels, (rgba) => {
        const out = Uint8ClampedArray.from(rgba);
        throughCube(out, table);
        for (let i = 0; i < rgba.length; i += 4) {
          const due = of(rgba[i]! / 255, rgba[i + 1]! / 255, rgba[i + 2]! / 255);
          due.forEach((level, c) => expect(Math.abs(out[i + c]! - level * 255)).toBeLessThanOrEqual(1));
          expect(out[i + 3]).toBe(rgba[i + 3]);
        }
      }),
    );
  });

  it('of another size is refused', () => {
    expect(() => throughCube(new Uint8ClampedArray(4), new Int16Array(17 ** 3 * 4))).toThrow(RangeError);
  });
});

it('sharpening leaves what is even, and makes an edge steeper by as much as asked for', () => {
  const even = new Uint8ClampedArray(5 * 4 * 4).fill(90);
  const same = Uint8ClampedArray.from(even);
  sharpen(same, 5, 4, 2);
  expect(same).toEqual(even);
  // A column of 100 beside one of 140: each differs from a quarter of its neighbours by 40.
  const edge = Uint8ClampedArray.from({ length: 4 * 3 * 4 }, (_, i) => ((i >> 2) % 4 < 2 ? 100 : 140));
  sharpen(edge, 4, 3, 1);
  expect([...edge.slice(0, 16)].filter((_, i) => i % 4 === 0)).toEqual([100, 90, 150, 140]);
});

it('grain is the same for the same seed, another for another, none in black and white, and leaves the whole as light as it was', () => {
  const side = 64;
  const grey = (level: number) => Uint8ClampedArray.from({ length: side * side * 4 }, (_, i) => (i % 4 === 3 ? 255 : level));
  const grained = (level: number, seed: number) => {
    const rgba = grey(level);
    grain(rgba, side, side, 1, 40, seed);
    return rgba;
  };
  expect(grained(128, 7)).toEqual(grained(128, 7));
  expect(grained(128, 7)).not.toEqual(grained(128, 8));
  for (const level of [0, 255]) expect(grained(level, 3)).toEqual(grey(level));
  const levels = grained(128, 7).filter((_, i) => i % 4 === 0);
  const mean = levels.reduce((sum, one) => sum + one, 0) / levels.length;
  expect(Math.abs(mean - 128)).toBeLessThan(1.5);
  expect(Math.max(...levels) - Math.min(...levels)).toBeGreaterThan(20);
});
