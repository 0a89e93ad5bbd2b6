import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { createCanvas } from '@napi-rs/canvas';
import type { MediaItem } from '@flimzy/contract';
import { Transition, type Curve, type Effect, type PropertyValues } from '@flimzy/core/properties';
import { OVERLAY } from '@flimzy/core/piece';
import { PLAIN_TEXT } from '@flimzy/core/frame';
import { frameStart } from '@flimzy/core/time';
import { apart, greyOf, RATE, sentAndDrawn, type SentAndDrawn } from './drawn';
import { ssim } from '../../../e2e/ssim';
import { newFolder, ROOT, TestServer } from './running';

const SIZE = { width: 360, height: 640 };
const LOOK: Effect = { kind: 'look', look: 'kiln', strength: 0.9 };

// A folder whose name has in it what filters are written with.
const place = newFolder();
let server: TestServer;
let spars: MediaItem;
let ring: MediaItem;
let card: MediaItem;
beforeAll(async () => {
  server = await TestServer.start(path.join(place, "it's a [test], 50%; 3:4"));
  spars = await server.bringIn(path.join(ROOT, 'demo/test-media/spars.mp4'));
  const canvas = createCanvas(200, 120);
  const context = canvas.getContext('2d');
  context.lineWidth = 30;
  context.strokeStyle = 'rgba(230, 90, 20, 0.8)';
  context.ellipse(100, 60, 70, 40, 0.4, 0, 2 * Math.PI);
  context.stroke();
  const saved = (name: string, bytes: Buffer) => {
    writeFileSync(path.join(place, name), bytes);
    return server.bringIn(path.join(place, name));
  };
  ring = await saved('ring.png', canvas.toBuffer('image/png'));
  card = await saved('card.jpg', canvas.toBuffer('image/jpeg'));
});
afterAll(() => server.stopAndRemove());

interface Scene {
  values: PropertyValues;
  fit?: 'fit' | 'fill';
  backdrop?: 'black' | 'blur' | 'colour' | 'gradient';
  words?: boolean;
  /** A photo instead. */
  photo?: boolean;
  /** It goes over into another of the same material: in this way, or by a dissolve. */
  over?: boolean | Partial<Transition>;
  /** The same over all of it, smaller, as it is here. */
  beside?: PropertyValues;
  /** A picture over it through which something shines. */
  clear?: PropertyValues;
}

/** Frames of each. */
const LONG = 14;

const DISSOLVE = Transition.parse({ kind: 'dissolve', length: frameStart(12, RATE) });

/** From the first frame of its material to the last. */
const from = (first: number, last: number): Curve => ({
  keys: [first, last].map((value, n) => ({ at: frameStart(7 + n * 20, RATE), value, ease: 'even' })),
});

/** Larger all the time, and from one side to the other. */
const MOVING: PropertyValues = { scale: from(1.1, 1.6), x: from(-0.04, 0.05) };

const WAYS: Partial<Transition>[] = [
  { kind: 'wipe', direction: 'left', soft: 0.3 },
  { kind: 'circle', soft: 0.1 },
  { kind: 'shape', shape: 'star', soft: 0 },
  { kind: 'push', direction: 'left' },
  { kind: 'slide', direction: 'down' },
  { kind: 'zoom' },
  { kind: 'spin' },
  { kind: 'dip', colour: '#c03060' },
  { kind: 'flash' },
  { kind: 'blur' },
];

const EFFECTS: Effect[] = [
  { kind: 'vignette', amount: 0.6 },
  { kind: 'grain', amount: 0.5 },
  { kind: 'sharpen', amount: 0.6 },
  { kind: 'blur', amount: 0.3 },
];

/** The frames of a scene that are looked at: in the middle of a transition, where there is one. */
const framesOf = ({ over, values }: Scene) => (over || values.transition ? [5, 11] : [0, 11]);

/** The edits that make a scene at the end of a piece, the `nth` of it. */
function madeOf({ values, fit = 'fit', backdrop = 'black', words, photo, over, beside, clear }: Scene, nth: number): [string, unknown][] {
  const [at, length] = [frameStart(nth * LONG, RATE), frameStart(LONG, RATE)];
  const media = (photo ? card : spars).facts!;
  const clip = (first: number, values: PropertyValues): [string, unknown] => {
    const place = { track: 'main', media, at: null, from: frameStart(first, RATE), length: over ? length / 2 : length };
    return ['add', { ...place, fit, backdrop, values }];
  };
  const above = { track: null, at, length, fit: 'fit', backdrop: 'black' };
  const overlay = { parts: [{ ...PLAIN_TEXT, text: 'Two spars' }] };
  const transition = typeof over === 'object' ? { ...DISSOLVE, ...over } : DISSOLVE;
  const edits = [clip(7, values)];
  if (over) edits.push(clip(31, { ...values, transition }));
  if (beside) edits.push(['add', { ...above, media, from: frameStart(20, RATE), values: { ...beside, effects: values.effects ?? [] } }]);
  if (clear) edits.push(['add', { ...above, media: ring.facts!, from: 0, values: clear }]);
  if (words) edits.push(['add', { ...above, media: OVERLAY, from: 0, values: { overlay } }]);
  return edits;
}

/** A piece of scenes, maybe with a look on all of it, exported: its frames in the file, and as the compositor draws them. */
async function exported(scenes: readonly Scene[], look: Effect[] = []) {
  const piece = await server.newPiece({ ...SIZE, rate: RATE });
  const edits = [...scenes.flatMap(madeOf), ['setLook', { effects: look }]] as Parameters<TestServer['edit']>[2][];
  for (const [n, edit] of edits.entries()) await server.edit(piece.id, n, edit);
  const seen = scenes.flatMap((scene, n) => framesOf(scene).map((frame) => n * LONG + frame));
  return sentAndDrawn(server, (await server.open(piece.id)).piece, place, seen);
}

/** Nothing comes before the first of them. */
const SCENES: [string, Scene][] = [
  ['out of black', { values: { transition: DISSOLVE }, fit: 'fill' }],
  ['its colours changed, filling the frame', { values: { effects: [LOOK] }, fit: 'fill' }],
  ['its colours changed, over black', { values: { effects: [LOOK] } }],
  ['its colours changed, words over it', { values: { effects: [LOOK] }, words: true }],
  ['before its own backdrop', { values: {}, backdrop: 'blur' }],
  [
    'before its own backdrop, soft, light and pale, moved, words over it',
    {
      values: { backdropSoft: 1, backdropLight: 0.9, backdropColourful: 0.3, x: 0.1, y: -0.2 },
      backdrop: 'blur',
      words: true,
    },
  ],
  ['before its own backdrop, all of it changed', { values: { effects: [LOOK], backdropSoft: 0.2 }, backdrop: 'blur' }],
  ['before a colour', { values: { backdropColour: '#d0542a' }, backdrop: 'colour' }],
  ['before a colour, all of it changed', { values: { backdropColour: '#d0542a', effects: [LOOK] }, backdrop: 'colour' }],
  ['one through the other', { values: {}, fit: 'fill', over: true }],
  [
    'one through the other, their colours changed, before their backdrops, words over them',
    { values: { effects: [LOOK] }, backdrop: 'blur', over: true, words: true },
  ],
  ['before one colour going over into another', { values: { backdropColour: '#d0542a', backdropTo: '#204080' }, backdrop: 'gradient' }],
  [
    'turned, flipped and cut, seen in part',
    { values: { turn: 12, flip: 'across', cropLeft: 0.2, cropTop: 0.1, opacity: 0.7, scale: 1.3 } },
  ],
  ['moved and made larger from frame to frame', { values: MOVING, fit: 'fill', words: true }],
  ['a photo before its own backdrop', { values: {}, backdrop: 'blur', photo: true }],
  [
    'a photo that fills the frame, another over it, words over both',
    { values: {}, fit: 'fill', photo: true, beside: { scale: 0.4 }, words: true },
  ],
  ['a photo moved and made larger from frame to frame', { values: MOVING, fit: 'fill', photo: true }],
  ['one beside the other, and past the edge', { values: {}, fit: 'fill', beside: { scale: 0.5, x: 0.3, y: 0.2 } }],
  [
    'one beside the other, before its own backdrop, words over both',
    { values: {}, backdrop: 'blur', beside: { scale: 0.4, x: -0.1, y: 0.3 }, words: true },
  ],
  ['one beside the other, turned, its colours changed', { values: { effects: [LOOK] }, beside: { scale: 0.5, x: 0.2, y: 0.3, turn: -8 } }],
  ...WAYS.map((over): [string, Scene] => [`one after the other by ${Object.values(over).join(' ')}`, { values: {}, fit: 'fill', over }]),
  ['larger all the time before its own backdrop, words over it', { values: { scale: from(0.8, 1.3) }, backdrop: 'blur', words: true }],
  ...EFFECTS.map((effect): [string, Scene] => [`with ${effect.kind}`, { values: { effects: [LOOK, effect] }, fit: 'fill' }]),
  ['with all of them, before its own backdrop, both turned', { values: { effects: EFFECTS }, backdrop: 'blur', over: { kind: 'spin' } }],
  [
    'under what it shines through, turned, and words',
    { values: {}, fit: 'fill', clear: { turn: 20, scale: 0.7, y: from(-0.2, 0.1) }, words: true },
  ],
  ['not filling the frame, pushed out over black', { values: {}, over: { kind: 'push', direction: 'up' } }],
];

/** With a look on all of the piece. */
const LOOKED: [string, Scene][] = [
  ['all of the piece changed, with its words', { values: {}, over: true, fit: 'fill', words: true }],
  ['over black, all of the piece changed, with its words', { values: {}, words: true }],
];

describe('pictures that are not drawn are as they would be', () => {
  let film: SentAndDrawn;
  let looked: typeof film;
  beforeAll(async () => {
    film = await exported(SCENES.map(([, scene]) => scene));
    looked = await exported(
      LOOKED.map(([, scene]) => scene),
      [LOOK],
    );
  });

  async function compared(of: typeof film, nth: number, scene: Scene): Promise<void> {
    for (const frame of framesOf(scene)) {
      const [a, b] = [of.made(nth * LONG + frame), await of.drawn(nth * LONG + frame)];
      // Encoded, it differs here and there, in grain most, and on the whole by less than a level; a canvas loses some where it makes things soft.
      const { effects = [] } = scene.values as { effects?: Effect[] };
      const kinds = [...effects.map(({ kind }) => kind), typeof scene.over === 'object' && scene.over.kind];
      const lost = (scene.backdrop === 'blur' ? 2 : 0) + (kinds.includes('blur') ? 3.5 : 0);
      expect(ssim(greyOf(a, SIZE), greyOf(b, SIZE))).toBeGreaterThan(kinds.includes('grain') ? 0.94 : 0.98);
      const { whole, each } = apart(a, b);
      expect(each).toBeLessThan((kinds.includes('grain') ? 6 : 2) + lost);
      expect(whole).toBeLessThan(0.8 + lost);
    }
  }

  it.each(SCENES.map(([name, scene], n) => [name, n, scene] as const))('%s', (_, n, scene) => compared(film, n, scene));
  it.each(LOOKED.map(([name, scene], n) => [name, n, scene] as const))('%s', (_, n, scene) => compared(looked, n, scene));

  it('black beside it stays black, whatever a look makes of black', async () => {
    const { made } = await exported([{ values: { effects: [{ kind: 'look', look: 'faded', strength: 1 }] } }]);
    expect(Math.max(...made(0).subarray(0, 3 * SIZE.width))).toBeLessThan(6);
  });
});
