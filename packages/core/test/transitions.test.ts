import fc from 'fast-check';
import { planSegments } from '../deliver';
import { evaluate, outlineFrom, pictureLayers, TRANSITIONS, type Layer } from '../frame';
import { meetingAt, meetingsOf, pieceLength, type Piece } from '../piece';
import { Transition, TransitionKind, TransitionShape, type PropertyValues } from '../properties';
import { frameLength } from '../time';
import { addFrames, does, emptyPiece, PHOTO, SILENT, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });
const into = (kind: TransitionKind, frames: number): Transition => Transition.parse({ kind, length: frames * F });
const three = () => addFrames(addFrames(addFrames(emptyPiece(), VIDEO, 30, 40), SILENT, 30, 40), PHOTO, 0, 40);
const clips = (piece: Piece) => piece.tracks[0]!.clips;
const set = (piece: Piece, n: number, values: PropertyValues) => does(piece, 'set', { clips: [clips(piece)[n]!.id], values });
const media = (layers: readonly Layer[]) => pictureLayers(layers).map((layer) => layer.picture.media);
const at = (piece: Piece, frame: number) => evaluate(piece, frame * F).layers;

describe('transitions', () => {
  it('lie on either side of their join, show both pictures going on in their material, and end where they said', () => {
    const piece = set(three(), 1, { transition: into('dissolve', 10) });
    expect(meetingsOf(piece.tracks[0]!, F).map(({ from, to }) => [from / F, to / F])).toEqual([[35, 45]]);
    expect([34, 35, 44, 45].map((frame) => media(at(piece, frame)))).toEqual([['v'], ['v', 's'], ['v', 's'], ['s']]);
    const times = (frame: number) => pictureLayers(at(piece, frame)).map((layer) => layer.picture.time / F);
    expect([times(35), times(44)]).toEqual([
      [65, 25],
      [74, 34],
    ]);
    // In the middle half of each, seen from both sides alike.
    const shares = [35, 39, 40, 44].map((frame) => (at(piece, frame).at(-1) as { opacity: number }).opacity);
    expect(shares.map((share) => Math.round(share * 100))).toEqual([5, 45, 55, 95]);
  });

  it('never take more than half of a clip, so that two of them never lie over each other', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 300 }), fc.integer({ min: 1, max: 300 }), fc.integer({ min: 1, max: 300 }), (one, two, end) => {
        let piece = set(three(), 1, { transition: into('push', one) });
        piece = set(piece, 2, { transition: into('wipe', two), ending: into('dip', end) });
        const meetings = meetingsOf(piece.tracks[0]!, F);
        meetings.forEach((meeting, n) => {
          expect(meeting.from % F).toBe(0);
          expect(meeting.from).toBeGreaterThanOrEqual(meetings[n - 1]?.to ?? 0);
          expect(meetingAt(piece.tracks[0]!, meeting.to - F, F)).toEqual(meeting);
        });
        expect(meetings.at(-1)?.to ?? pieceLength(piece)).toBeLessThanOrEqual(pieceLength(piece));
      }),
    );
  });

  it('come out of nothing where no picture is before, and go into nothing at the end', () => {
    const piece = set(set(three(), 0, { transition: into('dip', 10) }), 2, { ending: into('dissolve', 10) });
    expect(meetingsOf(piece.tracks[0]!, F).map(({ from, to, before, after }) => [from / F, to / F, before?.media, after?.media])).toEqual([
      [0, 10, undefined, 'v'],
      [110, 120, 'p', undefined],
    ]);
    expect(at(piece, 0)).toMatchObject([{ kind: 'fill', colour: '#000000' }]);
    expect([0, 119].map((frame) => Math.round((at(piece, frame)[0] as { opacity: number }).opacity * 100))).toEqual([10, 5]);
  });

  it.each(TransitionKind.options)('%s begins with the one picture and ends with the other, whatever its figures', (kind) => {
    const { takes, draw } = TRANSITIONS[kind];
    const [from, to] = ['a', 'b'].map((name): Layer[] => [
      { kind: 'picture', picture: { media: name, clip: name, time: 0 }, rect: { x: 0, y: 0, width: 1080, height: 1920 }, opacity: 1 },
    ]);
    const frame = { width: 1080, height: 1920 };
    /** How much of each picture there may be: less than all where it is faint, small, masked or moved away. */
    const seen = (layers: Layer[], name: string) =>
      layers.some((layer) => {
        if (!media([layer]).includes(name)) return false;
        if (layer.kind !== 'group') return true;
        const { rect } = layer.placed ?? { rect: { x: 0, y: 0 } };
        const away = Math.abs(rect.x) >= frame.width - 1 || Math.abs(rect.y) >= frame.height - 1;
        return layer.opacity > 0.02 && !away && (!layer.mask || layer.mask.at > 0.01);
      });
    for (const direction of takes.includes('direction') ? (['left', 'right', 'up', 'down'] as const) : (['left'] as const)) {
      const options = { ...into(kind, 20), direction };
      expect([seen(draw(0, from!, to!, frame, options), 'a'), seen(draw(1, from!, to!, frame, options), 'b')]).toEqual([true, true]);
      expect(draw(0.5, [], to!, frame, options).length + draw(0.5, from!, [], frame, options).length).toBeGreaterThan(0);
      expect(media(draw(0.37, from!, to!, frame, options)).length).toBeGreaterThan(0);
    }
  });

  it('are segments of their own; what lies between them stays as it was, and goes straight', () => {
    const plan = (piece: Piece) => planSegments(piece, pieceLength(piece)).map((s) => [s.start, s.frames, s.way]);
    expect(plan(set(three(), 1, { transition: into('zoom', 10) }))).toEqual([
      [0, 35, 'straight'],
      [35, 10, 'planes'],
      [45, 35, 'straight'],
      [80, 40, 'straight'],
    ]);
  });

  it('go along when clips are nested: the nest comes in as the first of them did', () => {
    const piece = set(set(three(), 1, { transition: into('dissolve', 10) }), 2, { transition: into('push', 10) });
    const nested = does(piece, 'nest', { clips: [clips(piece)[1]!.id, clips(piece)[2]!.id], name: 'Both' });
    expect(clips(nested)[1]!.transition).toEqual(into('dissolve', 10));
    for (const frame of [34, 36, 44, 60, 76, 84]) expect(media(at(nested, frame))).toEqual(media(at(piece, frame)));
    expect(() => does(nested, 'unnest', { clip: clips(nested)[1]!.id })).toThrow(/picture setting of its own \(comes in by\)/);
  });

  it('and what covers a word do not keep a frame from being frozen', () => {
    const covers = [{ from: 40 * F, to: 45 * F, with: 'tone' as const, level: -20 }];
    const piece = set(three(), 1, { transition: into('dissolve', 10), covers });
    const frozen = does(piece, 'freeze', { clip: clips(piece)[1]!.id, at: 60 * F, length: 20 * F });
    expect(clips(frozen)[2]).toMatchObject({ hold: 50 * F });
  });

  it('stay with the ends that they are of when a clip is cut', () => {
    const piece = set(set(three(), 1, { transition: into('dissolve', 10) }), 2, { ending: into('dip', 8) });
    const cut = does(piece, 'split', { clips: [clips(piece)[1]!.id, clips(piece)[2]!.id], at: 60 * F });
    expect(clips(cut).map((clip) => [Boolean(clip.transition), Boolean(clip.ending)])).toEqual([
      [false, false],
      [true, false],
      [false, false],
      [false, true],
    ]);
    expect(clips(does(piece, 'set', { clips: [clips(piece)[1]!.id], values: { transition: 'none' } }))[1]).not.toHaveProperty('transition');
  });
});

describe('a shape that grows', () => {
  const frame = { width: 1080, height: 1920 };
  const insideOf = (points: readonly (readonly [number, number])[], x: number, y: number) => {
    let inside = false;
    points.forEach(([ax, ay], n) => {
      const [bx, by] = points[(n + 1) % points.length]!;
      if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
    });
    return inside;
  };
  const covers = (options: Transition, size: { width: number; height: number }) => {
    const [, group] = TRANSITIONS.shape.draw(
      0.5,
      [{ kind: 'fill', colour: '#000000' }],
      [{ kind: 'fill', colour: '#ffffff' }],
      size,
      options,
    );
    const mask = (group as Extract<Layer, { kind: 'group' }>).mask as Extract<
      Extract<Layer, { kind: 'group' }>['mask'],
      { kind: 'outline' }
    >;
    // Just inside the frame, all around it.
    return Array.from({ length: 200 }, (_, n) => {
      const angle = (2 * Math.PI * n) / 200;
      const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
      const away = 0.97 * Math.min(size.width / 2 / Math.abs(dx), size.height / 2 / Math.abs(dy));
      return insideOf(mask!.points, (dx * away) / mask!.size, (dy * away) / mask!.size);
    }).every(Boolean);
  };

  it.each(TransitionShape.options)('covers the whole frame in the end, upright or lying (%s)', (shape) => {
    for (const size of [frame, { width: 1920, height: 1080 }]) expect(covers({ ...into('shape', 20), shape }, size)).toBe(true);
  });

  it('is any line that a finger draws around something, wherever and however large; none that encloses nothing', () => {
    const finger = fc.record({
      x: fc.integer({ min: 20, max: 140 }),
      y: fc.integer({ min: 20, max: 140 }),
      radius: fc.integer({ min: 8, max: 70 }),
      wobble: fc.double({ min: 0, max: 0.4, noNaN: true }),
      count: fc.integer({ min: 12, max: 300 }),
    });
    fc.assert(
      fc.property(finger, ({ x, y, radius, wobble, count }) => {
        const line = Array.from({ length: count }, (_, n): [number, number] => {
          const angle = (2 * Math.PI * n) / count;
          const reach = radius * (1 + wobble * Math.sin(3 * angle));
          return [x + reach * Math.cos(angle), y + reach * Math.sin(angle)];
        });
        const drawn = outlineFrom(line)!;
        expect(drawn.length).toBeLessThanOrEqual(64);
        expect(Math.max(...drawn.map(([a, b]) => Math.hypot(a, b)))).toBeCloseTo(1, 3);
        const options = Transition.parse({ kind: 'shape', length: 20 * F, shape: 'drawn', drawn });
        expect(covers(options, frame)).toBe(true);
      }),
      { numRuns: 50 },
    );
    expect(
      outlineFrom([
        [10, 10],
        [60, 60],
        [110, 110],
        [60, 60],
      ]),
    ).toBeNull();
    expect(outlineFrom([[10, 10]])).toBeNull();
  });
});
