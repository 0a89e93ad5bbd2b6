import fc from 'fast-check';
import { applyEdit, EditRefused, snapPoints } from '@flimzy/core/edits';
import { clipEnd, findClip, type Piece } from '@flimzy/core/piece';
import { frameLength, fromSeconds, onGrid } from '@flimzy/core/time';
import { addFrames, emptyPiece, play, PHOTO, SILENT, uuid, VIDEO, wishes, type Wish } from '../../../packages/core/test/making';
import { moveTarget, stirred, trimTarget } from '../src/timeline/drag';

const F = frameLength({ num: 30, den: 1 });
const free = { reach: null, points: [] };
const pull = (clip: string, rest: 'follow' | 'stay', edge: 'head' | 'tail' = 'tail', also: string[] = []) => ({
  clip,
  also,
  edge,
  rest,
  tracks: 'own' as const,
});
const catching = (piece: Piece, seconds: number) => ({
  reach: fromSeconds(0.2),
  points: snapPoints(piece, fromSeconds(seconds), new Set()),
});
/** Edits of single clips: what links and locks forbid is refused with a sentence when it is tried. */
const plain = (list: Wish[]) =>
  list.filter((wish) => ['add', 'split', 'trim', 'level', 'fit', 'rename', 'freeze', 'roll'].includes(wish.name));
const three = addFrames(addFrames(addFrames(emptyPiece(), VIDEO, 10, 60), SILENT, 5, 90), VIDEO, 100, 30);
const [a, b, c] = three.tracks[0]!.clips.map((clip) => clip.id) as [string, string, string];

describe('wherever a finger drags', () => {
  it('the trim offered is one that can be made, on the grid', () => {
    fc.assert(
      fc.property(
        wishes(20),
        fc.nat(),
        fc.constantFrom('head' as const, 'tail' as const),
        fc.constantFrom('follow' as const, 'stay' as const),
        fc.integer({ min: -20, max: 60 }),
        fc.nat(2),
        (list, pick, edge, rest, seconds, several) => {
          const piece = play(three, plain(list));
          const clips = piece.tracks.flatMap((t) => t.clips);
          const clip = clips[pick % Math.max(1, clips.length)];
          if (!clip) return;
          // Others on its track, so that what follows one never follows another twice.
          const mates = findClip(piece, clip.id)!.track.clips.filter((c) => c !== clip);
          const also = rest === 'follow' ? mates.slice(0, several).map((c) => c.id) : [];
          const target = trimTarget(
            piece,
            { clip: clip.id, also, edge, rest, tracks: 'own' },
            fromSeconds(seconds) + 1234,
            catching(piece, 3),
          );
          expect(onGrid(target!.params.to, piece.format.rate)).toBe(true);
          expect(() => applyEdit(piece, uuid(), 'trim', target!.params)).not.toThrow();
        },
      ),
      { numRuns: 150 },
    );
  });

  it('the move offered is one that can be made', () => {
    fc.assert(
      fc.property(wishes(20), fc.nat(), fc.integer({ min: -20, max: 60 }), (list, pick, seconds) => {
        const piece = play(three, plain(list));
        const clips = piece.tracks.flatMap((t) => t.clips);
        const clip = clips[pick % Math.max(1, clips.length)];
        if (!clip) return;
        const home = findClip(piece, clip.id)!.track.id;
        const { tries } = moveTarget(piece, [clip.id], fromSeconds(seconds), home, 'insert', 'own', catching(piece, 3))!;
        const made = tries.some(({ params }) => {
          try {
            return Boolean(applyEdit(piece, uuid(), 'move', params));
          } catch (error) {
            expect(error).toBeInstanceOf(EditRefused);
            return false;
          }
        });
        expect(made).toBe(true);
      }),
      { numRuns: 150 },
    );
  });
});

describe('a dragged end', () => {
  it('stops where the material ends, and says that it is that', () => {
    const target = trimTarget(three, pull(b, 'follow'), 5000 * F, free)!;
    expect(target.stop).toBe('material');
    const after = applyEdit(three, uuid(), 'trim', target.params).piece;
    expect(SILENT.length - (findClip(after, b)!.clip.from + findClip(after, b)!.clip.length)).toBeLessThan(F);
  });

  it('catches on a neighbour’s end within reach, and not beyond it', () => {
    const alone = applyEdit(three, uuid(), 'remove', { clips: [b], rest: 'leave' }).piece;
    const near = trimTarget(alone, pull(a, 'stay'), 146 * F, { reach: 5 * F, points: snapPoints(alone, 0, new Set([a])) })!;
    expect([near.params.to, near.caught]).toEqual([150 * F, 150 * F]);
    const far = trimTarget(alone, pull(a, 'stay'), 140 * F, { reach: 5 * F, points: snapPoints(alone, 0, new Set([a])) })!;
    expect([far.params.to, far.caught]).toEqual([140 * F, null]);
  });
});

describe('an end of several clips', () => {
  it('goes no further than the one with the least room, and all by as much', () => {
    // The first has 10 frames of material before it, the last 100.
    const target = trimTarget(three, pull(c, 'follow', 'head', [a]), 150 * F - 40 * F, free)!;
    expect([target.params.to, target.stop]).toEqual([140 * F, 'material']);
    const after = applyEdit(three, uuid(), 'trim', target.params).piece;
    expect(after.tracks[0]!.clips.map((one) => [one.start / F, one.length / F, one.from / F])).toEqual([
      [0, 70, 0],
      [70, 90, 5],
      [160, 40, 90],
    ]);
  });

  it('of the first clip can be pulled out before the start of time when the rest follows, not when it stays', () => {
    const follows = trimTarget(three, pull(a, 'follow', 'head'), -7 * F, free)!;
    expect([follows.params.to, follows.stop]).toEqual([-7 * F, null]);
    expect(applyEdit(three, uuid(), 'trim', follows.params).piece.tracks[0]!.clips[0]).toMatchObject({
      start: 0,
      from: 3 * F,
      length: 67 * F,
    });
    expect(trimTarget(three, pull(a, 'stay', 'head'), -7 * F, free)).toMatchObject({ params: { to: 0 }, stop: 'start' });
  });
});

describe('a dragged clip', () => {
  const over = (id: string, frames: number, drop: 'insert' | 'over' = 'insert') =>
    moveTarget(three, [id], frames * F, 'main', drop, 'own', free)!.tries;

  it('is first offered free room, else the nearer seam of what it is held over', () => {
    expect(over(a, 80).at(-1)).toMatchObject({
      params: { to: 150 * F, how: 'insert', rest: 'close' },
      words: 'Between Shadow and Hill; the rest makes room',
    });
    expect(over(c, 20).at(-1)).toMatchObject({ params: { to: 60 * F, how: 'insert' } });
    expect(over(c, -50).at(-1)).toMatchObject({ params: { to: 0, how: 'insert' } });
  });

  it('lands in free room where it is put, moving nothing', () => {
    const [first] = over(c, 200);
    expect(first!.params).toMatchObject({ to: 200 * F, how: 'place', rest: 'leave' });
    expect(clipEnd(findClip(applyEdit(three, uuid(), 'move', first!.params).piece, c)!.clip)).toBe(230 * F);
  });

  it('covers what is there when that was chosen, and names what it covers', () => {
    const cover = over(c, 70, 'over').at(-1)!;
    expect(cover.words).toMatch(/covers what is there/);
    const after = applyEdit(three, uuid(), 'move', cover.params).piece;
    expect(stirred(three, after, [c])).toMatchObject({ covered: ['Shadow'] });
    expect(stirred(three, after, [c]).moved.size).toBe(0);
  });

  it('past the last track makes a new one', () => {
    const [first] = moveTarget(three, [c], 20 * F, null, 'insert', 'own', free)!.tries;
    const after = applyEdit(three, uuid(), 'move', first!.params).piece;
    expect(after.tracks.filter((t) => t.kind === 'picture').map((t) => t.clips.length)).toEqual([2, 1]);
    expect(first!.words).toMatch(/on a new track; nothing else moves/);
  });

  it('of a photo has no end of material to stop at', () => {
    const photo = addFrames(emptyPiece(), PHOTO, 0, 30);
    const id = photo.tracks[0]!.clips[0]!.id;
    expect(trimTarget(photo, pull(id, 'follow'), 9000 * F, free)).toMatchObject({ params: { to: 9000 * F }, stop: null });
  });
});
