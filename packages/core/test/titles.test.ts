import fc from 'fast-check';
import { coloursOf } from '../analyse';
import { planSegments, segmentKey } from '../deliver';
import { evaluate, movedAt, partsAt, presetValues, PLAIN_TEXT, THERE, TITLE_PRESETS, type DrawnPart } from '../frame';
import { clipEnd, OVERLAY, pieceLength, shelfOf, type Clip, type Piece } from '../piece';
import { MotionBy, MotionKind, Overlay, readingTime, textOf, type PropertyValues } from '../properties';
import { frameLength, fromSeconds } from '../time';
import { addFrames, does, emptyPiece, rates, VIDEO } from './making';

const FRAME = frameLength({ num: 30, den: 1 });

const said = (text: string, more: Partial<typeof PLAIN_TEXT> = {}): Overlay => ({ parts: [{ ...PLAIN_TEXT, text, ...more }] });

/** A clip of 90 frames with a title of 60 over it, from frame 10 on. */
function titled(values: PropertyValues): Piece {
  const piece = addFrames(emptyPiece(), VIDEO, 0, 90);
  return does(piece, 'add', { track: null, media: OVERLAY, at: 10 * FRAME, from: 0, length: 60 * FRAME, values });
}

const titleOf = (piece: Piece) => piece.tracks[1]!.clips[0]!;

const fade = (frames: number) => ({ kind: 'fade', length: frames * FRAME, by: 'whole', direction: 'up' }) as const;

const ways = fc.record({
  kind: fc.constantFrom(...MotionKind.options),
  by: fc.constantFrom(...MotionBy.options),
  direction: fc.constantFrom('left' as const, 'right' as const, 'up' as const, 'down' as const),
});

describe('a motion', () => {
  it('begins with nothing, ends with all where it lies, and goes through in order', () => {
    fc.assert(
      fc.property(ways, fc.integer({ min: 1, max: 30 }), fc.double({ min: 0.001, max: 0.999, noNaN: true }), (way, count, at) => {
        for (let n = 0; n < count; n += 1) {
          expect(movedAt({ ...way, at: 0 }, n, count).opacity).toBe(0);
          expect(movedAt({ ...way, at: 1 }, n, count)).toEqual(THERE);
        }
        const gone = (n: number) => movedAt({ ...way, at }, n, count).opacity === 0;
        for (let n = 1; n < count; n += 1) expect(gone(n - 1) && !gone(n)).toBe(false);
        const first = movedAt({ ...way, at }, 0, count);
        for (const value of Object.values(first)) expect(Number.isFinite(value)).toBe(true);
        expect(first.opacity).toBeLessThanOrEqual(1);
      }),
    );
  });
});

describe('a title', () => {
  it('is drawn over what lies under it, in the frame of the piece, and nowhere beside its ends', () => {
    const piece = titled({ overlay: said('Wind') });
    const kinds = (frame: number) => evaluate(piece, frame * FRAME).layers.map(({ kind }) => kind);
    expect([9, 10, 69, 70].map(kinds)).toEqual([['picture'], ['picture', 'overlay'], ['picture', 'overlay'], ['picture']]);
    expect(evaluate(piece, 20 * FRAME).layers.at(-1)).toMatchObject({ rect: { x: 0, y: 0, width: 1080, height: 1920 }, opacity: 1 });
  });

  it('comes and goes in its own time, which is shortened together where the clip is shorter', () => {
    const at = (piece: Piece, frame: number) => partsAt(titleOf(piece), frame * FRAME, FRAME)[0]?.motion?.at;
    const piece = titled({ overlay: said('Wind'), motionIn: fade(10), motionOut: fade(20) });
    expect(at(piece, 10)).toBeCloseTo(0.05);
    expect(at(piece, 19)).toBeCloseTo(0.95);
    expect([20, 49].map((frame) => at(piece, frame))).toEqual([undefined, undefined]);
    expect(at(piece, 50)).toBeCloseTo(0.975);
    expect(at(piece, 69)).toBeCloseTo(0.025);
    const brief = titled({ overlay: said('Wind'), motionIn: fade(120), motionOut: fade(60) });
    for (let frame = 10; frame < 70; frame += 1) expect(at(brief, frame)).toBeDefined();
    expect(at(brief, 49)).toBeGreaterThan(0.98);
  });

  it('that is cut in two keeps how it comes with the first half and how it goes with the second', () => {
    const piece = titled({ overlay: said('Wind'), motionIn: fade(10), motionOut: fade(10) });
    const cut = does(piece, 'split', { clips: [titleOf(piece).id], at: 40 * FRAME });
    const [first, second] = cut.tracks[1]!.clips as [Clip, Clip];
    expect([first.motionIn, first.motionOut]).toEqual([fade(10), undefined]);
    expect([second.motionIn, second.motionOut]).toEqual([undefined, fade(10)]);
    expect([first.overlay, second.overlay]).toEqual([said('Wind'), said('Wind')]);
    for (const frame of [15, 39, 40, 41, 65]) {
      const drawn = (one: Piece) => evaluate(one, frame * FRAME).layers.at(-1);
      expect(drawn(cut)).toEqual(drawn(piece));
    }
  });

  it('word by word shows each word once, in order, as long as the others', () => {
    fc.assert(
      fc.property(
        rates,
        fc.array(fc.stringMatching(/^[a-zé]{1,9}$/), { minLength: 2, maxLength: 12 }),
        fc.integer({ min: 0, max: 50 }),
        (rate, words, more) => {
          const frame = frameLength(rate);
          const length = (words.length * 3 + more) * frame;
          const clip = { start: 7 * frame, length, from: 0, overlay: said(words.join(' \n'), { pace: 'words' }) } as Clip;
          const shown: string[] = [];
          const counts: number[] = [];
          for (let time = clip.start; time < clipEnd(clip); time += frame) {
            const [part] = partsAt(clip, time, frame) as [DrawnPart];
            const text = part.kind === 'text' ? part.text : '';
            const n = Math.floor(((time - clip.start + frame / 2) / length) * words.length);
            expect(text).toBe(words[n]);
            if (n !== shown.length - 1) shown.push(text);
            counts[n] = (counts[n] ?? 0) + 1;
          }
          expect(shown).toEqual(words);
          expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
        },
      ),
    );
  });

  it('is not material: it has no end, no place on the shelf, and goes where it is pasted', () => {
    const piece = titled({ overlay: said('Wind') });
    expect(shelfOf(piece).map((entry) => entry.media.id)).toEqual(['v']);
    const { id } = titleOf(piece);
    const longer = does(piece, 'trim', { clip: id, edge: 'tail', to: 300 * FRAME, rest: 'stay', tracks: 'own' });
    expect(titleOf(longer).length).toBe(290 * FRAME);
    expect(pieceLength(longer)).toBe(300 * FRAME);
    expect(() => does(piece, 'freeze', { clip: id, at: 30 * FRAME, length: FRAME })).toThrow('stands still already');
    const nested = does(piece, 'nest', { clips: [piece.tracks[0]!.clips[0]!.id, id], name: 'Both' });
    expect(evaluate(nested, 30 * FRAME).layers).toEqual(
      evaluate(piece, 30 * FRAME).layers.map((layer) => ('picture' in layer ? { ...layer, picture: expect.anything() as unknown } : layer)),
    );
  });

  it('held still is one run of an export; its coming and going are segments of their own', () => {
    const piece = titled({ overlay: said('Wind'), motionIn: fade(10), motionOut: fade(10) });
    const segments = planSegments(piece, pieceLength(piece));
    expect(segments.map(({ start, frames, runs, way }) => [start, frames, runs.length, way])).toEqual([
      [0, 10, 1, 'straight'],
      [10, 10, 10, 'laid'],
      [20, 40, 1, 'laid'],
      [60, 10, 10, 'laid'],
      [70, 20, 1, 'straight'],
    ]);
    const keys = (one: Piece) => planSegments(one, pieceLength(one)).map((segment) => segmentKey(one, segment, (id) => id, 'x'));
    const other = does(piece, 'set', { clips: [titleOf(piece).id], values: { overlay: said('Winds') } });
    expect(keys(other).map((key, n) => key === keys(piece)[n])).toEqual([true, false, false, false, true]);
  });

  it('says how long it takes to be read: longer for more words, nothing where there are none', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), fc.string({ minLength: 1, maxLength: 40 }), (one, more) => {
        expect(readingTime(said(`${one}${more}`))).toBeGreaterThanOrEqual(readingTime(said(one)));
      }),
    );
    expect(readingTime(said(' \n'))).toBe(0);
    expect(readingTime(said('The wind lifts it up'))).toBeGreaterThan(1);
    // Marks on letters are read with them; what stands for a syllable takes longer.
    expect(readingTime(said('ว่าวขึ้น'))).toBeCloseTo(readingTime(said('kites')));
    expect(readingTime(said('凧が'))).toBeCloseTo(readingTime(said('kite')));
  });

  it('of every preset is one that a piece can hold, with words to be replaced', () => {
    for (const preset of TITLE_PRESETS) {
      expect(Overlay.parse(preset.overlay)).toEqual(preset.overlay);
      expect(textOf(preset.overlay)).not.toBe('');
      const clip = titleOf(titled(presetValues(preset)));
      expect([clip.overlay, clip.motionIn, clip.motionOut]).toEqual([preset.overlay, preset.motionIn, preset.motionOut]);
    }
    expect(TITLE_PRESETS.every(({ motionIn }) => (motionIn?.length ?? 0) < fromSeconds(2))).toBe(true);
  });
});

it('the colours of a picture are those there is most of, and differ', () => {
  const pixels = (parts: [number[], number][]) =>
    Uint8ClampedArray.from(parts.flatMap(([rgb, n]) => Array.from({ length: n }, () => [...rgb, 255]).flat()));
  expect(
    coloursOf(
      pixels([
        [[200, 30, 30], 50],
        [[20, 40, 160], 80],
        [[22, 42, 158], 10],
        [[250, 250, 250], 5],
      ]),
      3,
    ),
  ).toEqual(['#1428a0', '#c81e1e', '#fafafa']);
  expect(coloursOf(new Uint8ClampedArray(0), 3)).toEqual([]);
});
