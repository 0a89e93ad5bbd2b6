import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { createCanvas } from '@napi-rs/canvas';
import type { Delivery, MediaItem } from '@flimzy/contract';
import { asItIs } from '@flimzy/core/deliver';
import { Transition, type Curve, type Effect, type PropertyValues } from '@flimzy/core/properties';
import { OVERLAY } from '@flimzy/core/piece';
import { PLAIN_TEXT } from '@flimzy/core/frame';
import { frameStart } from '@flimzy/core/time';
import { bytesOf, RATE, rgb } from './drawn';
import { greyOfRgba, ssim } from '../../../e2e/ssim';
import { newFolder, ROOT, TestServer } from './running';

const SIZE = { width: 360, height: 640 };
const LOOK: Effect = { kind: 'look', look: 'kiln', strength: 0.9 };

// A folder whose name has in it what filters are written with.
const place = newFolder();
let server: TestServer;
let spars: MediaItem;
let ring: MediaItem;
beforeAll(async () => {
  server = await TestServer.start(path.join(place, "it's a [test], 50%; 3:4"));
  spars = await server.bringIn(path.join(ROOT, 'demo/test-media/spars.mp4'));
  const canvas = createCanvas(200, 120);
  const context = canvas.getContext('2d');
  context.lineWidth = 30;
  context.strokeStyle = 'rgba(230, 90, 20, 0.8)';
  context.ellipse(100, 60, 70, 40, 0.4, 0, 2 * Math.PI);
  context.stroke();
  const file = path.join(place, 'ring.png');
  writeFileSync(file, canvas.toBuffer('image/png'));
  ring = await server.bringIn(file);
});
afterAll(() => server.stopAndRemove());

interface Scene {
  values: PropertyValues;
  fit?: 'fit' | 'fill';
  backdrop?: 'black' | 'blur' | 'colour' | 'gradient';
  words?: boolean;
  /** It goes over into another of the same material: in this way, or by a dissolve. */
  over?: boolean | Partial<Transition>;
  /** The same over all of it, smaller, as it is here. */
  beside?: PropertyValues;
  /** A picture over it through which something shines. */
  clear?: PropertyValues;
  /** A look on the whole piece. */
  all?: Effect[];
}

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

/** A piece of one clip or two, maybe with words over them: exported, and the frames of it that the compositor draws. */
async function exported({ values, fit = 'fit', backdrop = 'black', words, over, beside, clear, all }: Scene) {
  const piece = await server.newPiece({ ...SIZE, rate: RATE });
  const length = frameStart(20, RATE);
  const clip = (from: number, values: PropertyValues): [string, unknown] => [
    'add',
    {
      track: 'main',
      media: spars.facts!,
      at: null,
      from: frameStart(from, RATE),
      length: over ? length / 2 : length,
      fit,
      backdrop,
      values,
    },
  ];
  const overlay = { parts: [{ ...PLAIN_TEXT, text: 'Two spars' }] };
  const edits: [string, unknown][] = [clip(7, values)];
  const transition = typeof over === 'object' ? { ...DISSOLVE, ...over } : DISSOLVE;
  if (over) edits.push(clip(31, { ...values, transition }));
  if (beside) {
    const params = { track: null, media: spars.facts!, at: 0, from: frameStart(20, RATE), length, fit: 'fit', backdrop: 'black' };
    edits.push(['add', { ...params, values: { ...beside, effects: values.effects ?? [] } }]);
  }
  if (clear) edits.push(['add', { track: null, media: ring.facts!, at: 0, from: 0, length, fit: 'fit', backdrop: 'black', values: clear }]);
  if (words) edits.push(['add', { track: null, media: OVERLAY, at: 0, from: 0, length, values: { overlay } }]);
  if (all) edits.push(['setLook', { effects: all }]);
  for (const [n, edit] of edits.entries()) await server.edit(piece.id, n, edit as Parameters<TestServer['edit']>[2]);
  const settings = { ...asItIs((await server.open(piece.id)).piece), picture: { codec: 'h264', control: { by: 'quality', quality: 100 } } };
  const { id } = await server.call<Delivery>('newDelivery', {}, {}, { piece: piece.id, settings });
  const delivery = await server.delivery(piece.id);
  expect(delivery.error).toBeNull();
  const save = async (name: string, response: Response) => {
    writeFileSync(path.join(place, name), await bytesOf(response));
    return path.join(place, name);
  };
  const file = await save(`${id}.mp4`, await server.fetch('deliveryFile', { id }));
  const stills = { width: SIZE.width, from: 'original' };
  return {
    made: (frame: number) => rgb(file, SIZE.width, SIZE.height, frame),
    drawn: async (frame: number) => {
      const png = await server.fetch('pieceFrame', { id: piece.id }, { at: frameStart(frame, RATE), ...stills });
      return rgb(await save('still.png', png), SIZE.width, SIZE.height);
    },
  };
}

/** The brightness of a frame of RGB. */
function grey(rgb: Buffer) {
  const rgba = Buffer.alloc(SIZE.width * SIZE.height * 4);
  for (let i = 0; i < rgba.length / 4; i += 1) rgb.copy(rgba, i * 4, i * 3, i * 3 + 3);
  return greyOfRgba(rgba, SIZE.width, SIZE.height);
}
const mean = (rgb: Buffer) => rgb.reduce((sum, level) => sum + level, 0) / rgb.length;
const away = (one: Buffer, other: Buffer) => one.reduce((sum, level, i) => sum + Math.abs(level - other[i]!), 0) / one.length;

describe('pictures that are not drawn are as they would be', () => {
  it.each<[string, Scene]>([
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
    ['out of black', { values: { transition: DISSOLVE }, fit: 'fill' }],
    ['all of the piece changed, with its words', { values: {}, over: true, fit: 'fill', words: true, all: [LOOK] }],
    ['over black, all of the piece changed, with its words', { values: {}, words: true, all: [LOOK] }],
    ['before one colour going over into another', { values: { backdropColour: '#d0542a', backdropTo: '#204080' }, backdrop: 'gradient' }],
    [
      'turned, flipped and cut, seen in part',
      { values: { turn: 12, flip: 'across', cropLeft: 0.2, cropTop: 0.1, opacity: 0.7, scale: 1.3 } },
    ],
    ['moved and made larger from frame to frame', { values: MOVING, fit: 'fill', words: true }],
    [
      'one beside the other, turned, its colours changed',
      { values: { effects: [LOOK] }, beside: { scale: 0.5, x: 0.2, y: 0.3, turn: -8 } },
    ],
    ...WAYS.map((over): [string, Scene] => [`one after the other by ${Object.values(over).join(' ')}`, { values: {}, fit: 'fill', over }]),
    ['larger all the time before its own backdrop, words over it', { values: { scale: from(0.8, 1.3) }, backdrop: 'blur', words: true }],
    ...EFFECTS.map((effect): [string, Scene] => [`with ${effect.kind}`, { values: { effects: [LOOK, effect] }, fit: 'fill' }]),
    ['with all of them, before its own backdrop, both turned', { values: { effects: EFFECTS }, backdrop: 'blur', over: { kind: 'spin' } }],
    [
      'under what it shines through, turned, and words',
      { values: {}, fit: 'fill', clear: { turn: 20, scale: 0.7, y: from(-0.2, 0.1) }, words: true },
    ],
    ['not filling the frame, pushed out over black', { values: {}, over: { kind: 'push', direction: 'up' } }],
  ])('%s', async (_, scene) => {
    const { made, drawn } = await exported(scene);
    for (const frame of scene.over || scene.values.transition ? [0, 5, 11] : [0, 11]) {
      const [a, b] = [made(frame), await drawn(frame)];
      // Encoded, it differs here and there, in grain most, and on the whole by less than a level; a canvas loses some where it makes things soft.
      const { effects = [] } = scene.values as { effects?: Effect[] };
      const kinds = [...effects.map(({ kind }) => kind), typeof scene.over === 'object' && scene.over.kind];
      const lost = (scene.backdrop === 'blur' ? 2 : 0) + (kinds.includes('blur') ? 3.5 : 0);
      expect(ssim(grey(a), grey(b))).toBeGreaterThan(kinds.includes('grain') ? 0.94 : 0.98);
      expect(away(a, b)).toBeLessThan((kinds.includes('grain') ? 6 : 2) + lost);
      expect(Math.abs(mean(a) - mean(b))).toBeLessThan(0.8 + lost);
    }
  });

  it('black beside it stays black, whatever a look makes of black', async () => {
    const { made } = await exported({ values: { effects: [{ kind: 'look', look: 'faded', strength: 1 }] } });
    expect(Math.max(...made(0).subarray(0, 3 * SIZE.width))).toBeLessThan(6);
  });
});
