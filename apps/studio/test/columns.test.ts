import fc from 'fast-check';
import { addFrames, does, emptyPiece, MUSIC, play, VIDEO, wishes } from '../../../packages/core/test/making';
import { boxed } from '../src/timeline/box';
import { columnsFor, columnsIn, RULER, trackAt } from '../src/timeline/columns';

const base = addFrames(addFrames(emptyPiece(), VIDEO, 0, 60), MUSIC, 0, 60, 'sound-1');
const two = does(base, 'addTrack', { kind: 'picture', name: 'Over' });

describe('the columns of the timeline', () => {
  it('stand side by side without overlapping, right of the ruler, for any piece and width', () => {
    fc.assert(
      fc.property(wishes(25), fc.integer({ min: 150, max: 1400 }), (list, width) => {
        const piece = play(base, list);
        const columns = columnsFor(piece, width);
        let end = RULER;
        for (const { left, width: w, own } of columns.list) {
          expect(left).toBeGreaterThanOrEqual(end);
          expect(w).toBeGreaterThanOrEqual(36);
          end = own ? own.left + own.width : left + w;
        }
        expect(columns.width).toBeGreaterThanOrEqual(Math.max(width, end));
        expect(columns.list.map((c) => c.track.id)).toEqual(piece.tracks.map((t) => t.id));
      }),
      { numRuns: 60 },
    );
  });

  it('fit a phone without scrolling while there are few', () => {
    expect(columnsFor(base, 204).width).toBe(204);
    expect(columnsFor(base, 376).width).toBe(376);
  });

  it('show a picture’s own sound beside it only where there is any', () => {
    const [main, over, sound] = columnsFor(two, 400).list;
    expect([main!.own !== null, over!.own, sound!.own]).toEqual([true, null, null]);
  });

  it('name the track under a finger by kind, and a new one past the last', () => {
    const columns = columnsFor(two, 400);
    const [main, over, sound] = columns.list;
    const at = (x: number, kind: 'picture' | 'sound') => trackAt(columns, x, kind);
    expect(at(main!.left + 5, 'picture')).toBe('main');
    expect(at(main!.own!.left + 2, 'picture')).toBe('main');
    expect(at(over!.left + 5, 'picture')).toBe(over!.track.id);
    expect(at(sound!.left + 5, 'picture')).toBeNull();
    expect(at(main!.left, 'sound')).toBe('sound-1');
    expect(at(sound!.left + sound!.width + 40, 'sound')).toBeNull();
  });

  it('are drawn only where one looks', () => {
    const many = Array.from({ length: 40 }).reduce((p: typeof base) => does(p, 'addTrack', { kind: 'sound' }), base);
    const columns = columnsFor(many, 400);
    const seen = columnsIn(columns, 500, 900);
    expect(seen.length).toBeGreaterThan(3);
    expect(seen.length).toBeLessThan(15);
    for (const { left, width } of seen) expect(left < 900 && left + width > 500).toBe(true);
  });
});

describe('a box', () => {
  const piece = addFrames(base, VIDEO, 100, 60);
  const columns = columnsFor(piece, 400);
  const [main, sound] = columns.list;
  const ids = piece.tracks.map((t) => t.clips.map((c) => c.id));

  it('takes every clip it touches on the tracks it touches', () => {
    const box = { left: main!.left + 2, right: main!.left + 20, top: 10, bottom: 110 };
    expect(boxed(columns, box, 48)).toEqual([ids[0]![0], ids[0]![1]]);
    expect(boxed(columns, { ...box, bottom: 90 }, 48)).toEqual([ids[0]![0]]);
    expect(boxed(columns, { ...box, right: sound!.left + 5, bottom: 50 }, 48)).toEqual([ids[0]![0], ids[1]![0]]);
  });

  it('takes nothing on a locked track', () => {
    const locked = does(piece, 'setTrack', { track: 'sound-1', set: { locked: true } });
    const all = { left: 0, right: 1000, top: 0, bottom: 1000 };
    expect(boxed(columnsFor(locked, 400), all, 48)).toEqual(ids[0]);
  });

  it('drawn upwards past the start takes the first clips', () => {
    expect(boxed(columns, { left: main!.left, right: main!.left + 4, top: -80, bottom: 4 }, 48)).toEqual([ids[0]![0]]);
  });
});
