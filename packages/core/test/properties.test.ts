import fc from 'fast-check';
import { planSegments, segmentKey } from '../deliver';
import { EditRefused } from '../edits';
import { evaluate, pictureLayers, type Layer } from '../frame';
import { keyTime, pieceLength, type Piece } from '../piece';
import { Ease, PROPERTIES, PROPERTY_NAMES, propertyOf, valueAt, valueOf, type Curve } from '../properties';
import { does, PHOTO } from './making';
import { F, id, main, three } from './three';

const keyed = (...keys: [number, number, Ease?][]): Curve => ({ keys: keys.map(([at, value, ease = 'even']) => ({ at, value, ease })) });
const set = (piece: Piece, clips: string[], values: Record<string, unknown>) => does(piece, 'set', { clips, values });
const opacities = (layers: readonly Layer[]): number[] => layers.map((layer) => ('opacity' in layer ? (layer.opacity ?? 1) : 1));

describe('the properties of clips', () => {
  it('are set on several at once, taken back by what is plain, and said as people say them', () => {
    const clips = main(three()).map((clip) => clip.id);
    const half = set(three(), clips, { opacity: 0.5, level: -6 });
    expect(main(half).map((clip) => [clip.opacity, clip.level])).toEqual(clips.map(() => [0.5, -6]));
    const back = set(half, clips, { opacity: 1, level: 0 });
    expect(main(back)).toStrictEqual(main(three()));
    expect(() => set(three(), clips, {})).toThrow(EditRefused);
    expect(() => set(three(), clips, { opacity: 2 })).toThrow(/makes no sense/);
  });

  it('read back what they say, at every step, whoever types it', () => {
    for (const name of PROPERTY_NAMES) {
      const { figure, plain, say, schema } = propertyOf(name);
      expect(schema.parse(plain)).toEqual(plain);
      if (!figure) continue;
      let value = plain;
      for (let i = 0; i < 30; i += 1) {
        value = figure.step(value, -1);
        expect([name, say(figure.read(say(value))!)]).toEqual([name, say(value)]);
      }
      expect([figure.read('nonsense'), figure.read('')]).toEqual([null, null]);
    }
    expect([PROPERTIES.level.figure?.read('−3,5'), PROPERTIES.opacity.figure?.read('35 %')]).toEqual([-3.5, 0.35]);
  });

  it('asked for as earlier versions of the app did are set all the same', () => {
    const clip = id(three(), 0);
    const asked = (name: string, params: unknown) => does(three(), name as 'set', params as never);
    expect(main(asked('level', { clip, level: -6 }))[0]).toMatchObject({ level: -6 });
    expect(main(asked('fit', { clip, fit: 'fit', backdrop: 'black' }))[0]).toMatchObject({ fit: 'fit', backdrop: 'black' });
    expect(() => asked('level', { clip: 3 })).toThrow(/no edit called/);
  });
});

describe('a value that changes', () => {
  it('passes through its keys, stays before the first and after the last, and never leaves their range', () => {
    const keys = fc
      .uniqueArray(fc.record({ at: fc.integer({ min: -5000, max: 5000 }), value: fc.nat(100), ease: fc.constantFrom(...Ease.options) }), {
        minLength: 1,
        maxLength: 8,
        selector: (key) => key.at,
      })
      .map((list) => list.sort((a, b) => a.at - b.at));
    fc.assert(
      fc.property(keys, fc.integer({ min: -6000, max: 6000 }), (list, moment) => {
        const curve = { keys: list };
        for (const key of list) expect(valueAt(curve, key.at)).toBe(key.value);
        const values = list.map((key) => key.value);
        expect(valueAt(curve, list[0]!.at - 1)).toBe(values[0]);
        expect(valueAt(curve, list.at(-1)!.at + 1)).toBe(values.at(-1));
        expect(valueAt(curve, moment)).toBeGreaterThanOrEqual(Math.min(...values));
        expect(valueAt(curve, moment)).toBeLessThanOrEqual(Math.max(...values));
      }),
    );
  });

  it('stays with the material when its clip is split, trimmed, moved or frozen', () => {
    const clip = main(three())[0]!;
    const fading = set(three(), [clip.id], { opacity: keyed([keyTime(clip, 0), 0.1], [keyTime(clip, 60 * F), 0.9]) });
    const at = (piece: Piece, frame: number) => opacities(evaluate(piece, frame * F).layers)[0]!;
    const split = does(fading, 'split', { clips: [clip.id], at: 25 * F });
    for (const n of [0, 13, 24, 25, 40, 59]) expect(at(split, n)).toBe(at(fading, n));
    const trimmed = does(fading, 'trim', { clip: clip.id, edge: 'head', to: 20 * F, rest: 'follow' });
    expect(at(trimmed, 0)).toBe(at(fading, 20));
    const frozen = does(fading, 'freeze', { clip: clip.id, at: 30 * F, length: 15 * F });
    for (const n of [30, 38, 44]) expect(at(frozen, n)).toBe(at(fading, 30));
    expect(valueOf(main(frozen)[1]!, 'opacity')).toBe(0.5);
  });
});

describe('what is partly there', () => {
  const low = main(three())[0]!.id;
  const over = does(three(), 'add', { track: null, media: PHOTO, at: 0, from: 0, length: 60 * F, fit: 'fit', backdrop: 'blur' });
  const top = over.tracks[1]!.clips[0]!.id;
  const shown = (piece: Piece) => evaluate(piece, 10 * F).layers;

  it('lets through what is under it; a picture with its backdrop, and a nest, is so much there as one', () => {
    expect(shown(over).map((layer) => layer.kind)).toEqual(['backdrop', 'picture']);
    const half = set(over, [top], { opacity: 0.5 });
    expect(shown(half)).toMatchObject([
      { kind: 'picture' },
      { kind: 'group', opacity: 0.5, layers: [{ kind: 'backdrop' }, { kind: 'picture', opacity: 1 }] },
    ]);
    expect(shown(set(over, [top], { opacity: 0 }))).toHaveLength(1);
    const nested = does(over, 'nest', { clips: [low, top], name: 'Both' });
    const faint = set(nested, [main(nested)[0]!.id], { opacity: 0.25 });
    expect(shown(faint)).toMatchObject([{ kind: 'group', opacity: 0.25, layers: [{ kind: 'backdrop' }, { kind: 'picture' }] }]);
    expect(pictureLayers(shown(faint)).map((layer) => layer.picture.media)).toEqual(['p', 'p']);
  });

  const plan = (piece: Piece) => planSegments(piece, pieceLength(piece));
  const keys = (piece: Piece) => plan(piece).map((segment) => segmentKey(piece, segment, (media) => media, 'x264'));

  it('is mixed, in segments that are kept by all of their frames, not only the first', () => {
    const clip = main(three())[0]!;
    expect(plan(three()).map((segment) => segment.way)).toEqual(['straight', 'straight', 'straight', 'black']);
    const at = (frame: number) => keyTime(clip, frame * F);
    const later = (last: number) => set(three(), [clip.id], { opacity: keyed([at(0), 1], [at(40), 1], [at(59), last]) });
    expect(plan(later(0.2)).map((segment) => segment.way)).toEqual(['planes', 'straight', 'straight', 'black']);
    expect(plan(later(0.2))[0]!.runs[0]).toMatchObject({ frames: 41 });
    expect(keys(later(0.2))[0]).not.toBe(keys(later(0.3))[0]);
    expect(keys(later(0.2)).slice(1)).toEqual(keys(three()).slice(1));
    const straight = keyed([at(0), 1], [at(59), 1]);
    expect(keys(set(three(), [clip.id], { opacity: straight }))).toEqual(keys(three()));
  });

  it('needs its picture only in the frames that show it', () => {
    const clip = over.tracks[1]!.clips[0]!;
    const at = (frame: number) => keyTime(clip, frame * F);
    const coming = set(over, [top], { opacity: keyed([at(0), 0, 'hold'], [at(20), 0.4, 'hold'], [at(40), 1]) });
    const needed = plan(coming)[0]!.pictures.map(({ picture, first, frames }) => [picture.media, first, frames]);
    expect(needed).toEqual([
      ['v', 0, 40],
      ['p', 20, 20],
    ]);
  });
});
