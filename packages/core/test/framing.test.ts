import fc from 'fast-check';
import { planSegments } from '../deliver';
import {
  cornersOf,
  covers,
  cropped,
  evaluate,
  inCorner,
  inRegion,
  isOn,
  PLAIN,
  placePicture,
  placeOf,
  REGIONS,
  intoPlaced,
  through,
  type Into,
  type Layer,
  type Placed,
  type Region,
} from '../frame';
import { keyTime, pieceLength, type Piece } from '../piece';
import { flipped, keys, valueAt, type Curve, type PropertyValues } from '../properties';
import { frameLength } from '../time';
import { addFrames, does, emptyPiece, PHOTO, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });
const FRAME = { width: 1080, height: 1920 };
const one = () => addFrames(emptyPiece(), VIDEO, 0, 90);
const clipOf = (piece: Piece) => piece.tracks[0]!.clips[0]!;
const framed = (values: PropertyValues, piece = one()) => does(piece, 'set', { clips: [clipOf(piece).id], values });
const pictureAt = (piece: Piece, frame: number) =>
  evaluate(piece, frame * F).layers.find((layer): layer is Extract<Layer, { kind: 'picture' }> => layer.kind === 'picture')!;
const curve = (...list: [number, number][]): Curve => ({ keys: list.map(([frame, value]) => ({ at: frame * F, value, ease: 'even' })) });

const shares = fc.double({ min: 0, max: 1, noNaN: true });
const usual = fc.integer({ min: 500, max: 4096 });
const sides = fc.integer({ min: 64, max: 4096 });

describe('framing', () => {
  it('keeps the focus point as near the middle as it can without uncovering an edge, in a frame of any shape', () => {
    fc.assert(
      fc.property(
        sides,
        sides,
        sides,
        sides,
        shares,
        shares,
        fc.double({ min: 1, max: 6, noNaN: true }),
        (w, h, width, height, fx, fy, scale) => {
          const frame = { width: width * 2, height: height * 2 };
          const rect = placePicture({ width: w, height: h }, frame, 'fill', { scale, x: 0, y: 0, focusX: fx, focusY: fy }, true);
          expect(rect.x).toBeLessThanOrEqual(1e-6);
          expect(rect.x + rect.width).toBeGreaterThanOrEqual(frame.width - 1e-6);
          const off = rect.x + fx * rect.width - frame.width / 2;
          // Off the middle only where an edge of the picture lies on that of the frame.
          if (off > 1e-6) expect(rect.x + rect.width).toBeCloseTo(frame.width, 5);
          if (off < -1e-6) expect(rect.x).toBeCloseTo(0, 5);
        },
      ),
    );
  });

  it('puts a picture into halves, thirds and corners: filled to the edge, cut around its focus, never out of shape', () => {
    const regions = fc.constantFrom(...(Object.keys(REGIONS) as Region[]));
    fc.assert(
      fc.property(usual, usual, regions, shares, shares, (width, height, region, x, y) => {
        const media = { ...VIDEO, width, height };
        const clip = { ...clipOf(one()), ...inRegion(media, FRAME, region, { x, y }) };
        const placed = placeOf(clip, media, FRAME, 0);
        const seen = cropped(placed);
        const box = REGIONS[region];
        const near = (one: number, other: number) =>
          expect(Math.abs(one - other)).toBeLessThan(4 + 0.004 * Math.max(placed.rect.width, placed.rect.height));
        near(seen.x, box.x * FRAME.width);
        near(seen.y, box.y * FRAME.height);
        near(seen.width, box.width * FRAME.width);
        near(seen.height, box.height * FRAME.height);
        near(placed.rect.width / width, placed.rect.height / height);
      }),
    );
    const corner = placeOf({ ...clipOf(one()), ...inCorner(VIDEO, FRAME, 'lower right') }, VIDEO, FRAME, 0);
    expect(corner.crop).toBeUndefined();
    expect(corner.rect.x + corner.rect.width).toBeGreaterThan(1020);
    expect(corner.rect.y + corner.rect.height).toBeGreaterThan(1860);
    expect(corner.rect.width).toBeLessThan(500);
  });

  it('knows what a turned and cut picture covers, and where it can be touched', () => {
    const turned: Placed = { rect: { x: 0, y: 0, width: 1080, height: 1920 }, turn: 10 };
    expect(covers(turned, FRAME)).toBe(false);
    expect(covers({ ...turned, rect: { x: -540, y: -960, width: 2160, height: 3840 } }, FRAME)).toBe(true);
    fc.assert(
      fc.property(fc.double({ min: -180, max: 180, noNaN: true }), shares, shares, (turn, left, top) => {
        const placed: Placed = {
          rect: { x: 100, y: 300, width: 700, height: 500 },
          turn,
          crop: { left: left / 2, top: top / 2, right: 0.1, bottom: 0.2 },
        };
        const corners = cornersOf(placed);
        const middle = corners.reduce((sum, { x, y }) => ({ x: sum.x + x / 4, y: sum.y + y / 4 }), { x: 0, y: 0 });
        for (const { x, y } of corners) {
          expect(isOn(placed, { x: x + (middle.x - x) * 0.01, y: y + (middle.y - y) * 0.01 })).toBe(true);
          expect(isOn(placed, { x: x - (middle.x - x) * 0.01, y: y - (middle.y - y) * 0.01 })).toBe(false);
        }
      }),
    );
  });

  it('shows what is below where a picture is small, cut or turned away, and decodes nothing that is wholly under it', () => {
    const two = addFrames(does(one(), 'addTrack', { kind: 'picture' }), PHOTO, 0, 90, 'main');
    const above = two.tracks.find((track) => track.kind === 'picture' && track.id !== 'main')!;
    const both = does(two, 'add', { track: above.id, media: PHOTO, at: 0, from: 0, length: 90 * F });
    const top = both.tracks.find((track) => track.id === above.id)!.clips[0]!;
    const seen = (values: PropertyValues) =>
      evaluate(does(both, 'set', { clips: [top.id], values: { backdrop: 'black', ...values } }), 0).layers.length;
    expect(seen({ fit: 'fill' })).toBe(1);
    for (const values of [{ scale: 0.5 }, { cropLeft: 0.4 }, { turn: 3 }, { y: 0.2 }])
      expect([values, seen({ fit: 'fill', ...values })]).toEqual([values, 2]);
    expect(seen({ fit: 'fill', scale: 3, turn: 3, flip: 'both' })).toBe(1);
  });

  it('is cut in halves with the picture: each half is framed as the whole was there', () => {
    const plain = one();
    const piece = framed({ scale: curve([0, 1], [89, 2]), x: curve([30, 0], [60, 0.25]) }, plain);
    const halves = does(piece, 'split', { clips: [clipOf(piece).id], at: 41 * F });
    for (let n = 0; n < 90; n += 1) expect(pictureAt(halves, n).rect).toEqual(pictureAt(piece, n).rect);
    expect(framed(PLAIN, piece).tracks).toEqual(plain.tracks);
  });

  it('moves a slow zoom evenly, without steps of whole pixels', () => {
    const piece = framed({ scale: curve([0, 1], [89, 1.02]) });
    const widths = Array.from({ length: 90 }, (_, n) => pictureAt(piece, n).rect.width);
    const steps = widths.slice(1).map((width, n) => width - widths[n]!);
    for (const step of steps) expect(step).toBeCloseTo((widths[89]! - widths[0]!) / 89, 6);
  });

  it('frames a nest as one picture, and leaves it alone where it is plain', () => {
    const piece = one();
    const nest = does(piece, 'nest', { clips: [clipOf(piece).id], name: 'Inside' });
    expect(evaluate(nest, 0).layers.map((layer) => layer.kind)).toEqual(['picture']);
    const small = framed({ scale: 0.5, turn: 12, backdrop: 'black' }, nest);
    expect(evaluate(small, 0).layers).toMatchObject([
      { kind: 'group', opacity: 1, placed: { turn: 12, rect: { width: 540, height: 960 } } },
    ]);
  });

  it('goes straight to the encoder while it stands still on whole pixels, and is laid anew only from its first key to its last', () => {
    expect(planSegments(framed({ scale: 1.5, x: 0.1 }), pieceLength(one())).map((s) => s.way)).toEqual(['straight']);
    expect(planSegments(framed({ turn: 2, backdrop: 'black' }), pieceLength(one())).map((s) => s.way)).toEqual(['planes']);
    expect(planSegments(framed({ turn: 2 }), pieceLength(one())).map((s) => s.way)).toEqual(['planes']); // before its own backdrop
    const moving = planSegments(framed({ scale: curve([30, 1], [60, 1.5]) }), pieceLength(one()));
    expect(moving.map((s) => [s.start, s.frames, s.runs.length > 1])).toEqual([
      [0, 30, false],
      [30, 30, true],
      [60, 30, false],
    ]);
    // Decoded once, as large as it is drawn at its largest.
    const largest = Math.max(...moving[1]!.runs.map((run) => (run.layers[0] as Extract<Layer, { kind: 'picture' }>).rect.width));
    expect(moving[1]!.pictures).toMatchObject([{ rect: { width: largest }, first: 0, frames: 30 }]);
  });

  it('flips one way and back', () => {
    expect([flipped('none', 'across'), flipped('across', 'across'), flipped('down', 'across'), flipped('both', 'down')]).toEqual([
      'across',
      'none',
      'both',
      'across',
    ]);
  });
});

describe('a place of the frame in what is placed there', () => {
  const size = { width: 640, height: 360 };
  const at = ([a, b, c, d, e, f]: Into, x: number, y: number) => [a * x + c * y + e, b * x + d * y + f];
  const near = (one: number[], other: number[]) => one.forEach((n, i) => expect(n).toBeCloseTo(other[i]!, 6));
  const placedAnywhere: fc.Arbitrary<Placed> = fc.record({
    rect: fc.record({ x: fc.integer({ min: -500, max: 500 }), y: fc.integer({ min: -500, max: 500 }), width: sides, height: sides }),
    turn: fc.double({ min: -180, max: 180, noNaN: true }),
    flip: fc.record({ across: fc.boolean(), down: fc.boolean() }),
  });

  it('is a corner of the picture where that is a corner of it, mirrored or not', () => {
    fc.assert(
      fc.property(placedAnywhere, (placed) => {
        const { across, down } = placed.flip!;
        const [left, right, top, low] = [across ? 640 : 0, across ? 0 : 640, down ? 360 : 0, down ? 0 : 360];
        const corners = [[left, top], [right, top], [right, low], [left, low]]; // prettier-ignore
        cornersOf(placed).forEach(({ x, y }, n) => near(at(intoPlaced(placed, size), x, y), corners[n]!));
      }),
    );
  });

  it('is found through a frame that is placed itself', () => {
    fc.assert(
      fc.property(
        placedAnywhere,
        placedAnywhere,
        fc.integer({ min: -900, max: 900 }),
        fc.integer({ min: -900, max: 900 }),
        (inner, outer, x, y) => {
          const [into, around] = [intoPlaced(inner, size), intoPlaced(outer, FRAME)];
          const [px, py] = at(around, x, y) as [number, number];
          near(at(through(into, around), x, y), at(into, px, py));
        },
      ),
    );
  });
});

describe('keys', () => {
  it('are set, moved, eased and taken away; what has none is set throughout', () => {
    expect(keys.withValue(1, 5, 2)).toBe(2);
    const two = keys.withKey(keys.withKey(1, 10), 20, 3);
    expect(keys.keysOf(two)).toEqual([
      { at: 10, value: 1, ease: 'slowBoth' },
      { at: 20, value: 3, ease: 'slowBoth' },
    ]);
    expect(keys.keysOf(keys.withValue(two, 15, 9)).map((key) => key.value)).toEqual([1, 9, 3]);
    expect(keys.keysOf(keys.withKeyMoved(two, 20, 40)).map((key) => key.at)).toEqual([10, 40]);
    expect(keys.keysOf(keys.withKeyMoved(two, 20, 10))).toEqual([{ at: 10, value: 3, ease: 'slowBoth' }]);
    expect(keys.keyAt(keys.withEase(two, 10, 'hold'), 10)?.ease).toBe('hold');
    expect(keys.withoutKey(keys.withoutKey(two, 10), 20)).toBe(3);
  });

  it('leave the curve as it is where one is set on it, but for the ease', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 0, max: 1000 }),
        (times, at) => {
          const before: Curve = { keys: [...times].sort((a, b) => a - b).map((time, n) => ({ at: time, value: n * n, ease: 'even' })) };
          const after = keys.withKey(before, at, undefined, 'even');
          for (const moment of [...times, at, at + 1, at - 1]) expect(valueAt(after, moment)).toBeCloseTo(valueAt(before, moment), 9);
        },
      ),
    );
  });
});

it('a picture’s keys stay with its material when the clip is moved', () => {
  const piece = framed({ scale: curve([0, 1], [60, 2]) });
  const clip = clipOf(piece);
  const later = does(piece, 'move', { clips: [clip.id], track: 'main', to: 45 * F, how: 'place', rest: 'leave' });
  expect(pictureAt(later, 75).rect).toEqual(pictureAt(piece, 30).rect);
  expect(keyTime(clipOf(later), 75 * F)).toBe(keyTime(clip, 30 * F));
});
