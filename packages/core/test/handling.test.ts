import fc from 'fast-check';
import { PLATFORM_FORMATS, safeAreas } from '../deliver';
import {
  boxOf,
  cornersOf,
  linesOf,
  middleOf,
  movedBy,
  partHandled,
  PLAIN_SHAPE,
  PLAIN_TEXT,
  placeOf,
  scaledAndTurned,
  type Held,
  type Placed,
} from '../frame';
import { OVERLAY, sizeIn, type Clip } from '../piece';
import { Part } from '../properties';

const FORMAT = { width: 1080, height: 1920 };
const share = (least: number, most: number) => fc.double({ min: least, max: most, noNaN: true });
const NO_LINES = { x: [], y: [] };

/** Framing of a title's clip: anywhere, any size, turned and mirrored. */
const framings = fc.record({
  x: share(-0.4, 0.4),
  y: share(-0.4, 0.4),
  scale: share(0.3, 3),
  turn: share(-180, 180),
  flip: fc.constantFrom('none' as const, 'across' as const, 'down' as const, 'both' as const),
});
type Framing = typeof framings extends fc.Arbitrary<infer T> ? T : never;

/** A box of the frame of a title, about a point of it. */
const boxAbout = (x: number, y: number) => ({ left: x - 0.1, right: 1 - (x + 0.1), top: y - 0.03, bottom: 1 - (y + 0.03) });

/** A hand on what is seen at a point of a title's frame. */
function heldAt({ flip, ...figures }: Framing, x: number, y: number): Held {
  const clip = { start: 0, length: 1, from: 0, flip: flip === 'none' ? undefined : flip, ...figures } as unknown as Clip;
  // What moves lies between pixels: so that nothing is rounded to even ones here.
  const keyed = { ...clip, scale: { keys: [{ at: 0, value: figures.scale, ease: 'even' }] } } as Clip;
  const placed: Placed = { ...placeOf(keyed, sizeIn(FORMAT, OVERLAY), FORMAT, 0), crop: boxAbout(x, y) };
  const plain = { cropLeft: 0, cropRight: 0, cropTop: 0, cropBottom: 0, focusX: 0.5, focusY: 0.5 };
  return { placed, figures: { ...figures, ...plain }, format: FORMAT, loose: true };
}

const near = (one: { x: number; y: number }, other: { x: number; y: number }, within: number) =>
  expect(Math.hypot(one.x - other.x, one.y - other.y)).toBeLessThan(within);

describe('a hand on a title', () => {
  it('moves it as far as the finger goes, whatever its size, also beyond the frame', () => {
    fc.assert(
      fc.property(framings, share(-600, 600), share(-600, 600), (framing, dx, dy) => {
        const held = heldAt(framing, 0.5, 0.3);
        const { figures, caught } = movedBy(held, { x: dx, y: dy }, NO_LINES, 0);
        expect(caught).toEqual({ x: null, y: null });
        expect(figures.focusX ?? 0.5).toBe(0.5);
        near(
          middleOf(heldAt({ ...framing, x: figures.x!, y: figures.y! }, 0.5, 0.3)),
          { x: middleOf(held).x + dx, y: middleOf(held).y + dy },
          0.01,
        );
      }),
    );
  });

  it('makes it larger and turns it about the middle of its words, which stays where it is', () => {
    fc.assert(
      fc.property(framings, share(0.2, 0.8), share(0.2, 0.8), share(0.5, 2), share(-90, 90), (framing, x, y, times, degrees) => {
        const held = heldAt(framing, x, y);
        const made = scaledAndTurned(held, times, degrees, false);
        const now = { ...framing, ...made } as Framing;
        near(middleOf(heldAt(now, x, y)), middleOf(held), 0.05);
        expect(made.scale! / framing.scale).toBeCloseTo(times, 6);
      }),
    );
  });

  it('catches with an edge of its words, not of its frame, on the lines near by', () => {
    const plain: Framing = { x: 0, y: 0, scale: 1, turn: 0, flip: 'none' };
    const held = heldAt(plain, 0.5, 0.3);
    const left = Math.min(...cornersOf(held.placed).map((corner) => corner.x));
    const { figures, caught } = movedBy(held, { x: 100 - left + 5, y: 0 }, { x: [100], y: [] }, 12);
    expect(caught.x).toBe(100);
    expect(figures.x! * FORMAT.width).toBeCloseTo(100 - left, 6);
  });

  it('moves one part of it as far as the finger goes, in a frame that is turned, mirrored and larger', () => {
    fc.assert(
      fc.property(framings, share(0.3, 0.7), share(0.3, 0.7), share(-150, 150), share(-150, 150), (framing, x, y, dx, dy) => {
        const held = heldAt(framing, x, y);
        const part: Part = { ...PLAIN_TEXT, text: 'Wind', x, y };
        const made = partHandled(held, part, movedBy(held, { x: dx, y: dy }, NO_LINES, 0));
        fc.pre(made.x! > -1 && made.x! < 2 && made.y! > -1 && made.y! < 2);
        // A part is written to a ten-thousandth of the frame.
        near(middleOf(heldAt(framing, made.x!, made.y!)), { x: middleOf(held).x + dx, y: middleOf(held).y + dy }, 0.3 * framing.scale);
        expect(made.size).toBeUndefined();
      }),
    );
  });

  it('makes a part larger within what it can be, and leaves it one that a piece can hold', () => {
    fc.assert(
      fc.property(framings, fc.constantFrom<Part>(PLAIN_TEXT, PLAIN_SHAPE), share(0.01, 40), (framing, part, times) => {
        const held = heldAt(framing, part.x, part.y);
        const made = partHandled(held, part, { figures: { scale: framing.scale * times }, caught: { x: null, y: null } });
        expect(Part.safeParse({ ...part, ...made }).success).toBe(true);
        const most = part.kind === 'text' ? 1 : 3;
        if (times !== 1) expect(made.size).toBeCloseTo(Math.max(0.01, Math.min(most, part.size * times)), 3);
      }),
    );
  });
});

test('titles catch where the platforms of a piece leave room for words: those of its own shape, each room once', () => {
  const upright = PLATFORM_FORMATS.filter(({ sizes: [size] }) => size && size.width * 16 === size.height * 9);
  const areas = safeAreas(PLATFORM_FORMATS, FORMAT);
  expect(areas.length).toBeGreaterThan(0);
  expect(areas.flatMap(({ name }) => name.split(', ')).sort()).toEqual(upright.map(({ name }) => name).sort());
  expect(new Set(areas.map(({ area }) => JSON.stringify(area))).size).toBe(areas.length);
  const lines = linesOf(
    FORMAT,
    areas.map(({ area }) => area),
  );
  const held = heldAt({ x: 0, y: 0, scale: 1, turn: 0, flip: 'none' }, 0.5, 0.5);
  const { bottom } = boxOf(held.placed);
  for (const { area } of areas) {
    const { caught, figures } = movedBy(held, { x: 0, y: area.y + area.height - bottom + 5 }, lines, 12);
    expect(caught.y).toBe(area.y + area.height);
    expect(figures.y! * FORMAT.height).toBeCloseTo(area.y + area.height - bottom, 6);
  }
});
