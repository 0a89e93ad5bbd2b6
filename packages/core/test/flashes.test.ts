import fc from 'fast-check';
import { FlashFinder, greyOf, lightAt, LIGHT_CELLS, luminance, type Light } from '../analyse';
import { PLATFORM_FORMATS, preflight } from '../deliver';
import { PLAIN_TONE } from '../frame';
import type { Piece } from '../piece';
import { frameLength, frameStart, toSeconds } from '../time';
import { addFrames, does, emptyPiece, PHOTO, VIDEO } from './making';

const CELLS = LIGHT_CELLS ** 2;
const F = frameLength({ num: 30, den: 1 });

/** What is found when so many cells of 64 are as bright as is said, frame by frame, and the others dark. */
function found(lights: readonly number[], cells = CELLS, rate = 30) {
  const finder = new FlashFinder(rate);
  for (const light of lights) finder.push(Array.from({ length: CELLS }, (_, n) => (n < cells ? light : 0.1)));
  return finder.finish();
}

/** Bright for so many frames, dark for so many, and so on. */
const blinking = (frames: number, times: number, bright = 1, dark = 0) =>
  Array.from({ length: times * 2 * frames }, (_, n) => (Math.floor(n / frames) % 2 === 0 ? bright : dark));

describe('flashes', () => {
  test('three in a second are let be, four are found, from the first to the last', () => {
    const rest = Array.from({ length: 40 }, () => 0);
    expect(found([...rest, ...blinking(4, 3), ...rest])).toEqual([]);
    expect(found([...rest, ...blinking(3, 5), ...rest])).toEqual([{ first: 40, last: 40 + 27 }]);
    expect(found([...rest, ...blinking(2, 5), ...rest, ...blinking(2, 5), ...rest])).toHaveLength(2);
  });

  test('slow ones, small ones, faint ones, and those among bright light alone are let be', () => {
    expect(found(blinking(8, 20))).toEqual([]);
    expect(found(blinking(3, 20), 15)).toEqual([]);
    expect(found(blinking(3, 20), 16)).not.toEqual([]);
    expect(found(blinking(3, 20, 0.55, 0.47))).toEqual([]);
    expect(found(blinking(3, 20, 1, 0.85))).toEqual([]);
    expect(found(Array.from({ length: 90 }, (_, n) => n / 90))).toEqual([]);
  });

  test('as many a second at any rate', () => {
    for (const rate of [24, 30, 60]) {
      const frames = Math.round(rate / 10);
      expect(found(blinking(frames, 8), CELLS, rate)).toHaveLength(1);
      expect(found(blinking(Math.ceil(rate / 5.5), 8), CELLS, rate)).toEqual([]);
    }
  });

  test('whatever light there is, what is found lies within it, in order and apart, each of it longer than a few frames', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 200 }), (lights) => {
        let end = -1;
        for (const { first, last } of found(lights)) {
          expect(first).toBeGreaterThan(end);
          expect(last - first).toBeGreaterThanOrEqual(6);
          expect(last).toBeLessThan(lights.length);
          end = last;
        }
      }),
    );
  });
});

/** An item whose frames are white and black in turn, `each` of them at a time. */
const strobe = (each: number): Light => ({
  cells: Uint8Array.from({ length: 400 * CELLS }, (_, n) => (Math.floor(n / CELLS / each) % 2 === 0 ? 255 : 0)),
  frames: { first: 0, num: 30, den: 1, count: 400 },
});
const DARK: Light = { cells: new Uint8Array(CELLS), frames: null };
const lightsOf = (each: number) => {
  const light = strobe(each);
  return (media: string) => (media === VIDEO.id ? light : DARK);
};

/** What flashes in a piece. */
function flashesIn(piece: Piece, frames: number, lights: (media: string) => Light | null) {
  const finder = new FlashFinder(30);
  for (let n = 0; n < frames; n += 1) finder.push(lightAt(piece, frameStart(n, piece.format.rate), lights)!);
  return finder.finish();
}

describe('the light of a piece', () => {
  test('is that which a look leaves: so faint that it harms nobody, or brought out', () => {
    const piece = addFrames(emptyPiece(), { ...VIDEO, rate: { num: 30, den: 1 } }, 0, 120);
    const looked = (tone: Partial<typeof PLAIN_TONE>) => does(piece, 'setLook', { effects: [{ kind: 'tone', ...PLAIN_TONE, ...tone }] });
    expect(flashesIn(looked({ exposure: -3, contrast: -1 }), 120, lightsOf(3))).toEqual([]);
    expect(flashesIn(looked({ exposure: 1 }), 120, lightsOf(3))).toHaveLength(1);
    // Grey and a little lighter: what is plain is let be, what a look tears apart is not.
    const faint: Light = { ...strobe(3), cells: strobe(3).cells.map((level) => (level > 0 ? 138 : 116)) };
    expect(flashesIn(piece, 120, () => faint)).toEqual([]);
    expect(flashesIn(looked({ contrast: 1 }), 120, () => faint)).toHaveLength(1);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (level) =>
        expect(greyOf(luminance(level * 255, level * 255, level * 255))).toBeCloseTo(level, 3),
      ),
    );
  });

  test('is that of what is seen: of the clip on top, as far as it covers the frame, as fast as it runs', () => {
    const piece = addFrames(emptyPiece(), { ...VIDEO, rate: { num: 30, den: 1 } }, 0, 120);
    expect(flashesIn(piece, 120, lightsOf(3))).toHaveLength(1);
    expect(flashesIn(piece, 120, lightsOf(10))).toEqual([]);
    const { id } = piece.tracks[0]!.clips[0]!;
    const fast = does(piece, 'setSpeed', { clips: [id], wish: { speed: 4 }, rest: 'stay' });
    expect(flashesIn(fast, 30, lightsOf(10))).toHaveLength(1);
    const covered = does(piece, 'add', { track: null, media: PHOTO, at: 0, from: 0, length: 120 * F });
    expect(flashesIn(covered, 120, lightsOf(3))).toEqual([]);
    const small = does(piece, 'set', { clips: [id], values: { scale: 0.2, backdrop: 'black' } });
    expect(flashesIn(small, 120, lightsOf(3))).toEqual([]);
    const faint = does(piece, 'set', { clips: [id], values: { opacity: 0.08 } });
    expect(flashesIn(faint, 120, lightsOf(3))).toEqual([]);
  });

  test('cuts from bright to dark in quick turns are flashes too', () => {
    const bright: Light = { ...DARK, cells: DARK.cells.map(() => 255) };
    const lights = (media: string) => (media === PHOTO.id ? bright : DARK);
    const cut = (each: number) =>
      Array.from({ length: 16 }, (_, n) => n).reduce((piece, n) => addFrames(piece, n % 2 ? PHOTO : VIDEO, 0, each), emptyPiece());
    expect(flashesIn(cut(3), 48, lights)).toHaveLength(1);
    expect(flashesIn(cut(9), 144, lights)).toEqual([]);
  });

  test('is not known while that of one of its pictures is not', () => {
    const piece = addFrames(emptyPiece(), VIDEO, 0, 30);
    expect(lightAt(piece, 0, () => null)).toBeNull();
  });

  test('what flashes is found before it is sent, and taken out by one touch', () => {
    const calm = addFrames(emptyPiece(), PHOTO, 0, 60);
    const piece = addFrames(addFrames(calm, { ...VIDEO, rate: { num: 30, den: 1 } }, 0, 60), PHOTO, 0, 60);
    const flashes = flashesIn(piece, 180, lightsOf(3));
    const of = (one: Piece, found: typeof flashes) =>
      preflight({
        piece: one,
        sent: one,
        length: 180 * F,
        format: PLATFORM_FORMATS[0]!,
        boxOf: () => ({ x: 0, y: 0, width: 1, height: 1 }),
        hearing: () => null,
        groundOf: () => null,
        flashes: found,
        isThere: () => true,
        loud: null,
      }).filter(({ check }) => check === 'flashing');
    const [finding] = of(piece, flashes);
    expect(finding?.says).toMatch(/^It flashes more than three times a second from 0:02/);
    const mend = finding!.mends[0]!;
    if (!('edits' in mend)) throw new Error('it is an edit');
    const mended = mend.edits.steps.reduce((now, step) => does(now, step.name, step.params as never), piece);
    const left = flashesIn(mended, Math.round(toSeconds(180 * F) * 30) - 60, lightsOf(3));
    expect(of(mended, left)).toEqual([]);
  });
});
