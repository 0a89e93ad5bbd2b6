import { cubeFile, readCube } from '@flimzy/core/formats';
import { LookName, type Effect } from '@flimzy/core/properties';
import { PLAIN_TONE } from '@flimzy/core/frame';
import { frameStart } from '@flimzy/core/time';
import { alike } from './previewed';
import { ask, expect, mainClips, openPiece, pieceOf, test } from './studio';

const AT = frameStart(17, { num: 30, den: 1 });
const tone = (change: Partial<typeof PLAIN_TONE>): Effect => ({ kind: 'tone', ...PLAIN_TONE, ...change });

/** Every kind of effect, both ways where it has two, and some after others. */
const EFFECTS: Effect[][] = [
  ...(Object.keys(PLAIN_TONE) as (keyof typeof PLAIN_TONE)[]).map((name, n) => [tone({ [name]: name === 'fade' || n % 2 ? 0.8 : -0.8 })]),
  [{ kind: 'vignette', amount: 0.9 }],
  [{ kind: 'vignette', amount: -0.6 }],
  [{ kind: 'grain', amount: 1 }],
  [{ kind: 'sharpen', amount: 1 }],
  [{ kind: 'blur', amount: 0.6 }],
  [{ kind: 'table', name: 'Theirs', table: readCube(cubeFile([{ kind: 'look', look: 'tea', strength: 1 }], 'Tea')).table, strength: 0.8 }],
  [
    { kind: 'look', look: 'kiln', strength: 0.7 },
    { kind: 'blur', amount: 0.3 },
    tone({ saturation: -0.7 }),
    { kind: 'grain', amount: 0.4 },
  ],
];

test('every look and effect is drawn alike in the browser and on the server, on clips, tracks and the piece', async ({ page }) => {
  await openPiece(page, 'Looks', [{ media: 'demo-talk-front', from: 30, frames: 40, fit: 'fit' }], { width: 270, height: 480 });
  const [first] = await mainClips(page);
  const bare = await alike(page, await pieceOf(page), AT, 270, 'as it is');
  const looks = LookName.options.map((look): Effect[] => [{ kind: 'look', look, strength: 1 }]);
  for (const effects of [...looks, ...EFFECTS]) {
    await ask(page, 'set', { clips: [first!.id], values: { effects } });
    const drawn = await alike(page, await pieceOf(page), AT, 270, JSON.stringify(effects));
    const away = drawn.data.reduce((sum, one, n) => sum + Math.abs(one - bare.data[n]!), 0) / bare.data.length;
    // Warmth, tint and colour leave the light of a picture nearly as it is, which is what is compared here; kernels and core are tested for them.
    if (effects[0]?.kind !== 'tone') expect(away, JSON.stringify(effects)).toBeGreaterThan(0.3);
  }
  await ask(page, 'setTrack', { track: 'main', set: { effects: [{ kind: 'vignette', amount: 0.5 }] } });
  await ask(page, 'setLook', { effects: [{ kind: 'look', look: 'ink', strength: 1 }] });
  await ask(page, 'set', { clips: [first!.id], values: { effects: EFFECTS.at(-1), opacity: 0.7, turn: 12 } });
  await alike(page, await pieceOf(page), AT, 270, 'all of it');
});
