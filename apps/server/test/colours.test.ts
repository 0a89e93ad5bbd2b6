import { writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Effect } from '@flimzy/core/properties';
import { OVERLAY } from '@flimzy/core/piece';
import { PLAIN_TEXT } from '@flimzy/core/frame';
import { frameStart } from '@flimzy/core/time';
import { bytesOf, RATE, rgb } from './drawn';
import { newFolder, ROOT, TestServer } from './running';

const SIZE = { width: 360, height: 640 };
const LOOK: Effect = { kind: 'look', look: 'kiln', strength: 0.9 };
/** Does nothing to a picture but that it has to be drawn. */
const NOTHING: Effect = { kind: 'vignette', amount: 1e-9 };

// A folder whose name has in it what filters are written with.
const place = newFolder();
let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start(path.join(place, "it's a [test], 50%; 3:4"));
});
afterAll(() => server.stopAndRemove());

/** An exported piece of one clip with effects, maybe with words over it. */
async function exported(fit: 'fit' | 'fill', effects: Effect[], words: boolean): Promise<string> {
  const piece = await server.newPiece({ ...SIZE, rate: RATE });
  const item = known ?? (known = await server.bringIn(path.join(ROOT, 'demo/test-media/spars.mp4')));
  const length = frameStart(20, RATE);
  await server.edit(piece.id, 0, [
    'add',
    {
      track: 'main',
      media: item.facts!,
      at: 0,
      from: frameStart(7, RATE),
      length,
      fit,
      backdrop: 'black',
      values: effects.length > 0 ? { effects } : {},
    },
  ]);
  const overlay = { parts: [{ ...PLAIN_TEXT, text: 'Two spars' }] };
  if (words) await server.edit(piece.id, 1, ['add', { track: null, media: OVERLAY, at: 0, from: 0, length, values: { overlay } }]);
  const delivery = await server.deliver(piece.id);
  expect(delivery.error).toBeNull();
  const file = path.join(place, `${delivery.id}.mp4`);
  writeFileSync(file, await bytesOf(await server.fetch('deliveryFile', { id: delivery.id })));
  return file;
}
let known: Awaited<ReturnType<TestServer['bringIn']>> | undefined;

const mean = (rgb: Buffer) => rgb.reduce((sum, level) => sum + level, 0) / rgb.length;

describe('a picture of which only the colours are changed', () => {
  it.each([
    ['fill', false],
    ['fit', false],
    ['fit', true],
  ] as const)('goes through one ffmpeg as it would be drawn (%s, words over it: %s)', async (fit, words) => {
    const [made, drawn, plain] = [
      await exported(fit, [LOOK], words),
      await exported(fit, [LOOK, NOTHING], words),
      await exported(fit, [], words),
    ];
    for (const frame of [0, 11]) {
      const [a, b, c] = [made, drawn, plain].map((file) => rgb(file, SIZE.width, SIZE.height, frame)) as [Buffer, Buffer, Buffer];
      const away = (one: Buffer, other: Buffer) => one.reduce((sum, level, i) => sum + Math.abs(level - other[i]!), 0) / one.length;
      // Encoded twice, they differ here and there, and nowhere on the whole.
      expect(away(a, b)).toBeLessThan(2);
      expect(Math.abs(mean(a) - mean(b))).toBeLessThan(0.2);
      expect(away(a, c)).toBeGreaterThan(3);
      // What lies beside the picture is black, whatever a look makes of black.
      if (fit === 'fit') expect(Math.max(...a.subarray(0, 3 * SIZE.width))).toBeLessThan(6);
    }
  });
});
