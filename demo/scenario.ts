import type { EditParams, TogetherStep } from '@flimzy/core/edits';
import { inCorner, inRegion, panZoom, PLAIN_TONE, presetValues, TITLE_PRESETS } from '@flimzy/core/frame';
import { PLATFORM_FORMATS } from '@flimzy/core/deliver';
import { keyTime, OVERLAY, SHAPES, type Clip, type Piece, type PieceFormat, type ShapeId } from '@flimzy/core/piece';
import { Transition, UNDER, type PropertyValues } from '@flimzy/core/properties';
import { frameLength, frameStart, type Rate } from '@flimzy/core/time';

/** The kite workshop: what is on its shelf. Ids are fixed, so that loading twice makes nothing twice. */
export const MEDIA = [
  { id: 'demo-talk-front', file: 'talk-front.mp4', name: 'Talk front' },
  { id: 'demo-talk-side', file: 'talk-side.mp4', name: 'Talk side' },
  { id: 'demo-talk-hands', file: 'talk-hands.mp4', name: 'Talk hands' },
  { id: 'demo-hilltop', file: 'hilltop.mp4', name: 'Hilltop' },
  { id: 'demo-line-in-hand', file: 'line-in-hand.mp4', name: 'Line in hand' },
  { id: 'demo-beach-run', file: 'beach-run.mp4', name: 'Beach run' },
  { id: 'demo-dusk', file: 'dusk.mp4', name: 'Dusk' },
  { id: 'demo-paper-cut', file: 'paper-cut.mp4', name: 'Paper cut' },
  { id: 'demo-spars', file: 'spars.mp4', name: 'Spars' },
  { id: 'demo-tail', file: 'tail-in-the-wind.mp4', name: 'Tail in the wind' },
  { id: 'demo-shadow', file: 'shadow-on-the-field.mp4', name: 'Shadow on the field' },
  { id: 'demo-finished-kite', file: 'finished-kite.jpg', name: 'Finished kite' },
  { id: 'demo-on-the-hill', file: 'on-the-hill.jpg', name: 'On the hill' },
  { id: 'demo-the-bench', file: 'the-bench.jpg', name: 'The bench' },
  { id: 'demo-fair-wind', file: 'fair-wind.mp3', name: 'Fair wind' },
  { id: 'demo-up-she-goes', file: 'up-she-goes.m4a', name: 'Up she goes' },
  { id: 'demo-note', file: 'note-to-myself.m4a', name: 'Note to myself' },
  { id: 'demo-whoosh', file: 'whoosh.wav', name: 'Whoosh' },
  { id: 'demo-paper-rip', file: 'paper-rip.wav', name: 'Paper rip' },
  { id: 'demo-snip-snip', file: 'snip-snip.wav', name: 'Snip snip' },
  { id: 'demo-tail-flutter', file: 'tail-flutter.wav', name: 'Tail flutter' },
  { id: 'demo-string-twang', file: 'string-twang.wav', name: 'String twang' },
] as const;

export type DemoMediaId = (typeof MEDIA)[number]['id'];

/** One clip of a demo piece; times in frames of the piece. */
export interface DemoClip {
  media: DemoMediaId;
  track?: string;
  at?: number;
  from: number;
  frames: number;
  fit?: EditParams<'add'>['fit'];
  level?: number;
}

export interface DemoPiece {
  id: string;
  name: string;
  shape: ShapeId;
  rate: Rate;
  clips: readonly DemoClip[];
  /** What is done once the clips are there, one after the other, each on the piece as the one before left it. */
  then?: readonly ((piece: Piece) => TogetherStep)[];
}

/** The music keeps out of the way of whoever speaks, and comes up where nobody does. */
const MUSIC_UNDER: TogetherStep = {
  name: 'setTrack',
  params: { track: 'sound-1', set: { role: 'music', under: { ...UNDER, below: 14 } } },
};

/** The whole louder by so many dB: spoken pieces to about −16 LUFS, the limiter with little to do. */
const louder = (level: number): TogetherStep => ({ name: 'setSound', params: { level } });

/** The piece is made for these formats. */
const madeFor = (...ids: string[]): TogetherStep => {
  const named = PLATFORM_FORMATS.filter(({ id }) => ids.includes(id)).map(({ name }) => name);
  return { name: 'setFormats', params: { formats: ids, named: named.join(', ') } };
};

export const PIECES: readonly DemoPiece[] = [
  {
    id: 'demo-first-flight',
    name: 'First flight',
    shape: 'vertical',
    rate: { num: 30, den: 1 },
    clips: [
      { media: 'demo-paper-cut', from: 24, frames: 66, fit: 'fit', level: -4 },
      { media: 'demo-hilltop', from: 30, frames: 135 },
      { media: 'demo-line-in-hand', from: 30, frames: 111 },
      { media: 'demo-beach-run', from: 20, frames: 96 },
      { media: 'demo-shadow', from: 15, frames: 60, fit: 'fit' },
      { media: 'demo-dusk', from: 0, frames: 120 },
      { media: 'demo-up-she-goes', track: 'sound-1', at: 0, from: 0, frames: 588, level: -15 },
    ],
    then: [() => madeFor('vertical-short')],
  },
  {
    id: 'demo-bench-talk',
    name: 'Bench talk',
    shape: 'landscape',
    rate: { num: 25, den: 1 },
    clips: [
      { media: 'demo-talk-front', from: 15, frames: 145 },
      { media: 'demo-talk-hands', from: 140, frames: 70 },
      { media: 'demo-talk-side', from: 260, frames: 100 },
      { media: 'demo-spars', from: 10, frames: 60, level: -12 },
      { media: 'demo-finished-kite', from: 0, frames: 60 },
      { media: 'demo-fair-wind', track: 'sound-1', at: 0, from: 0, frames: 435, level: -9 },
    ],
    then: [
      () => MUSIC_UNDER,
      () => louder(8.5),
      (piece) => ({
        name: 'set',
        params: { clips: [nth(piece, 4)], values: panZoom(clipOf(piece, 4), 'towards', frameLength(piece.format.rate)) },
      }),
    ],
  },
  {
    id: 'demo-kite-in-layers',
    name: 'Kite in layers',
    shape: 'vertical',
    rate: { num: 30, den: 1 },
    clips: [
      { media: 'demo-paper-cut', from: 20, frames: 40, fit: 'fit', level: -4 },
      { media: 'demo-spars', from: 30, frames: 44, fit: 'fit', level: -8 },
      { media: 'demo-talk-front', from: 40, frames: 150, fit: 'fill' },
      { media: 'demo-hilltop', from: 60, frames: 90 },
      { media: 'demo-beach-run', from: 30, frames: 90 },
      { media: 'demo-up-she-goes', track: 'sound-1', at: 0, from: 0, frames: 414, level: -10 },
    ],
    then: [
      () => MUSIC_UNDER,
      () => louder(5),
      (piece) => ({ name: 'detach', params: { clips: [nth(piece, 2)] } }),
      (piece) => ({ name: 'soundEdge', params: { clip: nth(piece, 4), edge: 'head', to: frameStart(310, piece.format.rate) } }),
      () => ({ name: 'addTrack', params: { kind: 'picture', name: 'Over' } }),
      (piece) => over(piece, 'demo-hilltop', 100, 10, 44),
      (piece) => over(piece, 'demo-spars', 180, 20, 40),
      (piece) => over(piece, 'demo-paper-cut', 270, 60, 36),
      // The paper is cut quickly, and the kite goes up slowly.
      (piece) => ({ name: 'setSpeed', params: { clips: [nth(piece, 0)], wish: { speed: 2 }, rest: 'stay' } }),
      (piece) => ({ name: 'trim', params: { clip: nth(piece, 0), edge: 'tail', to: frameStart(40, piece.format.rate), rest: 'stay' } }),
      (piece) => ({ name: 'setSpeed', params: { clips: [nth(piece, 4)], wish: { speed: 0.5 }, rest: 'stay' } }),
      (piece) => ({ name: 'trim', params: { clip: nth(piece, 4), edge: 'tail', to: frameStart(414, piece.format.rate), rest: 'stay' } }),
      // Pushed in on her while she speaks; the spars below her, the paper in a corner; the wind turns the page; out into black.
      (piece) => ({ name: 'set', params: { clips: [nth(piece, 2)], values: pushIn(piece, 2, 60, 84) } }),
      (piece) => ({
        name: 'set',
        params: {
          clips: [overAt(piece, 1)],
          values: { ...inRegion(sizeOf(piece, 'demo-spars'), piece.format, 'lower third'), backdrop: 'black' },
        },
      }),
      (piece) => ({
        name: 'set',
        params: {
          clips: [overAt(piece, 2)],
          values: { ...inCorner(sizeOf(piece, 'demo-paper-cut'), piece.format, 'upper right'), backdrop: 'black' },
        },
      }),
      (piece) => ({
        name: 'set',
        params: {
          clips: [nth(piece, 4)],
          values: { transition: Transition.parse({ kind: 'push', direction: 'up', length: frameStart(16, piece.format.rate) }) },
        },
      }),
      (piece) => ({
        name: 'set',
        params: {
          clips: [nth(piece, 4)],
          values: { ending: Transition.parse({ kind: 'dissolve', length: frameStart(20, piece.format.rate) }) },
        },
      }),
      // What it is about, who speaks, what to look at; all of it a little warmer, the opening like old paper.
      () => ({ name: 'addTrack', params: { kind: 'picture', name: 'Titles' } }),
      (piece) => titled(piece, 'kite', 6, 66, ['Two sticks,\none sheet']),
      (piece) => titled(piece, 'name', 146, 84, ['Ida Brandt', 'builds kites'], 0.12),
      (piece) => titled(piece, 'caption', 236, 66, ['now let the line run']),
      (piece) => titled(piece, 'note', 318, 60, ['and up it goes!']),
      (piece) => ({
        name: 'set',
        params: { clips: [nth(piece, 0), nth(piece, 1)], values: { effects: [{ kind: 'look', look: 'postcard', strength: 0.7 }] } },
      }),
      () => ({ name: 'setLook', params: { effects: [{ kind: 'tone', ...PLAIN_TONE, warmth: 0.12, contrast: 0.08 }] } }),
      (piece) => ({ name: 'nest', params: { clips: [nth(piece, 0), nth(piece, 1)], name: 'Opening' } }),
      (piece) => ({
        name: 'mark',
        params: { place: {}, time: frameStart(84, piece.format.rate), name: 'She begins to speak', letter: 'A' },
      }),
      (piece) => ({ name: 'mark', params: { place: {}, time: frameStart(234, piece.format.rate), name: 'The pull', letter: 'C' } }),
      () => madeFor('vertical-short', 'square-post'),
    ],
  },
  {
    // Over its platform's limit by a few seconds, its last words too low and too brief: what preflight is for.
    id: 'demo-all-afternoon',
    name: 'All afternoon',
    shape: 'vertical',
    rate: { num: 30, den: 1 },
    clips: [
      { media: 'demo-talk-front', from: 20, frames: 570 },
      { media: 'demo-hilltop', from: 4, frames: 290 },
      { media: 'demo-talk-side', from: 40, frames: 530 },
      { media: 'demo-line-in-hand', from: 2, frames: 230 },
      { media: 'demo-on-the-hill', from: 0, frames: 170 },
      { media: 'demo-dusk', from: 0, frames: 142 },
      { media: 'demo-fair-wind', track: 'sound-1', at: 0, from: 0, frames: 930, level: -9 },
      { media: 'demo-fair-wind', track: 'sound-1', at: 930, from: 0, frames: 930, level: -9 },
    ],
    then: [
      () => MUSIC_UNDER,
      () => ({ name: 'addTrack', params: { kind: 'picture', name: 'Titles' } }),
      (piece) => titled(piece, 'name', 40, 84, ['Ida Brandt', 'builds kites']),
      (piece) => titled(piece, 'caption', 1800, 36, ['and that is how a kite is flown'], -0.08),
      () => madeFor('vertical-short'),
    ],
  },
];

/** The n-th clip of the main track. */
function nth(piece: Piece, n: number): string {
  return piece.tracks[0]?.clips[n]?.id ?? '';
}

function clipOf(piece: Piece, n: number): Clip {
  const clip = piece.tracks[0]?.clips[n];
  if (!clip) throw new Error(`${piece.name} has no clip ${n}`);
  return clip;
}

/** The n-th clip that lies over the others. */
const overAt = (piece: Piece, n: number): string => piece.tracks.find((track) => track.name === 'Over')?.clips[n]?.id ?? '';

const sizeOf = (piece: Piece, media: DemoMediaId) => piece.media[media] ?? { width: 16, height: 9 };

/** Larger and higher up from one frame of a clip of the main track to another. */
function pushIn(piece: Piece, n: number, from: number, to: number): PropertyValues {
  const clip = clipOf(piece, n);
  const at = (frame: number) => keyTime(clip, clip.start + frameStart(frame, piece.format.rate));
  const over = (first: number, second: number) => ({
    keys: [
      { at: at(from), value: first, ease: 'slowBoth' as const },
      { at: at(to), value: second, ease: 'slowBoth' as const },
    ],
  });
  return { scale: over(1, 1.3), focusY: over(0.5, 0.3) };
}

/** Lays a stretch of an item, picture only, over what is there; times in frames. */
function over(piece: Piece, media: DemoMediaId, at: number, from: number, frames: number): TogetherStep {
  const time = (n: number) => frameStart(n, piece.format.rate);
  const facts = piece.media[media];
  const track = piece.tracks.find((t) => t.name === 'Over');
  if (!facts || !track) throw new Error(`${media} is not in ${piece.name}`);
  return {
    name: 'add',
    params: { track: track.id, media: facts, at: time(at), from: time(from), length: time(frames), parts: 'picture', fit: 'fill' },
  };
}

/** A title of a preset with words of its own, from one frame on for some, on the track of titles; so much of the frame higher than it would be. */
function titled(piece: Piece, preset: string, at: number, frames: number, words: string[], higher = 0): TogetherStep {
  const time = (n: number) => frameStart(n, piece.format.rate);
  const track = piece.tracks.find((t) => t.name === 'Titles');
  const one = TITLE_PRESETS.find(({ id }) => id === preset);
  if (!track || !one) throw new Error(`there is no title ${preset} for ${piece.name}`);
  let n = 0;
  const parts = one.overlay.parts.map((part) => (part.kind === 'text' ? { ...part, text: words[n++] ?? part.text } : part));
  const values = presetValues({ ...one, overlay: { parts: parts.map((part) => ({ ...part, y: part.y - higher })) } });
  return { name: 'add', params: { track: track.id, media: OVERLAY, at: time(at), from: 0, length: time(frames), values } };
}

/** The format of a demo piece. */
export function formatOf(piece: DemoPiece): PieceFormat {
  const shape = SHAPES.find((s) => s.id === piece.shape) ?? SHAPES[0];
  return { width: shape.width, height: shape.height, rate: piece.rate };
}
