import fc from 'fast-check';
import {
  colouredPlanes,
  composed,
  grain,
  laidPlane,
  sharpen,
  toPlanes,
  CUBE_ENTRY,
  CUBE_SIDE,
  CUBE_UNIT,
  opacitiesOf,
  type Laying,
  type PlaneStep,
} from '..';

const [width, height] = [36, 20];
const [across, high] = [28, 24];
const count = width * height;

/** Planes in which no pixel is as those beside it, and none changes much either. */
function slopes(w: number, h: number, tilt: number): Uint8Array {
  const plane = (n: number, pw: number, ph: number) =>
    Array.from({ length: pw * ph }, (_, i) => 128 + 90 * Math.sin((n + 1) * tilt + 0.31 * (i % pw) + 0.23 * Math.floor(i / pw)));
  return Uint8Array.from([...plane(0, w, h), ...plane(1, w / 2, h / 2), ...plane(2, w / 2, h / 2)]);
}

interface Plane {
  bytes: Uint8Array;
  w: number;
  h: number;
}

/** The planes of a frame or a picture, each with its size. */
const split = (bytes: Uint8Array, w: number, h: number): Plane[] => [
  { bytes: bytes.subarray(0, w * h), w, h },
  { bytes: bytes.subarray(w * h, w * h * 1.25), w: w / 2, h: h / 2 },
  { bytes: bytes.subarray(w * h * 1.25), w: w / 2, h: h / 2 },
];

/** In floating point what a picture laid over a level comes to, at a place of a plane: `half` as large as the frame. */
function due(picture: Plane, { into, kept }: Laying, x: number, y: number, half: number, under: number, share: number): number {
  const [a, b, c, d, e, f] = into;
  const [u, v] = [a * (x + 0.5) + c * (y + 0.5) + e / half, b * (x + 0.5) + d * (y + 0.5) + f / half];
  const [su, sv] = [Math.hypot(a, c), Math.hypot(b, d)];
  const edge = (away: number) => Math.max(0, Math.min(1, away + 0.5));
  const [left, top, right, low] = [kept.left, kept.top, kept.right, kept.low].map((n) => n / half) as [number, number, number, number];
  const seen = edge((u - left) / su) * edge((right - u) / su) * edge((v - top) / sv) * edge((low - v) / sv);
  const at = (px: number, py: number) => {
    const within = (n: number, from: number, to: number, long: number) =>
      Math.max(Math.max(0, Math.floor(from)), Math.min(Math.min(long, Math.ceil(to)) - 1, n));
    return picture.bytes[within(py, top, low, picture.h) * picture.w + within(px, left, right, picture.w)]!;
  };
  const [px, py] = [Math.floor(u - 0.5), Math.floor(v - 0.5)];
  const [fx, fy] = [u - 0.5 - px, v - 0.5 - py];
  const above = (at(px, py) * (1 - fx) + at(px + 1, py) * fx) * (1 - fy) + (at(px, py + 1) * (1 - fx) + at(px + 1, py + 1) * fx) * fy;
  return under + (above - under) * seen * share;
}

test('a picture laid anywhere, larger, turned, cut, and seen in part, is at every place what it comes to in floating point', () => {
  const picture = slopes(across, high, 0.7);
  const ground = slopes(width, height, 2.1);
  const whole: PlaneStep = { kind: 'picture', planes: ground, share: 1, coloured: null };
  const cut = (long: number) =>
    fc.tuple(fc.double({ min: 0, max: long / 2, noNaN: true }), fc.double({ min: long / 2 + 2, max: long, noNaN: true }));
  const uncut = (long: number) => fc.constant([0, long] as [number, number]);
  fc.assert(
    fc.property(
      fc.oneof(fc.constantFrom(0, 180), fc.double({ min: -180, max: 180, noNaN: true })),
      fc.oneof(fc.constant(1), fc.double({ min: 0.4, max: 3, noNaN: true })),
      fc.boolean(),
      fc.tuple(fc.double({ min: -20, max: 20, noNaN: true }), fc.double({ min: -20, max: 20, noNaN: true })),
      fc.oneof(uncut(across), cut(across)),
      fc.oneof(uncut(high), cut(high)),
      fc.constantFrom(1, 0.5, 0.2),
      (turn, times, flipped, [x, y], [left, right], [top, low], share) => {
        const angle = (turn * Math.PI) / 180;
        const [cos, sin] = [Math.cos(angle) / times, Math.sin(angle) / times];
        const flip = flipped ? -1 : 1;
        const [a, b, c, d] = [cos * flip, -sin, sin * flip, cos];
        const [mx, my] = [width / 2 + x, height / 2 + y];
        const into = [a, b, c, d, across / 2 - a * mx - c * my, high / 2 - b * mx - d * my] as const;
        const laid: Laying = { into, kept: { left, top, right, low } };
        const out = composed(width, height, [whole, { kind: 'placed', planes: picture, width: across, height: high, laid, share }]);
        let worst = 0;
        const [grounds, pictures] = [split(ground, width, height), split(picture, across, high)];
        split(out, width, height).forEach(({ bytes, w, h }, n) => {
          for (let py = 0; py < h; py += 1)
            for (let px = 0; px < w; px += 1) {
              const under = grounds[n]!.bytes[py * w + px]!;
              const level = due(pictures[n]!, laid, px, py, n === 0 ? 1 : 2, under, share);
              worst = Math.max(worst, Math.abs(bytes[py * w + px]! - level));
            }
        });
        // Places and shares are counted in 1/256, levels in whole ones.
        expect(worst).toBeLessThan(2);
      },
    ),
    { numRuns: 200 },
  );
});

test('one that lies on whole pixels is what it is, to the last one, and nothing beside it changes', () => {
  const picture = slopes(width, height, 1.3);
  const all = { left: 0, top: 0, right: width, low: height };
  const at = (x: number, y: number): PlaneStep => ({
    kind: 'placed',
    planes: picture,
    width,
    height,
    laid: { into: [1, 0, 0, 1, -x, -y], kept: all },
    share: 1,
  });
  expect(composed(width, height, [at(0, 0)])).toEqual(Uint8Array.from(picture));
  const moved = composed(width, height, [at(10, -4)]);
  const [was, is] = [split(picture, width, height), split(moved, width, height)];
  is.forEach(({ bytes, w, h }, n) => {
    const [dx, dy] = n === 0 ? [10, -4] : [5, -2];
    for (let y = 0; y < h; y += 1)
      for (let x = 0; x < w; x += 1) {
        const inside = x >= dx && y - dy < h;
        expect(bytes[y * w + x]).toBe(inside ? was[n]!.bytes[(y - dy) * w + x - dx] : n === 0 ? 16 : 128);
      }
  });
});

test('nothing is seen of one that is cut away altogether', () => {
  const laid: Laying = { into: [1, 0, 0, 1, 0, 0], kept: { left: 10, top: 0, right: 10, low: height } };
  const step: PlaneStep = { kind: 'placed', planes: slopes(width, height, 1), width, height, laid, share: 1 };
  expect(composed(width, height, [step])).toEqual(composed(width, height, []));
});

describe('frames within a frame', () => {
  const [under, over] = [slopes(width, height, 0.4), slopes(width, height, 3)];
  const picture = (planes: Uint8Array): PlaneStep => ({ kind: 'picture', planes, share: 1, coloured: null });
  const group = (more: object): PlaneStep => ({ kind: 'group', steps: [picture(over)], share: 1, mask: null, laid: null, ...more });

  it('are seen by as much as is asked for, also within one another', () => {
    const half = composed(width, height, [picture(under), group({ share: 0.5 })]);
    const twice = composed(width, height, [picture(under), group({ steps: [picture(under), group({ share: 0.5 })] })]);
    half.forEach((level, i) => {
      expect(Math.abs(level - (under[i]! + over[i]!) / 2)).toBeLessThanOrEqual(1);
      expect(Math.abs(twice[i]! - level)).toBeLessThanOrEqual(1);
    });
  });

  it('are seen through a mask: its mean of four for what there is one of colour', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: count, maxLength: count }), (mask) => {
        const out = composed(width, height, [picture(under), group({ mask })]);
        let worst = 0;
        for (let i = 0; i < out.length; i += 1) {
          const k = i < count ? -1 : (i - count) % (count / 4);
          const corner = Math.floor(k / (width / 2)) * 2 * width + (k % (width / 2)) * 2;
          const by = k < 0 ? mask[i]! : [0, 1, width, width + 1].reduce((sum, n) => sum + mask[corner + n]!, 0) / 4;
          worst = Math.max(worst, Math.abs(out[i]! - (under[i]! + ((over[i]! - under[i]!) * by) / 255)));
        }
        expect(worst).toBeLessThanOrEqual(1);
      }),
      { numRuns: 20 },
    );
  });

  it('are laid anywhere', () => {
    const laid: Laying = { into: [1, 0, 0, 1, -6, 0], kept: { left: 0, top: 0, right: width, low: height } };
    const out = composed(width, height, [picture(under), group({ laid })]);
    expect(out[3]).toBe(under[3]);
    expect(out[6]).toBe(over[0]);
  });

  it('of a wrong size are refused', () => {
    expect(() => composed(width, height, [group({ mask: new Uint8Array(3) })])).toThrow(RangeError);
    expect(() =>
      composed(width, height, [
        {
          kind: 'placed',
          planes: under,
          width: 4,
          height: 4,
          laid: { into: [1, 0, 0, 1, 0, 0], kept: { left: 0, top: 0, right: 4, low: 4 } },
          share: 1,
        },
      ]),
    ).toThrow(RangeError);
  });
});

test('one plane is laid into another, once or several times', () => {
  const whole = { into: [1, 0, 0, 1, 0, 0], kept: { left: 0, top: 0, right: 3, low: 1 } } as const;
  const aside = { ...whole, into: [1, 0, 0, 1, -1, 0] } as const;
  const size = { width: 3, height: 1 };
  const levels = Uint8Array.from([0, 100, 200]);
  expect([...laidPlane(levels, size, size, [{ laid: whole, share: 1 }])]).toEqual([0, 100, 200]);
  expect([
    ...laidPlane(levels, size, size, [
      { laid: whole, share: 1 },
      { laid: aside, share: 0.5 },
    ]),
  ]).toEqual([0, 50, 150]);
  expect(() => laidPlane(levels, { width: 2, height: 1 }, size, [])).toThrow(RangeError);
});

test('what shines through is told by itself, and a picture is taken through a cube', () => {
  expect([...opacitiesOf(Uint8Array.from([1, 2, 3, 4, 5, 6, 7, 255]))]).toEqual([4, 255]);
  const white = new Int16Array(CUBE_SIDE ** 3 * CUBE_ENTRY).fill(255 * CUBE_UNIT);
  expect([...colouredPlanes(slopes(4, 2, 1), 4, 2, white)]).toEqual([...Array<number>(8).fill(235), ...Array<number>(4).fill(128)]);
});

describe('what is done to the brightness of a frame', () => {
  /** Grey pixels, from black to white across, with something to sharpen in them. */
  const greys = () =>
    Uint8ClampedArray.from({ length: count * 4 }, (_, i) => {
      const x = Math.floor(i / 4) % width;
      return i % 4 === 3 ? 255 : 25 + x * 5.5 + 12 * Math.sin(i >> 2);
    });
  const after = (step: PlaneStep) =>
    composed(width, height, [{ kind: 'picture', planes: toPlanes(greys(), width, height), share: 1, coloured: null }, step]);
  const near = (one: Uint8Array, other: Uint8Array) =>
    expect(Math.max(...one.map((level, i) => Math.abs(level - other[i]!)))).toBeLessThanOrEqual(2);

  it('is what is done to pixels: grain', () => {
    const pixels = greys();
    grain(pixels, width, height, 1.6, 30, 7);
    const made = after({ kind: 'grain', size: 1.6, amount: 30, seed: 7 });
    near(made, toPlanes(pixels, width, height));
    expect(made).not.toEqual(after({ kind: 'grain', size: 1.6, amount: 30, seed: 8 }));
    expect(made).not.toEqual(toPlanes(greys(), width, height));
  });

  it('is what is done to pixels: sharpening', () => {
    const pixels = greys();
    sharpen(pixels, width, height, 0.9);
    near(after({ kind: 'sharpen', amount: 0.9 }), toPlanes(pixels, width, height));
  });
});
