import fc from 'fast-check';
import { cellsOf, FlashFinder, lightAt, LIGHT_CELLS, linear, type Light, type TitleReader } from '../analyse';
import { PLATFORM_FORMATS, preflight } from '../deliver';
import { PLAIN_SHAPE, PLAIN_TONE } from '../frame';
import { OVERLAY, type Piece } from '../piece';
import type { PropertyValues } from '../properties';
import { frameLength, frameStart, toSeconds } from '../time';
import { addFrames, does, emptyPiece, PHOTO, VIDEO } from './making';

const CELLS = LIGHT_CELLS ** 2;
const F = frameLength({ num: 30, den: 1 });

type Linear = readonly [number, number, number];
const GREY: Linear = [0.1, 0.1, 0.1];

/** What is found when so many cells of 64 have the colours that are said, linear, frame by frame, and the others a dark grey. */
function foundIn(colours: readonly Linear[], cells = CELLS, rate = 30) {
  const finder = new FlashFinder(rate);
  for (const colour of colours) finder.push(Array.from({ length: CELLS }, (_, n) => (n < cells ? colour : GREY)).flat());
  return finder.finish();
}

/** The same with greys. */
const found = (lights: readonly number[], cells = CELLS, rate = 30) =>
  foundIn(
    lights.map((light): Linear => [light, light, light]),
    cells,
    rate,
  );

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

  test('a saturated red that comes and goes is found where its light hardly changes; other colours, little of it and slow ones are let be', () => {
    // As bright as one another: what changes is the colour.
    const red: Linear = [0.4, 0, 0];
    const green: Linear = [0, 0.119, 0];
    const teal: Linear = [0, 0.1, 0.19];
    const turns = (one: Linear, other: Linear, frames: number, times: number) =>
      Array.from({ length: times * 2 * frames }, (_, n) => (Math.floor(n / frames) % 2 === 0 ? one : other));
    expect(foundIn(turns(red, green, 3, 6))).toHaveLength(1);
    expect(foundIn(turns(teal, red, 3, 6))).toHaveLength(1);
    // A faint red in the dark: no flash of light, and one of red.
    const dim: Linear = [0.3, 0, 0];
    const night: Linear = [0.0002, 0.0001, 0.0001];
    expect(foundIn(turns(night, dim, 3, 6))).toHaveLength(1);
    // By a frame in between, it is the same flash.
    const between: Linear = [0.2, 0.06, 0.01];
    expect(foundIn(Array.from({ length: 48 }, (_, n) => [green, between, red, between][n % 4]!))).toHaveLength(1);
    expect(foundIn(turns(green, teal, 3, 6))).toEqual([]);
    // A red that is not saturated, in the dark.
    expect(foundIn(turns([0.1, 0.03, 0.03], night, 3, 6))).toEqual([]);
    expect(foundIn(turns(red, green, 8, 10))).toEqual([]);
    expect(foundIn(turns(red, green, 3, 6), 12)).toEqual([]);
    expect(foundIn(turns(red, green, 3, 6), 16)).toHaveLength(1);
  });

  test('what flashes in light and in red at once is told once', () => {
    const both = Array.from({ length: 120 }, (_, n): Linear => {
      const red = n >= 20 && n < 80 && Math.floor(n / 3) % 2 === 0;
      const white = n >= 50 && n < 110 && Math.floor(n / 4) % 2 === 0;
      return white ? [1, 1, 1] : red ? [0.5, 0, 0] : [0.02, 0.02, 0.02];
    });
    const spans = foundIn(both);
    for (const [n, { first, last }] of spans.entries()) {
      expect(last).toBeGreaterThan(first);
      if (n > 0) expect(first).toBeGreaterThan(spans[n - 1]!.last);
    }
    expect([spans[0]!.first <= 25, spans.at(-1)!.last >= 100]).toEqual([true, true]);
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
  cells: Uint8Array.from({ length: 400 * CELLS * 3 }, (_, n) => (Math.floor(n / CELLS / 3 / each) % 2 === 0 ? 255 : 0)),
  frames: { first: 0, num: 30, den: 1, count: 400 },
});
const DARK: Light = { cells: new Uint8Array(CELLS * 3), frames: null };
const lightsOf = (each: number) => {
  const light = strobe(each);
  return (media: string) => (media === VIDEO.id ? light : DARK);
};

/** What flashes in a piece. */
function flashesIn(piece: Piece, frames: number, lights: (media: string) => Light | null, titles?: TitleReader) {
  const finder = new FlashFinder(30);
  for (let n = 0; n < frames; n += 1) finder.push(lightAt(piece, frameStart(n, piece.format.rate), lights, titles)!);
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
    // Red lamps on a grey day: without their colour they are as bright as the day.
    const lamps: Light = { ...strobe(3), cells: strobe(3).cells.map((level, n) => (level > 0 ? [230, 10, 10][n % 3]! : 95)) };
    expect(flashesIn(piece, 120, () => lamps)).toHaveLength(1);
    expect(flashesIn(looked({ saturation: -1 }), 120, () => lamps)).toEqual([]);
  });

  test('is that of the colours that are stored, made linear', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(255), { minLength: CELLS * 3, maxLength: CELLS * 3 }), (levels) => {
        const light = lightAt(addFrames(emptyPiece(), PHOTO, 0, 30), 0, () => ({ cells: Uint8Array.from(levels), frames: null }))!;
        expect(light).toHaveLength(CELLS * 3);
        // A photo of the piece's own shape or another: every cell shows one of its colours.
        const colours = new Set(
          Array.from({ length: CELLS }, (_, n) => [0, 1, 2].map((i) => linear(levels[n * 3 + i]!).toFixed(4)).join()),
        );
        colours.add('0.0000,0.0000,0.0000');
        for (let n = 0; n < CELLS; n += 1) expect(colours).toContain([0, 1, 2].map((i) => light[n * 3 + i]!.toFixed(4)).join());
      }),
    );
  });

  test('is that of the backdrop where the picture does not fill, dimmed and without its colour as far as asked', () => {
    const red: Light = { cells: Uint8Array.from({ length: CELLS * 3 }, (_, n) => (n % 3 === 0 ? 200 : 0)), frames: null };
    const plain = addFrames(emptyPiece(), PHOTO, 0, 30);
    const values = { scale: 0.2, backdrop: 'blur', backdropLight: 0.5, backdropColourful: 0 } as const;
    const piece = does(plain, 'set', { clips: [plain.tracks[0]!.clips[0]!.id], values });
    const light = lightAt(piece, 0, () => red)!;
    const corner = [light[0], light[1], light[2]];
    for (const part of corner) expect(part).toBeCloseTo(linear(0.2126 * 200 * 0.5), 5);
    const middle = 3 * (4 * LIGHT_CELLS + 4);
    expect([light[middle]! > 0.5, light[middle + 1], light[middle + 2]]).toEqual([true, 0, 0]);
  });

  test('is that of a picture as it lies: turned, mirrored and cut', () => {
    // Bright on its left, dark on its right; as tall and wide as the piece.
    const halves: Light = {
      cells: Uint8Array.from({ length: CELLS * 3 }, (_, n) => (Math.floor(n / 3) % LIGHT_CELLS < LIGHT_CELLS / 2 ? 255 : 0)),
      frames: null,
    };
    const square = emptyPiece();
    const piece = addFrames({ ...square, format: { ...square.format, height: 1080 } }, { ...PHOTO, width: 1000, height: 1000 }, 0, 30);
    const clips = [piece.tracks[0]!.clips[0]!.id];
    const bright = (values: PropertyValues, across: number, down: number) => {
      const light = lightAt(does(piece, 'set', { clips, values: { backdrop: 'black', ...values } }), 0, () => halves)!;
      return light[3 * (down * LIGHT_CELLS + across)]! > 0.5;
    };
    const corners = (values: PropertyValues) =>
      [
        [1, 1],
        [6, 1],
        [1, 6],
        [6, 6],
      ].map(([across, down]) => bright(values, across!, down!));
    expect(corners({})).toEqual([true, false, true, false]);
    expect(corners({ turn: 90 })).toEqual([true, true, false, false]);
    expect(corners({ turn: -90 })).toEqual([false, false, true, true]);
    expect(corners({ flip: 'across' })).toEqual([false, true, false, true]);
    expect(corners({ turn: 180, flip: 'across' })).toEqual([true, false, true, false]);
    expect(corners({ cropTop: 0.5 })).toEqual([false, false, true, false]);
    // On its corner, those of the frame are left black.
    expect([bright({ turn: 45 }, 0, 0), bright({ turn: 45 }, 0, 7), bright({ turn: 45 }, 2, 2)]).toEqual([false, false, true]);
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

  test('is that of titles as well, as much of a cell as they cover', () => {
    const dark = addFrames(emptyPiece(), PHOTO, 0, 96);
    const values = { overlay: { parts: [PLAIN_SHAPE] } };
    const shown = Array.from({ length: 16 }, (_, n) => n).reduce(
      (piece, n) => does(piece, 'add', { track: null, top: n > 0, media: OVERLAY, at: n * 6 * F, from: 0, length: 3 * F, values }),
      dark,
    );
    expect(shown.tracks.filter((track) => track.clips.length === 16)).toHaveLength(1);
    const covering = (cover: number, cells = CELLS): TitleReader => {
      const title = Float32Array.from({ length: CELLS * 4 }, (_, n) => (Math.floor(n / 4) < cells ? (n % 4 === 3 ? cover : 1) : 0));
      return () => title;
    };
    expect(flashesIn(shown, 96, () => DARK)).toEqual([]);
    expect(flashesIn(shown, 96, () => DARK, covering(1))).toHaveLength(1);
    expect(flashesIn(shown, 96, () => DARK, covering(0.2))).toEqual([]);
    expect(flashesIn(shown, 96, () => DARK, covering(1, CELLS / 4 - 1))).toEqual([]);
    expect(flashesIn(shown, 96, () => DARK, covering(1, CELLS / 4))).toHaveLength(1);
  });

  test('what a title covers is counted in cells, whatever the shape of the frame', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 8, max: 70 }),
        fc.integer({ min: 8, max: 70 }),
        fc.nat(255),
        fc.nat(255),
        (width, height, level, cover) => {
          // The left half is covered, in one colour; what is under what is open does not count.
          const half = Math.floor(width / 2);
          const rgba = Uint8Array.from({ length: width * height * 4 }, (_, n) => {
            const left = Math.floor(n / 4) % width < half;
            return n % 4 === 3 ? (left ? cover : 0) : left ? level : 255;
          });
          const cells = cellsOf(rgba, width, height);
          expect([cells[0], cells[3]]).toEqual([cover > 0 ? expect.closeTo(level / 255, 4) : 0, expect.closeTo(cover / 255, 4)]);
          expect([cells.at(-4), cells.at(-1)]).toEqual([0, 0]);
          let covered = 0;
          for (let n = 0; n < CELLS; n += 1) covered += cells[n * 4 + 3]!;
          expect(covered / CELLS).toBeCloseTo(((cover / 255) * half) / width, width % LIGHT_CELLS === 0 ? 4 : 0);
        },
      ),
    );
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
