import fc from 'fast-check';
import { plainBase, planSegments, type Segment } from '../deliver';
import { CubeProblem, cubeFile, readCube } from '../formats';
import { colourThrough, cubeOf, evaluate, PLAIN_TONE, type Layer } from '../frame';
import { pieceLength, type Piece } from '../piece';
import { EFFECTS_MOST, LookName, type Effect } from '../properties';
import { frameLength } from '../time';
import { addFrames, does, emptyPiece, PHOTO, VIDEO } from './making';

const FRAME = frameLength({ num: 30, den: 1 });
const share = fc.double({ min: 0, max: 1, noNaN: true });
const sided = fc.double({ min: -1, max: 1, noNaN: true });
const colour = fc.tuple(share, share, share);
const look: Effect = { kind: 'look', look: 'meadow', strength: 0.7 };
const grain: Effect = { kind: 'grain', amount: 0.5 };

const piece = () => addFrames(addFrames(emptyPiece(), VIDEO, 0, 30), PHOTO, 0, 30);
const firstOf = (one: Piece) => one.tracks[0]!.clips[0]!.id;
const shown = (one: Piece, frame: number): Layer => evaluate(one, frame * FRAME).layers.at(-1)!;

describe('colours through effects', () => {
  it('stay colours, whatever is done to them', () => {
    const tone = fc.record({
      kind: fc.constant('tone' as const),
      exposure: fc.double({ min: -3, max: 3, noNaN: true }),
      contrast: sided,
      saturation: sided,
      warmth: sided,
      tint: sided,
      shadows: sided,
      highlights: sided,
      fade: share,
    });
    const looked = fc.record({ kind: fc.constant('look' as const), look: fc.constantFrom(...LookName.options), strength: share });
    fc.assert(
      fc.property(fc.array(fc.oneof(tone, looked), { maxLength: 4 }), colour, (effects, one) => {
        for (const level of colourThrough(effects, one)) expect(level >= 0 && level <= 1).toBe(true);
      }),
    );
  });

  it('are as they were where nothing is set, or nothing of a look is taken', () => {
    fc.assert(
      fc.property(colour, fc.constantFrom(...LookName.options), (one, name) => {
        const nothing: Effect[] = [
          { kind: 'tone', ...PLAIN_TONE },
          { kind: 'look', look: name, strength: 0 },
          { kind: 'vignette', amount: 1 },
        ];
        colourThrough(nothing, one).forEach((level, i) => expect(level).toBeCloseTo(one[i]!, 10));
      }),
    );
  });

  it('go the way that the figure says', () => {
    const of = (change: Partial<typeof PLAIN_TONE>, [r, g, b]: [number, number, number] = [0.5, 0.4, 0.3]) =>
      colourThrough([{ kind: 'tone', ...PLAIN_TONE, ...change }], [r, g, b]);
    const [r, g, b] = of({});
    expect(of({ exposure: 1 }).map((level, i) => level > [r, g, b][i]!)).toEqual([true, true, true]);
    expect(new Set(of({ saturation: -1 }).map((level) => level.toFixed(9))).size).toBe(1);
    expect(of({ warmth: 1 })[0]).toBeGreaterThan(r);
    expect(of({ warmth: 1 })[2]).toBeLessThan(b);
    expect(of({ tint: 1 })[1]).toBeLessThan(g);
    expect(of({ shadows: 1 }, [0.1, 0.1, 0.1])[0]).toBeGreaterThan(0.15);
    expect(of({ shadows: 1 }, [0, 0, 0])).toEqual([0, 0, 0]);
    expect(of({ shadows: 1 }, [0.9, 0.9, 0.9])[0]).toBeCloseTo(0.9);
    expect(of({ highlights: -1 }, [0.9, 0.9, 0.9])[0]).toBeLessThan(0.75);
    expect(of({ highlights: -1 }, [0.1, 0.1, 0.1])[0]).toBeCloseTo(0.1);
    expect(of({ fade: 1 }, [0, 0, 0])[0]).toBeCloseTo(0.22);
    expect(of({ contrast: 1 }, [0.2, 0.2, 0.2])[0]).toBeLessThan(0.15);
    expect([of({ contrast: 1 }, [0, 0, 0])[0], of({ contrast: 1 }, [1, 1, 1])[0]]).toEqual([0, 1]);
  });

  it('are the same in a cube, and in a table for other programs', () => {
    const cube = cubeOf([look], 33, 4, 64);
    const at = ([r, g, b]: [number, number, number]) => [...cube.slice(((r * 33 + g) * 33 + b) * 4, ((r * 33 + g) * 33 + b) * 4 + 3)];
    const due = colourThrough([look], [8 / 32, 20 / 32, 32 / 32]).map((level) => Math.round(level * 255 * 64));
    expect(at([8, 20, 32])).toEqual(due);
    const lines = cubeFile([look], 'Mine "own"', 5).trim().split('\n');
    expect(lines.slice(0, 2)).toEqual(['TITLE "Mine own"', 'LUT_3D_SIZE 5']);
    expect(lines).toHaveLength(4 + 125);
    // Red runs quickest: the second line of the table is a quarter of red alone.
    expect(lines[5]).toBe(
      colourThrough([look], [1 / 4, 0, 0])
        .map((level) => level.toFixed(6))
        .join(' '),
    );
  });
});

describe('a look brought in', () => {
  const through = (text: string, one: [number, number, number], strength = 1) =>
    colourThrough([{ kind: 'table', name: 'Theirs', table: readCube(text).table, strength }], one);

  it('makes of colours what the one did that it was saved from, at any strength', () => {
    const effects: Effect[] = [look, { kind: 'tone', ...PLAIN_TONE, warmth: 0.4 }];
    const { title, table } = readCube(cubeFile(effects, 'Warm meadow'));
    expect(title).toBe('Warm meadow');
    const away = (one: [number, number, number], strength = 1) => {
      const due = colourThrough(effects, one);
      const made = colourThrough([{ kind: 'table', name: 'Theirs', table, strength }], one);
      return Math.max(...made.map((level, i) => Math.abs(level - (one[i]! + (due[i]! - one[i]!) * strength)) * 255));
    };
    const entry = fc.integer({ min: 0, max: 16 }).map((n) => n / 16);
    fc.assert(fc.property(fc.tuple(entry, entry, entry), share, (one, strength) => expect(away(one, strength)).toBeLessThan(0.51)));
    // Between its entries it goes evenly, where the look may bend.
    const between = Array.from({ length: 1_000 }, (_, n) =>
      away([((n % 10) + 0.5) / 10, ((Math.floor(n / 10) % 10) + 0.5) / 10, (Math.floor(n / 100) + 0.5) / 10]),
    );
    expect(between.reduce((sum, one) => sum + one, 0) / between.length).toBeLessThan(1);
  });

  it('may be curves alone, run over more than 0 to 1, and be written on any system', () => {
    const curves = ['# from elsewhere', 'LUT_1D_SIZE 3', '0 1 0', '0.25 0.5 0.5', '1 0 1', ''].join('\r\n');
    through(curves, [0.5, 0.5, 0.25]).forEach((level, i) => expect(level).toBeCloseTo([0.25, 0.5, 0.25][i]!, 2));
    const wide = ['LUT_3D_SIZE 2', 'LUT_3D_INPUT_RANGE -1.0 1.0'];
    for (let n = 0; n < 8; n += 1) wide.push(`${n & 1} ${(n >> 1) & 1} ${n >> 2}`);
    through(wide.join('\n'), [0, 0.5, 1]).forEach((level, i) => expect(level).toBeCloseTo([0.5, 0.75, 1][i]!, 2));
  });

  it('that is none is refused with what is wrong', () => {
    const cut = cubeFile([look], 'Cut').split('\n').slice(0, 500).join('\n');
    for (const [text, sentence] of [
      ['', 'no .cube file'],
      ['hello', 'three numbers'],
      ['LUT_3D_SIZE 4000', '4000 entries'],
      ['LUT_3D_SIZE 2\n0 0 zero', 'Line 2'],
      ['LUT_3D_SIZE 2\nDOMAIN_MAX 0 0 0\n' + '0 0 0\n'.repeat(8), 'not below'],
      [cut, 'cut off or damaged'],
    ] as const) {
      expect(() => readCube(text)).toThrow(CubeProblem);
      expect(() => readCube(text)).toThrow(sentence);
    }
    const one = piece();
    const of = (table: string) => () =>
      does(one, 'set', { clips: [firstOf(one)], values: { effects: [{ kind: 'table', name: 'X', table, strength: 1 }] } });
    for (const table of ['', 'AAAA', '!'.repeat(19_652)]) expect(of(table)).toThrow();
  });
});

describe('effects', () => {
  it('on a clip take its picture and what is behind it, and leave the others', () => {
    const one = piece();
    const done = does(one, 'set', { clips: [firstOf(one)], values: { fit: 'fit', effects: [look, { ...grain, off: true }] } });
    expect(shown(done, 5)).toMatchObject({ kind: 'group', effects: [look], layers: [{ kind: 'backdrop' }, { kind: 'picture' }] });
    expect(shown(done, 40)).toEqual(shown(one, 40));
    expect(does(done, 'set', { clips: [firstOf(one)], values: { fit: 'fill', effects: 'none' } })).toEqual(one);
  });

  it('on a track and on the piece are done after those of a clip, and only they are new', () => {
    const one = piece();
    const clip = does(one, 'set', { clips: [firstOf(one)], values: { effects: [look] } });
    const track = does(clip, 'setTrack', { track: 'main', set: { effects: [grain] } });
    const all = does(track, 'setLook', { effects: [{ kind: 'vignette', amount: 0.4 }] });
    expect(shown(all, 5)).toMatchObject({
      effects: [{ kind: 'vignette' }],
      layers: [{ effects: [grain], seed: 5, layers: [{ effects: [look], layers: [{ kind: 'picture' }] }] }],
    });
    const back = does(does(all, 'setLook', { effects: 'none' }), 'setTrack', { track: 'main', set: { effects: 'none' } });
    expect(back).toEqual(clip);
  });

  it('of grain are others in every frame of an export; of colour they are not', () => {
    const runs = (one: Piece) => planSegments(one, pieceLength(one)).map((segment) => [segment.way, segment.runs.length]);
    const one = piece();
    const of = (effects: Effect[]) => runs(does(one, 'set', { clips: [firstOf(one)], values: { effects } }));
    expect(runs(one)[0]).toEqual(['straight', 1]);
    expect(of([look])[0]).toEqual(['planes', 1]);
    expect(of([look, grain])[0]).toEqual(['planes', 30]);
  });

  it('of colour alone are gathered from clip, track and piece for one table, in their order', () => {
    const tone: Effect = { kind: 'tone', ...PLAIN_TONE, warmth: 0.2 };
    const theirs: Effect = { kind: 'look', look: 'ink', strength: 0.3 };
    const one = piece();
    let all = does(one, 'set', { clips: [firstOf(one)], values: { effects: [look, { ...grain, off: true }] } });
    all = does(does(all, 'setTrack', { track: 'main', set: { effects: [tone] } }), 'setLook', { effects: [theirs] });
    const [first, second] = planSegments(all, pieceLength(all));
    const coloursOf = ({ runs }: Segment) => plainBase(runs[0]!.layers)?.effects;
    expect([first!.way, coloursOf(first!)]).toEqual(['planes', [look, tone, theirs]]);
    expect(coloursOf(second!)).toEqual([tone, theirs]);
    const wayOf = (values: object) => planSegments(does(all, 'set', { clips: [firstOf(all)], values }), pieceLength(all))[0]!.way;
    expect([wayOf({ opacity: 0.5 }), wayOf({ turn: 3 }), wayOf({ effects: [look, { kind: 'vignette', amount: 0.1 }] })]).toEqual([
      'planes',
      'planes',
      'planes',
    ]);
  });

  it('of a nest are not taken apart with it', () => {
    const one = piece();
    const nested = does(one, 'nest', { clips: [firstOf(one)], name: 'Inside' });
    const done = does(nested, 'set', { clips: [nested.tracks[0]!.clips[0]!.id], values: { effects: [look] } });
    expect(shown(done, 5)).toMatchObject({ kind: 'group', effects: [look] });
    expect(() => does(done, 'unnest', { clip: nested.tracks[0]!.clips[0]!.id })).toThrow('look');
  });

  it('of a track stay with what was on it when that is nested and taken apart', () => {
    const made = does(piece(), 'setTrack', { track: 'main', set: { effects: [look] } });
    const nested = does(made, 'nest', { clips: made.tracks[0]!.clips.map(({ id }) => id), name: 'Inside' });
    const clip = nested.tracks.flatMap((track) => track.clips)[0]!;
    expect(shown(nested, 5)).toMatchObject({ effects: [look], layers: [{ kind: 'picture' }] });
    const apart = does(nested, 'unnest', { clip: clip.id });
    expect(shown(apart, 5)).toMatchObject({ effects: [look], layers: [{ kind: 'picture' }] });
  });

  it('are so many at most', () => {
    const one = piece();
    const many = Array.from({ length: EFFECTS_MOST + 1 }, () => look);
    expect(() => does(one, 'set', { clips: [firstOf(one)], values: { effects: many } })).toThrow('makes no sense');
  });
});
