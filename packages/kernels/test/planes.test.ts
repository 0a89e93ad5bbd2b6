import fc from 'fast-check';
import { composed, CUBE_ENTRY, CUBE_SIDE, CUBE_UNIT, fromPlanes, toPlanes } from '..';

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

test('planes become the pixels of BT.709, to a level; the four of a hue alike', () => {
  const byte = fc.integer({ min: 0, max: 255 });
  fc.assert(
    fc.property(fc.array(byte, { minLength: 60, maxLength: 60 }), (planes) => {
      const { rgba: out } = fromPlanes(Uint8Array.from(planes), 10, 4);
      expect(out).toHaveLength(160);
      for (let n = 0; n < 40; n += 1) {
        const hue = 40 + Math.floor(n / 20) * 5 + ((n % 10) >> 1);
        const [cb, cr] = [((planes[hue]! - 128) * 255) / 224, ((planes[hue + 10]! - 128) * 255) / 224];
        const y = ((planes[n]! - 16) * 255) / 219;
        const due = [y + 1.5748 * cr, y - 0.1873 * cb - 0.4681 * cr, y + 1.8556 * cb];
        due.forEach((level, c) => expect(Math.abs(out[n * 4 + c]! - Math.max(0, Math.min(255, level)))).toBeLessThanOrEqual(1));
        expect(out[n * 4 + 3]).toBe(255);
      }
    }),
  );
  for (const [width, height] of [
    [6, 4],
    [9, 4],
    [10, 3],
    [12, 4],
  ] as const)
    expect(() => fromPlanes(new Uint8Array(60), width, height)).toThrow(RangeError);
});

test('pixels of planes in half their size are the means of four, as often as it is halved', () => {
  const planes = fc.uint8Array({ minLength: 24 * 20 * 1.5, maxLength: 24 * 20 * 1.5 });
  fc.assert(
    fc.property(planes, (from) => {
      const whole = Uint8Array.from(fromPlanes(from, 24, 20).rgba);
      const half = fromPlanes(from, 24, 20, 1);
      expect([half.width, half.height, half.rgba.length]).toEqual([12, 10, 480]);
      for (let y = 0; y < 10; y += 1)
        for (let x = 0; x < 48; x += 1) {
          const at = y * 2 * 96 + (x >> 2) * 8 + (x & 3);
          const due = (whole[at]! + whole[at + 4]! + whole[at + 96]! + whole[at + 100]!) / 4;
          expect(Math.abs(half.rgba[y * 48 + x]! - due)).toBeLessThanOrEqual(0.5);
        }
      const [once, twice] = [fromPlanes(from, 24, 20, 1), fromPlanes(from, 24, 20, 9)];
      expect([once.width, twice.width, twice.height]).toEqual([12, 12, 10]);
    }),
    { numRuns: 20 },
  );
});

describe('a frame made step by step', () => {
  const [width, height] = [8, 4];
  const even = (level: number) => new Uint8Array(width * height * 1.5).fill(level);
  const all = { x: 0, y: 0, width, height };
  /** A cube that gives every colour the same one. */
  const only = (colour: readonly number[]) => {
    const cube = new Int16Array(CUBE_SIDE ** 3 * CUBE_ENTRY);
    for (let i = 0; i < cube.length; i += CUBE_ENTRY) colour.forEach((level, c) => (cube[i + c] = level * CUBE_UNIT));
    return cube;
  };
  /** A cube that changes nothing, or gives the negative. */
  const ramp = (negative: boolean) => {
    const cube = new Int16Array(CUBE_SIDE ** 3 * CUBE_ENTRY);
    const steps = CUBE_SIDE - 1;
    for (let i = 0; i < CUBE_SIDE ** 3; i += 1)
      [Math.floor(i / CUBE_SIDE ** 2), Math.floor(i / CUBE_SIDE) % CUBE_SIDE, i % CUBE_SIDE].forEach((at, c) => {
        cube[i * CUBE_ENTRY + c] = Math.round(((negative ? steps - at : at) / steps) * 255 * CUBE_UNIT);
      });
    return cube;
  };
  /** Planes of one colour. */
  const plain = (colour: readonly [number, number, number]) => {
    const rgba = Uint8Array.from({ length: width * height * 4 }, (_, i) => [...colour, 255][i % 4]!);
    return toPlanes(rgba, width, height);
  };

  it('begins black, and is one picture through another by as much as is asked for', () => {
    expect([...composed(width, height, [])]).toEqual([...Array<number>(32).fill(16), ...Array<number>(16).fill(128)]);
    const level = fc.integer({ min: 0, max: 255 });
    fc.assert(
      fc.property(level, level, fc.double({ min: 0, max: 1, noNaN: true }), (one, other, share) => {
        const out = composed(width, height, [
          { kind: 'picture', planes: even(one), share: 1, coloured: null },
          { kind: 'picture', planes: even(other), share, coloured: null },
        ]);
        expect(new Set(out).size).toBe(1);
        expect(Math.abs(out[0]! - (one + (other - one) * share))).toBeLessThanOrEqual(0.52);
      }),
    );
  });

  it('has colours changed as a cube has it, in the part that is asked for, or all over', () => {
    const byte = fc.integer({ min: 0, max: 255 });
    fc.assert(
      fc.property(fc.tuple(byte, byte, byte), (colour) => {
        const planes = plain(colour);
        const near = (out: Uint8Array, due: Uint8Array) =>
          out.forEach((level, i) => expect(Math.abs(level - due[i]!)).toBeLessThanOrEqual(2));
        near(composed(width, height, [{ kind: 'picture', planes, share: 1, coloured: { cube: ramp(false), part: all } }]), planes);
        const negative = plain(colour.map((level) => 255 - level) as [number, number, number]);
        near(
          composed(width, height, [
            { kind: 'picture', planes, share: 1, coloured: null },
            { kind: 'colours', cube: ramp(true) },
          ]),
          negative,
        );
      }),
    );
    const part = { x: 2, y: 2, width: 4, height: 2 };
    const out = composed(width, height, [
      { kind: 'picture', planes: plain([0, 0, 0]), share: 1, coloured: { cube: only([255, 255, 255]), part } },
    ]);
    expect([...out.subarray(0, 32)].map((level, i) => (level === 235 ? i : -1)).filter((i) => i >= 0)).toEqual([
      18, 19, 20, 21, 26, 27, 28, 29,
    ]);
  });

  it('has a box laid over it where it is, as far as it is seen', () => {
    const part = { x: 4, y: 2, width: 4, height: 2 };
    // White of which nothing, half and all is seen, multiplied by it.
    const through = [0, 0, 128, 128, 0, 0, 255, 255];
    const planes = toPlanes(Uint8Array.from(through.flatMap((alpha) => Array<number>(4).fill(alpha))), 4, 2, true);
    const out = composed(width, height, [
      { kind: 'picture', planes: plain([0, 0, 0]), share: 1, coloured: null },
      { kind: 'box', planes, part },
    ]);
    expect([...out.subarray(0, 16)]).toEqual(Array<number>(16).fill(16));
    expect([...out.subarray(16, 32)]).toEqual([16, 16, 16, 16, 16, 16, 126, 126, 16, 16, 16, 16, 16, 16, 235, 235]);
    expect([...out.subarray(32)]).toEqual(Array<number>(16).fill(128));
  });

  it('of another size, or with a part that is not of the frame, is refused', () => {
    const planes = new Uint8Array(20);
    const box = (x: number, y: number) => () => composed(width, height, [{ kind: 'box', planes, part: { x, y, width: 4, height: 2 } }]);
    for (const [x, y] of [
      [6, 0],
      [0, 4],
      [-2, 0],
      [1, 0],
    ] as const)
      expect(box(x, y)).toThrow(RangeError);
    expect(box(4, 2)).not.toThrow();
    expect(() => composed(width, height, [{ kind: 'picture', planes, share: 1, coloured: null }])).toThrow(RangeError);
  });
});
