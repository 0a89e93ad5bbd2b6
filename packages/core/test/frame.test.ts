import fc from 'fast-check';
import {
  covers,
  describeFrames,
  drawnWidths,
  evaluate,
  pictureLayers,
  frameCount,
  frameTime,
  placePicture,
  sourceFrameAt,
  type Layer,
} from '../frame';
import { frameLength, frameStart, fromSeconds, RATES } from '../time';
import { addFrames, does, emptyPiece, PHOTO, rates, VIDEO } from './making';

describe('the frame of a source at a time', () => {
  it('is the one whose own time it is, for every rate and every container’s rounding', () => {
    const rounding = fc.constantFrom(1000, 600, 90_000, 15_360);
    fc.assert(
      fc.property(rates, fc.nat(5000), rounding, (rate, n, ticks) => {
        const times = Array.from({ length: n + 2 }, (_, i) => fromSeconds(Math.round((i * rate.den * ticks) / rate.num) / ticks));
        const frames = describeFrames(times, rate);
        expect(sourceFrameAt(frames, frameStart(n, rate))).toBe(n);
        expect(sourceFrameAt(frames, frameStart(n, rate) + Math.floor(frameLength(rate) / 2))).toBe(n);
      }),
      { numRuns: 60 },
    );
  });

  it('holds the last frame shown through a gap in a variable rate', () => {
    const frames = describeFrames(
      [0, 33, 66, 133, 233].map((ms) => fromSeconds(ms / 1000)),
      { num: 30, den: 1 },
    );
    expect('times' in frames).toBe(true);
    expect([0, 50, 100, 140, 232, 900].map((ms) => sourceFrameAt(frames, fromSeconds(ms / 1000)))).toEqual([0, 1, 2, 3, 4, 4]);
  });

  it('keeps an even rate as a formula that gives back the measured times', () => {
    for (const rate of RATES) {
      const times = Array.from({ length: 900 }, (_, i) => Math.round((i * 705_600_000 * rate.den) / rate.num));
      const frames = describeFrames(times, rate);
      expect('first' in frames).toBe(true);
      expect(frameCount(frames)).toBe(900);
      expect(frameTime(frames, 899)).toBe(times[899]);
    }
  });
});

it('says how wide each picture is drawn at most, within what is laid smaller or larger too', () => {
  const rect = (width: number) => ({ x: 0, y: 0, width, height: 10 });
  const picture = (clip: string, width: number): Layer => ({
    kind: 'picture',
    picture: { media: clip, time: 0, clip },
    opacity: 1,
    rect: rect(width),
  });
  const inner: Layer = { kind: 'group', opacity: 1, layers: [picture('a', 900)] };
  const nest: Layer = { kind: 'group', opacity: 1, placed: { rect: rect(500) }, layers: [picture('b', 300), inner] };
  expect([...drawnWidths([picture('a', 400), nest, { kind: 'fill', colour: '#000000' }], 1000)]).toEqual([
    ['a', 450],
    ['b', 150],
  ]);
});

describe('placing a picture in the frame', () => {
  const side = fc.integer({ min: 16, max: 4096 });
  const even = side.map((n) => n - (n % 2));

  it('fills without a gap, fits without a cut, on even pixels', () => {
    fc.assert(
      fc.property(side, side, even, even, (w, h, width, height) => {
        const frame = { width, height };
        const fill = placePicture({ width: w, height: h }, frame, 'fill');
        const fit = placePicture({ width: w, height: h }, frame, 'fit');
        expect(covers({ rect: fill }, frame)).toBe(true);
        expect(fit.x >= 0 && fit.y >= 0 && fit.x + fit.width <= width && fit.y + fit.height <= height).toBe(true);
        for (const n of [fill.x, fill.y, fill.width, fill.height, fit.x, fit.y, fit.width, fit.height]) expect(Math.abs(n % 2)).toBe(0);
      }),
    );
  });

  it('leaves a picture of the frame’s own size alone', () => {
    expect(placePicture({ width: 1080, height: 1920 }, { width: 1080, height: 1920 }, 'fit')).toEqual({
      x: 0,
      y: 0,
      width: 1080,
      height: 1920,
    });
  });
});

describe('what is seen at a time', () => {
  const F = frameLength({ num: 30, den: 1 });

  it('is the clip there, at its own time; the frame after its last belongs to the next', () => {
    const piece = addFrames(addFrames(emptyPiece(), VIDEO, 10, 60), VIDEO, 200, 30);
    const seen = (n: number) => pictureLayers(evaluate(piece, n * F).layers).at(-1)?.picture.time;
    expect([seen(0), seen(59), seen(60), seen(89), seen(90)]).toEqual([10 * F, 69 * F, 200 * F, 229 * F, undefined]);
  });

  it('sets a backdrop only where the picture leaves room', () => {
    const wide = addFrames(emptyPiece(), VIDEO, 0, 30);
    const id = wide.tracks[0]!.clips[0]!.id;
    expect(evaluate(wide, 0).layers.map((l) => l.kind)).toEqual(['picture']);
    expect(evaluate(does(wide, 'set', { clips: [id], values: { fit: 'fit', backdrop: 'blur' } }), 0).layers.map((l) => l.kind)).toEqual([
      'backdrop',
      'picture',
    ]);
    expect(evaluate(does(wide, 'set', { clips: [id], values: { fit: 'fit', backdrop: 'black' } }), 0).layers.map((l) => l.kind)).toEqual([
      'picture',
    ]);
  });

  it('is the same picture for a photo at any time', () => {
    const piece = addFrames(emptyPiece(), PHOTO, 0, 90);
    expect(pictureLayers(evaluate(piece, 50 * F).layers).at(-1)?.picture.time).toBe(0);
  });
});
