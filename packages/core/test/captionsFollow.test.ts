import fc from 'fast-check';
import { applyEdit, EditRefused, type EditName } from '../edits';
import { clipAt, clipEnd, cuesOf, isCaptions, keyTime, speedOf, type Clip, type Piece } from '../piece';
import { apply } from 'mutative';
import { frameLength } from '../time';
import { addFrames, does, emptyPiece, uuid, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });
const SAID = ['one', 'two', 'three', 'four', 'five', 'six'];

/** Three clips of a hundred frames of one video; over each two captions of forty frames. */
function talk(): Piece {
  const clips = [0, 1, 2].reduce((piece) => addFrames(piece, VIDEO, 0, 100), emptyPiece());
  const cues = SAID.map((text, n) => ({ at: (n * 50 + 5) * F, length: 40 * F, text }));
  return does(clips, 'caption', { cues });
}

const main = (piece: Piece) => piece.tracks.find(({ id }) => id === 'main')!.clips;
const captions = (piece: Piece) => piece.tracks.find(isCaptions)!;
const read = (piece: Piece) => cuesOf(piece).map(({ from, to, text }) => [text, from / F, to / F]);
const PLAIN = SAID.map((text, n) => [text, n * 50 + 5, n * 50 + 45]);

describe('captions go with what is said', () => {
  test('when a clip is deleted and the gap closed on its track alone, its captions go and the others come along', () => {
    const piece = talk();
    const closed = does(piece, 'remove', { clips: [main(piece)[1]!.id], rest: 'close' });
    expect(read(closed)).toEqual([...PLAIN.slice(0, 2), ['five', 105, 145], ['six', 155, 195]]);
    const left = does(piece, 'remove', { clips: [main(piece)[1]!.id], rest: 'leave' });
    expect(read(left)).toEqual([...PLAIN.slice(0, 2), ...PLAIN.slice(4)]);
  });

  test('when a pause is taken out of a sentence, its caption gets shorter by it', () => {
    const piece = talk();
    const [first] = main(piece);
    const parts = [{ clip: first!.id, from: 20 * F, to: 30 * F }];
    expect(read(does(piece, 'takeOutParts', { parts }))).toEqual([
      ['one', 5, 35],
      ...PLAIN.slice(1).map(([text, from, to]) => [text, Number(from) - 10, Number(to) - 10]),
    ]);
  });

  test('when clips change places, are trimmed at their start, or run at another speed', () => {
    const piece = talk();
    const [first, second, third] = main(piece);
    expect(read(does(piece, 'swap', { a: first!.id, b: third!.id })).map(([text]) => text)).toEqual([
      'five',
      'six',
      'three',
      'four',
      'one',
      'two',
    ]);
    const trimmed = does(piece, 'trim', { clip: second!.id, edge: 'head', to: 130 * F, rest: 'follow' });
    expect(read(trimmed).slice(2, 4)).toEqual([
      ['three', 100, 115],
      ['four', 125, 165],
    ]);
    const fast = does(piece, 'setSpeed', { clips: [second!.id], wish: { speed: 2 }, rest: 'follow' });
    expect(read(fast).slice(2, 5)).toEqual([
      ['three', 103, 123],
      ['four', 128, 148],
      ['five', 155, 195],
    ]);
  });

  test('when less than a frame of it is left: in that frame, not in the one after it', () => {
    const piece = talk();
    const third = main(piece)[2]!.id;
    const short = does(piece, 'trim', { clip: third, edge: 'tail', to: 206 * F, rest: 'stay' });
    expect(read(short).slice(4)).toEqual([['five', 205, 206]]);
    const fast = does(short, 'setSpeed', { clips: [third], wish: { speed: 2 }, rest: 'follow' });
    expect(read(fast).slice(4)).toEqual([['five', 202, 203]]);
  });

  test('when the end of what one is over goes: after the one that is said before it, and not cut off by that', () => {
    const piece = talk();
    const split = does(piece, 'split', { at: 157 * F, clips: [main(piece)[1]!.id] });
    const second = main(split)[1]!.id;
    expect(read(does(split, 'trim', { clip: second, edge: 'tail', to: 106 * F, rest: 'follow' })).slice(2, 4)).toEqual([
      ['three', 105, 106],
      ['four', 106, 144],
    ]);
  });

  test('as long as before, when it stands mostly over nothing and is only moved; and not at all by what is done elsewhere', () => {
    const piece = talk();
    const gap = does(piece, 'remove', { clips: [main(piece)[1]!.id], rest: 'leave' });
    const early = does(gap, 'caption', { cues: [{ at: 165 * F, length: 40 * F, text: 'soon' }] });
    const [first, third] = main(early);
    const soon = (one: Piece) => read(one).find(([text]) => text === 'soon');
    expect(soon(does(early, 'trim', { clip: first!.id, edge: 'tail', to: 50 * F, rest: 'stay' }))).toEqual(['soon', 165, 205]);
    expect(soon(does(early, 'move', { clips: [third!.id], track: 'main', to: 250 * F, how: 'over', rest: 'leave' }))).toEqual([
      'soon',
      215,
      255,
    ]);
  });

  test('wherever the sound is: detached it is what is said, also when the picture goes or runs faster without it', () => {
    const piece = talk();
    const [first] = main(piece);
    const gone = does(piece, 'remove', { clips: [first!.id], rest: 'leave', keepSound: true });
    expect(read(gone)).toEqual(PLAIN);
    const fast = does(piece, 'setSpeed', { clips: [first!.id], wish: { speed: 2 }, rest: 'stay', sound: 'stay' });
    expect(read(fast)).toEqual(PLAIN);
  });

  test('not when their track is locked, when what is said is nested as a whole, or when other material takes its place', () => {
    const piece = talk();
    const [first, second] = main(piece);
    const locked = does(piece, 'setTrack', { track: captions(piece).id, set: { locked: true } });
    expect(read(does(locked, 'remove', { clips: [second!.id], rest: 'close' }))).toEqual(PLAIN);
    const nested = does(piece, 'nest', { clips: [first!.id, second!.id], name: 'Talk' });
    expect(read(nested)).toEqual(PLAIN);
    expect(read(does(nested, 'unnest', { clip: main(nested)[0]!.id }))).toEqual(PLAIN);
    // The nest is what is said then.
    expect(read(does(nested, 'remove', { clips: [main(nested)[0]!.id], rest: 'close' })).map(([text]) => text)).toEqual(['five', 'six']);
  });

  test('of a narration, where that is spoken over the picture, and not where it only ends in them', () => {
    const piece = talk();
    const sound = piece.tracks.find(({ kind }) => kind === 'sound')!.id;
    const spoken = does(does(piece, 'setTrack', { track: sound, set: { role: 'speech' } }), 'add', {
      track: sound,
      media: VIDEO,
      at: 50 * F,
      from: 0,
      length: 58 * F,
      parts: 'sound',
    });
    const [, second] = main(spoken);
    // 'two' is spoken by it, 'three' but for three frames by the second clip.
    const closed = does(spoken, 'swap', { a: main(spoken)[0]!.id, b: second!.id });
    expect(read(closed).filter(([text]) => text !== 'one' && text !== 'four')).toEqual([
      ['three', 5, 45],
      ['two', 55, 95],
      ...PLAIN.slice(4),
    ]);
  });

  test('once, where the edit takes them along itself', () => {
    const piece = talk();
    const closed = does(piece, 'remove', { clips: [main(piece)[1]!.id], rest: 'close', tracks: 'all' });
    expect(read(closed)).toEqual([...PLAIN.slice(0, 2), ['five', 105, 145], ['six', 155, 195]]);
  });

  test('whatever is cut, moved, trimmed or made faster: each stands over its own words, and one step takes all back', () => {
    const wish = fc.record({
      name: fc.constantFrom<EditName>('split', 'trim', 'remove', 'move', 'takeOutParts', 'setSpeed', 'swap', 'roll', 'freeze', 'detach'),
      a: fc.nat(20),
      b: fc.nat(20),
      at: fc.nat(320),
      flag: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(wish, { maxLength: 8 }), (wishes) => {
        let piece = talk();
        for (const { name, a, b, at, flag } of wishes) {
          const clips = main(piece);
          const [one, other] = [clips[a % clips.length], clips[b % clips.length]];
          if (!one || !other) return;
          const inside = one.start + (at % Math.max(1, one.length / F)) * F;
          const rest = flag ? ('close' as const) : ('leave' as const);
          const follow = flag ? ('follow' as const) : ('stay' as const);
          const wanted: Partial<Record<EditName, unknown>> = {
            split: { at: inside, scope: 'clips', clips: [one.id] },
            trim: { clip: one.id, edge: b % 2 ? 'head' : 'tail', to: inside, rest: follow },
            remove: { clips: [one.id], rest },
            move: { clips: [one.id], track: 'main', to: other.start, how: 'insert', rest },
            takeOutParts: { parts: [{ clip: one.id, from: one.start, to: inside }], rest },
            setSpeed: { clips: [one.id], wish: { speed: flag ? 2 : 0.5 }, rest: 'follow' },
            swap: { a: one.id, b: other.id },
            roll: { clip: one.id, to: inside },
            freeze: { clip: one.id, at: inside, length: 15 * F },
            detach: { clips: [one.id] },
          };
          try {
            const result = applyEdit(piece, uuid(), name, wanted[name]);
            expect(apply(result.piece, result.inverse)).toEqual(piece);
            over(piece, result.piece);
            piece = result.piece;
          } catch (error) {
            if (!(error instanceof EditRefused)) throw error;
          }
        }
      }),
    );
  });
});

/**
 * The middle of every caption that is left stands over the moment of the material that some part of it stood over before. Where it lies just
 * on a join, which half of a caption may reach, it may be the end of the clip before.
 */
function over(before: Piece, after: Piece): void {
  for (const clip of captions(after).clips) {
    const middle = clip.start + Math.round(clip.length / 2);
    const under = clipAt({ clips: main(after) }, middle);
    const old = captions(before).clips.find(({ id }) => id === clip.id)!;
    const was = clipAt({ clips: main(before) }, old.start + Math.round(old.length / 2));
    if (!under || !was || under.hold !== undefined || was.hold !== undefined) continue;
    const span = wordsUnder(main(before), old);
    const fits = (one: Clip | undefined) => {
      if (!one) return false;
      const said = keyTime(one, middle);
      const slack = F * Math.max(1, speedOf(one));
      return span.some(([from, to]) => said >= from - slack && said <= to + slack);
    };
    const ended = under.start === middle ? main(after).find((one) => clipEnd(one) === middle) : undefined;
    expect(fits(under) || fits(ended)).toBe(true);
  }
}

const wordsUnder = (clips: readonly Clip[], caption: Clip): [number, number][] =>
  clips
    .filter((clip) => clip.start < clipEnd(caption) && clipEnd(clip) > caption.start)
    .map((clip) => [keyTime(clip, Math.max(clip.start, caption.start)), keyTime(clip, Math.min(clipEnd(clip), clipEnd(caption)))]);
