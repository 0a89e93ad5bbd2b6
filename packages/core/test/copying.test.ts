import fc from 'fast-check';
import { copyStretch } from '../edits';
import { evaluate, pictureLayers } from '../frame';
import type { Piece } from '../piece';
import { does, emptyPiece, play, wishes } from './making';
import { F, three } from './three';

describe('a copied stretch', () => {
  it('pasted into an empty piece shows and sounds as the stretch did', () => {
    fc.assert(
      fc.property(wishes(12), fc.nat(150), fc.integer({ min: 5, max: 120 }), (list, first, frames) => {
        const piece = play(
          three(),
          list.filter(({ name }) => !['nest', 'setTrack', 'soundEdge', 'rate', 'shape'].includes(name)),
        );
        const [from, to] = [first * F, (first + frames) * F];
        const copied = copyStretch(piece, piece, from, to);
        if (!copied || Math.min(...copied.clips.map(({ clip }) => clip.start)) > from) return;
        const pasted = does(emptyPiece(), 'paste', { copied, track: null, at: 0, how: 'place' });
        const shown = (p: Piece, time: number) =>
          pictureLayers(evaluate(p, time).layers).map(({ picture, ...layer }) => ({ ...layer, media: picture.media, time: picture.time }));
        for (let n = 0; n < frames; n += 7) expect(shown(pasted, n * F)).toEqual(shown(piece, from + n * F));
      }),
      { numRuns: 60 },
    );
  });

  it('leaves locked tracks out, and is nothing where nothing lies', () => {
    const locked = does(three(), 'setTrack', { track: 'sound-1', set: { locked: true } });
    expect(copyStretch(locked, locked, 40 * F, 100 * F)!.clips.map(({ kind }) => kind)).toEqual(['picture', 'picture']);
    expect(copyStretch(locked, locked, 900 * F, 990 * F)).toBeNull();
  });
});
