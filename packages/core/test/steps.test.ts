import { planSegments, stepsOf } from '../deliver';
import type { Layer } from '../frame';
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
  });

  it('is none where a picture does not fill it over another, or has black beside it whose colours would change', () => {
    expect(kinds([small(656)])).toEqual([['small', 1, 0]]);
    expect(kinds([group([small(656)], 1, [LOOK])])).toEqual([['small', 1, 1]]);
    expect(kinds([group([small(655)], 1, [LOOK])])).toBeNull(); // not on whole samples of colour
    expect(kinds([picture('a'), group([small(656)], 0.5)])).toBeNull();
    expect(kinds([picture('a'), small(656)])).toBeNull();
    expect(kinds([group([small(656), title], 1, [LOOK])])).toBeNull();
    expect(kinds([group([group([picture('a')], 0.5), title], 1, [LOOK])])).toBeNull();
    expect(kinds([group([title], 1, [LOOK])])).toBeNull();
  });

  it('is none where anything else has to be drawn', () => {
    const moved = { rect: { x: 10, y: 0, ...FRAME } };
    expect(kinds([picture('a'), { ...(group([picture('b')]) as Extract<Layer, { kind: 'group' }>), placed: moved }])).toBeNull();
    expect(kinds([group([picture('a')], 1, [LOOK, GRAIN])])).toBeNull();
    expect(kinds([picture('a'), { kind: 'fill', colour: '#ffffff', opacity: 0.5 }])).toBeNull();
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
    expect(ways(set(two(), 1, { transition: { ...transition, kind: 'push' } }))[1]).toEqual([35, 10, 'drawn']);
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
