import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { createCanvas } from '@napi-rs/canvas';
import type { MediaItem } from '@flimzy/contract';
import type { EditName, EditParams } from '@flimzy/core/edits';
import { PLAIN_SHAPE, PLAIN_TEXT } from '@flimzy/core/frame';
import { OVERLAY, pieceLength, type Piece } from '@flimzy/core/piece';
import { Transition, type Curve, type Effect, type Motion, type PropertyValues } from '@flimzy/core/properties';
import { frameLength, frameStart } from '@flimzy/core/time';
import { ssim } from '../../../e2e/ssim';
import { apart, greyOf, RATE, sentAndDrawn } from './drawn';
import { ROOT, TestServer } from './running';
import { withServer } from './withServer';

const SIZE = { width: 360, height: 640 };
const LONG = 40;
const at = (frame: number) => frameStart(frame, RATE);

let server: TestServer;
const place = withServer((started) => (server = started));

const keyed = (...values: number[]): Curve => ({
  keys: values.map((value, n) => ({ at: at(n * 18), value, ease: n % 2 ? 'slowBoth' : 'even' })),
});
const motion = (kind: Motion['kind'], by: Motion['by']): Motion => ({ kind, by, length: at(15), direction: 'left' });
const through = (more: Partial<Transition>) => Transition.parse({ length: at(12), ...more });

const EVERYTHING: Effect[] = [
  { kind: 'look', look: 'kiln', strength: 0.6 },
  { kind: 'sharpen', amount: 0.4 },
  { kind: 'vignette', amount: 0.5 },
];

/** What the main clips are like, one after the other. */
const MAIN: PropertyValues[] = [
  { transition: through({ kind: 'dissolve' }), scale: keyed(1, 1.4), x: keyed(-0.05, 0.08) },
  { transition: through({ kind: 'spin' }), effects: EVERYTHING, turn: keyed(0, 8, -4) },
  { transition: through({ kind: 'wipe', direction: 'left', soft: 0.2 }), backdropSoft: 0.5 },
  { transition: through({ kind: 'shape', shape: 'star' }), flip: 'across', effects: [{ kind: 'blur', amount: 0.2 }] },
  { transition: through({ kind: 'zoom' }), cropLeft: 0.2, cropTop: 0.15, scale: 1.3 },
  { transition: through({ kind: 'flash' }), opacity: keyed(1, 0.5, 1) },
];

/** A piece of everything at once: the opposite of taste, so that what is seldom met together is. */
async function overTheTop(clips: MediaItem[], ring: MediaItem): Promise<Piece> {
  const { id } = await server.newPiece({ ...SIZE, rate: RATE });
  let revision = 0;
  const does = async <N extends EditName>(name: N, params: EditParams<N>) => {
    await server.edit(id, revision, [name, params]);
    revision += 1;
    return (await server.open(id)).piece;
  };
  const facts = (n: number) => clips[n % clips.length]!.facts!;
  let piece: Piece | null = null;
  for (const [n, values] of MAIN.entries()) {
    const fit = n % 2 ? 'fit' : 'fill';
    piece = await does('add', { track: 'main', media: facts(n), at: null, from: at(10), length: at(LONG), fit, backdrop: 'blur', values });
  }
  const main = piece!.tracks.find((track) => track.id === 'main')!.clips.map((clip) => clip.id);
  await does('setSpeed', { clips: [main[1]!], wish: { speed: -1 }, rest: 'stay' });
  await does('setSpeed', { clips: [main[3]!], wish: { speed: 1.5 }, rest: 'follow' });
  await does('freeze', { clip: main[4]!, at: at(LONG * 4 - 4), length: at(15) });
  const over = { track: null, fit: 'fit', backdrop: 'black' } as const;
  const small: PropertyValues = {
    scale: 0.45,
    x: keyed(-0.3, 0.3, -0.2),
    y: 0.3,
    turn: -10,
    opacity: 0.85,
    effects: EVERYTHING.slice(0, 1),
  };
  await does('add', { ...over, media: facts(2), at: at(15), from: 0, length: at(90), values: small });
  await does('add', { ...over, media: ring.facts!, at: at(30), from: 0, length: at(120), values: { scale: keyed(0.3, 0.9), y: -0.2 } });
  const words = [
    { ...PLAIN_TEXT, text: 'Over\nthe top 🪁', font: 'poster' as const, y: 0.3, outline: { colour: '#c8452d', width: 0.08 } },
    {
      ...PLAIN_TEXT,
      text: 'طائرة ورقية',
      y: 0.6,
      size: 0.12,
      panel: { colour: '#ffd166', opacity: 0.8, round: 0.4, by: 'lines' as const },
    },
    { ...PLAIN_SHAPE, shape: 'burst' as const, y: 0.75, turn: 20 },
  ];
  const moved = { motionIn: motion('swing', 'letter'), motionOut: motion('type', 'word'), turn: keyed(0, 15, 0) };
  piece = await does('add', {
    ...over,
    media: OVERLAY,
    at: at(8),
    from: 0,
    length: at(110),
    values: { overlay: { parts: words }, ...moved },
  });
  const [title] = piece.tracks.flatMap((track) => track.clips).filter((clip) => 'overlay' in clip && clip.overlay);
  const ringed = piece.tracks.flatMap((track) => track.clips).find((clip) => 'media' in clip && clip.media === ring.id);
  await does('nest', { clips: [title!.id, ringed!.id], name: 'Words in a ring' });
  await does('setSound', { fadeIn: at(10) });
  return does('setLook', {
    effects: [
      { kind: 'tone', ...{ exposure: 0.2, contrast: 0.3, saturation: 0.2, warmth: 0.2 }, tint: 0, shadows: 0, highlights: 0, fade: 0.1 },
    ],
  });
}

it('a piece of everything at once is sent as the compositor draws it, frame by frame', async () => {
  const clips: MediaItem[] = [];
  for (const name of ['spars', 'hilltop', 'line-in-hand']) clips.push(await server.bringIn(path.join(ROOT, `demo/test-media/${name}.mp4`)));
  const canvas = createCanvas(240, 240);
  const context = canvas.getContext('2d');
  context.lineWidth = 30;
  context.strokeStyle = 'rgba(230, 90, 20, 0.8)';
  context.arc(120, 120, 90, 0, 2 * Math.PI);
  context.stroke();
  writeFileSync(place('ring.png'), canvas.toBuffer('image/png'));
  const piece = await overTheTop(clips, await server.bringIn(place('ring.png')));
  const count = pieceLength(piece) / frameLength(RATE);
  const seen = Array.from({ length: Math.floor(count / 23) }, (_, n) => n * 23 + 4);
  const film = await sentAndDrawn(server, piece, path.dirname(place('ring.png')), seen);
  for (const frame of seen) {
    const [made, drawn] = [film.made(frame), await film.drawn(frame)];
    const like = ssim(greyOf(made, SIZE), greyOf(drawn, SIZE));
    const { each } = apart(made, drawn);
    expect({ frame, like: like > 0.97, each: each < 4 }).toEqual({ frame, like: true, each: true });
  }
});
