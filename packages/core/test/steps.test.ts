import { planSegments, segmentSteps, stepsOf } from '../deliver';
import type { Layer, Mask } from '../frame';
import { pieceLength, type Piece } from '../piece';
import { Transition, type Effect } from '../properties';
import { frameLength } from '../time';
import { addFrames, does, emptyPiece, VIDEO } from './making';

const FRAME = { width: 1080, height: 1920 };
const LOOK: Effect = { kind: 'look', look: 'meadow', strength: 0.7 };
const GRAIN: Effect = { kind: 'grain', amount: 0.2 };
const picture = (name: string, rect = { x: 0, y: 0, ...FRAME }): Layer => ({
  kind: 'picture',
  picture: { media: name, clip: name, time: 0 },
  rect,
  opacity: 1,
});
const small = (y: number) => picture('small', { x: 0, y, width: 1080, height: 608 });
const title = { kind: 'overlay', parts: [], opacity: 1, rect: { x: 0, y: 0, ...FRAME } } as unknown as Layer;
const group = (layers: Layer[], opacity = 1, effects?: Effect[]): Layer => ({
  kind: 'group',
  layers,
  opacity,
  ...(effects ? { effects } : {}),
});
const kinds = (layers: Layer[]) =>
  stepsOf(layers, FRAME)?.map((step) =>
    step.kind === 'picture' ? [step.base.picture.picture.clip, step.share, step.base.effects.length] : step.kind,
  ) ?? null;

describe('a frame as steps', () => {
  it('is pictures one over the other, their colours, titles, and colours of all of it', () => {
    expect(kinds([picture('a'), group([picture('b')], 0.3), title, title])).toEqual([['a', 1, 0], ['b', 0.3, 0], 'titles']);
    expect(kinds([group([picture('a')], 1, [LOOK]), group([group([picture('b')], 1, [LOOK])], 0.3)])).toEqual([
      ['a', 1, 1],
      ['b', 0.3, 1],
    ]);
    expect(kinds([group([picture('a'), group([picture('b')], 0.5), title], 1, [LOOK]), title])).toEqual([
      ['a', 1, 0],
      ['b', 0.5, 0],
      'titles',
      'colours',
      'titles',
    ]);
    expect(kinds([group([picture('a')], 0.4)])).toEqual([['a', 0.4, 0]]);
    expect(kinds([title])).toEqual(['titles']);
    const clear = { ...small(656), picture: { media: 'c', clip: 'c', time: 0, alpha: true } } as Layer;
    expect(kinds([picture('a'), clear, title])).toEqual([['a', 1, 0], 'titles']); // drawn together
  });

  it('lays a picture that does not fill it over another, or whose colours would change what is black beside it', () => {
    expect(kinds([small(656)])).toEqual([['small', 1, 0]]);
    expect(kinds([group([small(656)], 1, [LOOK])])).toEqual([['small', 1, 1]]);
    expect(kinds([group([small(655)], 1, [LOOK])])).toEqual(['placed']); // not on whole samples of colour
    expect(kinds([picture('a'), small(656)])).toEqual([['a', 1, 0], 'placed']);
    const [, laid] = stepsOf([picture('a'), group([group([small(656)], 0.5)], 0.5, [LOOK])], FRAME)!;
    expect(laid).toMatchObject({
      kind: 'placed',
      picture: { clip: 'small' },
      places: [{ rect: { y: 656 } }],
      effects: [LOOK],
      share: 0.25,
    });
  });

  it('lays frames, and in them pictures, where a transition or a nest is placed, and mixes them by masks', () => {
    const placed = { rect: { x: 10, y: 0, ...FRAME } };
    const mask: Mask = { kind: 'linear', direction: 'left', at: 0.3, soft: 0.2, inside: true };
    const more = (layers: Layer[], with_: object) => ({ ...group(layers), ...with_ }) as Layer;
    expect(stepsOf([picture('a'), more([picture('b')], { placed })], FRAME)).toMatchObject([
      { kind: 'picture' },
      { kind: 'group', placed, steps: [{ kind: 'picture' }] },
    ]);
    expect(stepsOf([more([small(656)], { placed })], FRAME)).toMatchObject([
      { kind: 'placed', places: [{ rect: { x: 0, y: 656, width: 1080, height: 608 } }, placed] },
    ]);
    // What the frame it lies in would cut off is cut from the picture itself.
    expect(stepsOf([more([small(-304)], { placed })], FRAME)).toMatchObject([
      { kind: 'placed', places: [{ crop: { left: 0, top: 0.5, right: 0, bottom: 0 } }, placed] },
    ]);
    expect(stepsOf([picture('a'), more([picture('b'), title], { mask })], FRAME)).toMatchObject([
      { kind: 'picture' },
      { kind: 'group', mask, steps: [{ kind: 'picture' }, { kind: 'titles' }] },
    ]);
    expect(kinds([picture('a'), { kind: 'fill', colour: '#ffffff', opacity: 0.5 }])).toEqual([['a', 1, 0], 'fill']);
    expect(kinds([{ kind: 'fill', colour: '#ffffff', to: '#000000' }, small(656)])).toEqual(['fill', 'placed']);
  });

  it('does effects in their order, those of colour that follow each other in one go; what is out of focus is a frame of its own', () => {
    const vignette: Effect = { kind: 'vignette', amount: 0.3 };
    const effects: Effect[] = [LOOK, LOOK, GRAIN, { kind: 'blur', amount: 0.2 }, vignette, LOOK];
    expect(stepsOf([{ kind: 'group', layers: [picture('a')], opacity: 1, effects, seed: 4 }, title], FRAME)).toMatchObject([
      {
        kind: 'group',
        soft: 0.2,
        steps: [{ kind: 'picture' }, { kind: 'colours', effects: [LOOK, LOOK] }, { kind: 'effect', effect: GRAIN, seed: 4 }],
      },
      { kind: 'effect', effect: vignette },
      { kind: 'colours', effects: [LOOK] },
      { kind: 'titles' },
    ]);
    const soft: Layer = { kind: 'group', layers: [picture('a')], opacity: 0.4, soft: 0.5 };
    expect(stepsOf([picture('b'), soft], FRAME)).toMatchObject([
      { kind: 'picture' },
      { kind: 'group', share: 0.4, steps: [{ kind: 'group', soft: 0.5, share: 1, steps: [{ kind: 'picture' }] }] },
    ]);
  });

  it('is none where more than titles has to be drawn', () => {
    const more = (layers: Layer[], with_: object) => ({ ...group(layers), ...with_ }) as Layer;
    const turned = { ...small(-304), turn: 10 } as Layer;
    const none: Layer[][] = [
      [group([small(656), title], 1, [LOOK])],
      [group([group([picture('a')], 0.5), title], 1, [LOOK])],
      [group([title], 1, [LOOK])],
      [group([small(656)], 1, [LOOK, GRAIN])], // nothing of it over the black beside it
      [more([small(656)], { soft: 0.5 })],
      [more([picture('a')], { mask: { kind: 'radial', at: 0.3, soft: 0, inside: true }, opacity: 0.5 })],
      [more([small(656)], { mask: { kind: 'radial', at: 0.3, soft: 0, inside: true } })],
      [more([turned], { placed: { rect: { x: 10, y: 0, ...FRAME } } })],
    ];
    for (const layers of none) expect(kinds(layers)).toBeNull();
  });
});

describe('a picture in a segment', () => {
  const rate = { num: 30, den: 1 };
  const steps = (runs: Layer[][]) =>
    segmentSteps(
      runs.map((layers) => ({ layers, frames: 5 })),
      { ...FRAME, rate },
    );
  const later = (layer: Layer) =>
    ({ ...layer, picture: { ...(layer as { picture: object }).picture, time: 5 * frameLength(rate) } }) as Layer;

  it('is brought into the frame by its decoder where that does so alike throughout', () => {
    expect(steps([[picture('a')], [group([later(picture('a'))], 0.5)]])).toMatchObject([
      [{ kind: 'picture', share: 1 }],
      [{ kind: 'picture', share: 0.5 }],
    ]);
  });

  it('is laid there in all of them where that is another in some, with the colour behind it', () => {
    const behind: Layer = { kind: 'fill', colour: '#335577' };
    expect(steps([[picture('a')], [{ ...later(picture('a')), turn: 3 } as Layer]])).toMatchObject([
      [{ kind: 'placed', share: 1 }],
      [{ kind: 'placed', places: [{ turn: 3 }] }],
    ]);
    expect(steps([[group([behind, small(656)], 0.5, [LOOK])], [later(small(600))]])).toMatchObject([
      [{ kind: 'group', share: 0.5, steps: [{ kind: 'fill' }, { kind: 'placed', effects: [], share: 1 }, { kind: 'colours' }] }],
      [{ kind: 'placed' }],
    ]);
  });

  it('is laid before its own backdrop, which is made here then too, when it moves', () => {
    const of = { media: 'small', clip: 'small', time: 0 };
    const behind: Layer = { kind: 'backdrop', picture: of, rect: { x: 0, y: 0, ...FRAME }, soft: 0.5, light: 1, colourful: 1 };
    expect(steps([[behind, small(656)]])).toMatchObject([[{ kind: 'picture' }]]);
    expect(
      steps([
        [behind, small(656)],
        [later(behind), { ...later(small(600)), turn: 2 } as Layer],
      ]),
    ).toMatchObject([
      [{ kind: 'group', share: 1, steps: [{ kind: 'backdrop' }, { kind: 'placed' }] }],
      [{ kind: 'backdrop' }, { kind: 'placed' }],
    ]);
  });
});

describe('segments that are made in planes', () => {
  const ways = (piece: Piece) => planSegments(piece, pieceLength(piece)).map((s) => [s.start, s.frames, s.way]);
  const set = (piece: Piece, n: number, values: object) => does(piece, 'set', { clips: [piece.tracks[0]!.clips[n]!.id], values });
  const two = () => addFrames(addFrames(emptyPiece(), VIDEO, 20, 40), VIDEO, 20, 40);
  const transition = Transition.parse({ kind: 'dissolve', length: 10 * frameLength({ num: 30, den: 1 }) });

  it('are those of a dissolve, and of a fade out of black; before and after it goes straight', () => {
    expect(ways(set(two(), 1, { transition }))).toEqual([
      [0, 35, 'straight'],
      [35, 10, 'planes'],
      [45, 35, 'straight'],
    ]);
    expect(ways(set(two(), 0, { transition }))[0]).toEqual([0, 10, 'planes']);
    expect(ways(set(two(), 1, { transition: { ...transition, kind: 'push' } }))[1]).toEqual([35, 10, 'planes']);
    expect(ways(set(two(), 1, { transition: { ...transition, kind: 'blur' } }))[1]).toEqual([35, 10, 'planes']);
  });

  it('are not those of pictures that lie still and even over another, with titles over all of them: one ffmpeg lays them', () => {
    const under = set(addFrames(emptyPiece(), VIDEO, 20, 40), 0, { fit: 'fill' });
    const over = {
      track: null,
      media: VIDEO,
      at: 0,
      from: 0,
      length: 40 * frameLength({ num: 30, den: 1 }),
      fit: 'fit',
      backdrop: 'black',
    };
    const way = (values: object) => ways(does(under, 'add', { ...over, values } as never)).map(([, , one]) => one);
    expect(way({ scale: 0.5, x: 0.1 })).toEqual(['laid']);
    for (const values of [{ turn: 4 }, { effects: [LOOK] }, { opacity: 0.5 }, { cropLeft: 0.1 }])
      expect(way({ scale: 0.5, ...values })).toEqual(['planes']);
  });

  it('are shorter than what goes straight: each keeps one core busy', () => {
    const long = addFrames(emptyPiece(), { ...VIDEO, length: VIDEO.length * 10 }, 0, 300);
    expect(ways(long).map(([, frames]) => frames)).toEqual([300]);
    expect(ways(set(long, 0, { effects: [LOOK] }))).toEqual([
      [0, 120, 'planes'],
      [120, 120, 'planes'],
      [240, 60, 'planes'],
    ]);
  });
});
