import fc from 'fast-check';
import { applyEdit, applyEntries, commonRate, draftOf, EditRefused } from '../edits';
import { brokenInvariants, clipEnd, pieceLength, type Piece } from '../piece';
import { frameLength, onGrid } from '../time';
import { addFrames, does, emptyPiece, MUSIC, paramsFor, PHOTO, play, rates, SILENT, uuid, VIDEO, wishes } from './making';

const F = frameLength({ num: 30, den: 1 });
const main = (piece: Piece) => piece.tracks[0]!.clips;
/** Start, length and source in-point of every main clip, in frames. */
const layout = (piece: Piece) => main(piece).map((c) => [c.start / F, c.length / F, c.from / F]);

/** Three clips of 60, 90 and 30 frames, joined. */
const joined = addFrames(addFrames(addFrames(emptyPiece(), VIDEO, 10, 60), SILENT, 5, 90), VIDEO, 100, 30);
const three = (): Piece => joined;

describe('every edit, in any order', () => {
  it('keeps the invariants and the frame grid', () => {
    fc.assert(
      fc.property(rates, wishes(40), (rate, list) => {
        play(emptyPiece(rate), list, (_, after) => {
          expect(brokenInvariants(after)).toEqual([]);
          for (const track of after.tracks)
            for (const clip of track.clips)
              expect(onGrid(clip.start, after.format.rate) && onGrid(clip.length, after.format.rate)).toBe(true);
        });
      }),
      { numRuns: 150 },
    );
  });

  it('is taken back to the identical document by its inverse, and done again by its patches', () => {
    fc.assert(
      fc.property(wishes(30), (list) => {
        play(emptyPiece(), list, (before, after, wish, id) => {
          const result = applyEdit(before, id, wish.name, paramsFor(before, wish));
          expect(applyEntries(after, [{ patches: result.inverse }])).toEqual(before);
          expect(applyEntries(before, [result])).toEqual(after);
        });
      }),
      { numRuns: 80 },
    );
  });

  it('is shown while a finger drags as it will be made', () => {
    fc.assert(
      fc.property(wishes(25), (list) => {
        play(emptyPiece(), list, (before, _, wish) => {
          const params = paramsFor(before, wish);
          const draft = draftOf(before, wish.name, params);
          const made = applyEdit(before, 'draft', wish.name, params);
          expect(draft).toEqual(made.piece);
          expect(draft === before).toBe(made.piece === before);
        });
      }),
      { numRuns: 60 },
    );
  });

  it('gives the same document wherever it is applied, ids of new clips included', () => {
    fc.assert(
      fc.property(wishes(25), (list) => {
        play(emptyPiece(), list, (before, after, wish, id) => {
          const elsewhere = JSON.parse(JSON.stringify(before)) as Piece;
          expect(applyEdit(elsewhere, id, wish.name, JSON.parse(JSON.stringify(paramsFor(before, wish)))).piece).toEqual(after);
        });
      }),
      { numRuns: 60 },
    );
  });

  it('leaves the piece it was given as it was, also when it is refused', () => {
    const piece = three();
    const copy = JSON.stringify(piece);
    expect(() => does(piece, 'split', { clips: [main(piece)[0]!.id], at: 0 })).toThrow(EditRefused);
    does(piece, 'remove', { clips: [main(piece)[0]!.id], rest: 'close' });
    expect(JSON.stringify(piece)).toBe(copy);
  });

  it('refuses parameters that make no sense, with a sentence', () => {
    expect(() => applyEdit(three(), uuid(), 'trim', { clip: 1 })).toThrow(/makes no sense/);
    expect(() => applyEdit(three(), uuid(), 'constructor', {})).toThrow(/no edit called/);
  });
});

describe('adding', () => {
  it('joins at the end of the track', () => {
    expect(layout(three())).toEqual([
      [0, 60, 10],
      [60, 90, 5],
      [150, 30, 100],
    ]);
  });

  it('at the playhead inside a clip cuts it and moves the rest later, losing no frame', () => {
    const piece = does(three(), 'add', { track: 'main', media: VIDEO, at: 70 * F, from: 0, length: 20 * F });
    expect(layout(piece)).toEqual([
      [0, 60, 10],
      [60, 10, 5],
      [70, 20, 0],
      [90, 80, 15],
      [170, 30, 100],
    ]);
  });

  it('into free room moves nothing', () => {
    const piece = does(does(three(), 'remove', { clips: [main(three())[1]!.id], rest: 'leave' }), 'rename', { clip: null, name: 'x' });
    const gap = does(three(), 'remove', { clips: [main(three())[1]!.id], rest: 'leave' });
    expect(main(piece).length).toBe(2);
    expect(layout(does(gap, 'add', { track: 'main', media: VIDEO, at: 70 * F, from: 0, length: 20 * F }))).toEqual([
      [0, 60, 10],
      [70, 20, 0],
      [150, 30, 100],
    ]);
  });

  it('refuses sound on a picture track, silence on a sound track, and more than there is', () => {
    expect(() => addFrames(emptyPiece(), MUSIC, 0, 10)).toThrow(/has no picture/);
    expect(() => addFrames(emptyPiece(), SILENT, 0, 10, 'sound-1')).toThrow(/has no sound/);
    expect(() => addFrames(emptyPiece(), SILENT, 100, 100)).toThrow(/only 0:04.00 long/);
  });
});

describe('trimming', () => {
  it('that the rest follows keeps every join', () => {
    const [a, b] = main(three());
    const shorter = does(three(), 'trim', { clip: a!.id, edge: 'tail', to: 40 * F, rest: 'follow' });
    expect(layout(shorter)).toEqual([
      [0, 40, 10],
      [40, 90, 5],
      [130, 30, 100],
    ]);
    const head = does(three(), 'trim', { clip: b!.id, edge: 'head', to: 80 * F, rest: 'follow' });
    expect(layout(head)).toEqual([
      [0, 60, 10],
      [60, 70, 25],
      [130, 30, 100],
    ]);
  });

  it('that leaves the rest where it is moves nothing else', () => {
    const [, b] = main(three());
    expect(layout(does(three(), 'trim', { clip: b!.id, edge: 'head', to: 80 * F, rest: 'stay' }))).toEqual([
      [0, 60, 10],
      [80, 70, 25],
      [150, 30, 100],
    ]);
    expect(() => does(three(), 'trim', { clip: b!.id, edge: 'tail', to: 160 * F, rest: 'stay' })).toThrow(/in the way/);
  });

  it('stops where the material ends, and at one frame', () => {
    const [, b] = main(three());
    expect(() => does(three(), 'trim', { clip: b!.id, edge: 'tail', to: 400 * F, rest: 'follow' })).toThrow(/material left after/);
    expect(() => does(three(), 'trim', { clip: b!.id, edge: 'tail', to: 60 * F, rest: 'follow' })).toThrow(/at least one frame/);
  });

  it('draws a photo out as long as one likes, from its start too', () => {
    const piece = addFrames(addFrames(emptyPiece(), VIDEO, 0, 30), PHOTO, 0, 90);
    const photo = main(piece)[1]!;
    const longer = does(piece, 'trim', { clip: photo.id, edge: 'tail', to: 3000 * F, rest: 'follow' });
    expect(main(longer)[1]!.length).toBe(2970 * F);
    const shorter = does(longer, 'trim', { clip: photo.id, edge: 'head', to: 500 * F, rest: 'stay' });
    expect(layout(shorter)[1]!.slice(0, 2)).toEqual([500, 2500]);
    expect(layout(does(shorter, 'trim', { clip: photo.id, edge: 'head', to: 30 * F, rest: 'stay' }))[1]!.slice(0, 2)).toEqual([30, 2970]);
  });
});

describe('splitting, deleting, moving', () => {
  it('a split shows and sounds the same: the second half goes on where the first ends', () => {
    const [a] = main(three());
    const piece = does(three(), 'split', { clips: [a!.id], at: 25 * F });
    expect(layout(piece).slice(0, 2)).toEqual([
      [0, 25, 10],
      [25, 35, 35],
    ]);
    expect(pieceLength(piece)).toBe(pieceLength(three()));
  });

  it('deleting closes the gap, or leaves it, as it was told', () => {
    const id = main(three())[0]!.id;
    expect(layout(does(three(), 'remove', { clips: [id], rest: 'close' }))).toEqual([
      [0, 90, 5],
      [90, 30, 100],
    ]);
    expect(layout(does(three(), 'remove', { clips: [id], rest: 'leave' }))).toEqual([
      [60, 90, 5],
      [150, 30, 100],
    ]);
  });

  it('closing a gap on the picture moves nothing on the music', () => {
    const piece = addFrames(three(), MUSIC, 0, 180, 'sound-1');
    expect(does(piece, 'remove', { clips: [main(piece)[0]!.id], rest: 'close' }).tracks[1]).toEqual(piece.tracks[1]);
  });

  it('moving to a seam puts the clip there, closes its hole and keeps the length', () => {
    const [a] = main(three());
    const piece = does(three(), 'move', { clips: [a!.id], track: 'main', to: 150 * F, how: 'insert', rest: 'close' });
    expect(layout(piece)).toEqual([
      [0, 90, 5],
      [90, 60, 10],
      [150, 30, 100],
    ]);
    const back = does(piece, 'move', { clips: [a!.id], track: 'main', to: 0, how: 'insert', rest: 'close' });
    expect(layout(back)).toEqual(layout(three()));
  });

  it('moving into room that is too small is refused', () => {
    const [a] = main(three());
    expect(() => does(three(), 'move', { clips: [a!.id], track: 'main', to: 100 * F, how: 'place', rest: 'leave' })).toThrow(
      /not enough room/,
    );
  });

  it('closing ripples shorten the piece by exactly what was taken', () => {
    fc.assert(
      fc.property(wishes(30), (list) => {
        // Linked clips go together and locked tracks refuse: laws.test.ts speaks of those. Here it is clips by themselves.
        const plain = ['add', 'fit', 'level', 'move', 'rate', 'remove', 'rename', 'split', 'trim', 'slip', 'roll', 'freeze', 'duplicate'];
        const piece = play(
          emptyPiece(),
          list.filter((wish) => plain.includes(wish.name)),
        );
        for (const clip of main(piece)) {
          const after = does(piece, 'remove', { clips: [clip.id], rest: 'close' });
          const end = (p: Piece) => Math.max(0, ...main(p).map(clipEnd));
          const wasLast = clipEnd(clip) === end(piece);
          if (!wasLast) expect(end(after)).toBe(end(piece) - clip.length);
        }
      }),
      { numRuns: 40 },
    );
  });
});

describe('the frame rate', () => {
  it('is the one most of the first clips have', () => {
    const at = (num: number, den = 1) => ({ rate: { num, den } });
    expect(commonRate([at(30), at(25), at(25), { rate: null }])).toEqual({ num: 25, den: 1 });
    expect(commonRate([{ rate: null }])).toBeNull();
  });

  it('can be set only while nothing is on the timeline', () => {
    expect(does(emptyPiece(), 'rate', { rate: { num: 25, den: 1 } }).format.rate.num).toBe(25);
    expect(() => does(three(), 'rate', { rate: { num: 25, den: 1 } })).toThrow(/only while the piece is empty/);
  });
});

describe('an edit that changes nothing', () => {
  it('gives back the very same piece, so that nobody takes it for a change', () => {
    const piece = addFrames(emptyPiece(), VIDEO, 10, 60);
    const clip = piece.tracks[0]!.clips[0]!;
    const same = applyEdit(piece, uuid(), 'trim', { clip: clip.id, edge: 'tail', to: clip.start + clip.length, rest: 'follow' });
    expect([same.piece === piece, same.patches]).toEqual([true, []]);
    expect(applyEdit(piece, uuid(), 'slip', { clips: [clip.id], by: 0 }).piece).toBe(piece);
  });
});
