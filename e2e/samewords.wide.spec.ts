import { PLAIN_SHAPE, PLAIN_TEXT, TITLE_PRESETS, presetValues } from '@flimzy/core/frame';
import { OVERLAY } from '@flimzy/core/piece';
import {
  FontId,
  MotionBy,
  MotionKind,
  PARTS_MOST,
  REGULAR,
  ShapeId,
  type Overlay,
  type Part,
  type PropertyValues,
} from '@flimzy/core/properties';
import { frameStart } from '@flimzy/core/time';
import { FAMILIES } from '@flimzy/stage';
import { alike } from './previewed';
import { ssim } from './ssim';
import { ask, openPiece, pieceOf, test, expect } from './studio';

const RATE = { num: 30, den: 1 };
const at = (frame: number) => frameStart(frame, RATE);

/** Parts in two columns, so that many are drawn and compared at once. */
function spread(parts: Part[]): Overlay {
  const rows = Math.ceil(parts.length / 2);
  return { parts: parts.map((part, n) => ({ ...part, x: n % 2 ? 0.74 : 0.26, y: (Math.floor(n / 2) + 0.5) / rows })) };
}

const words = (text: string, more: Partial<typeof PLAIN_TEXT> = {}): Part => ({ ...PLAIN_TEXT, text, size: 0.09, width: 0.46, ...more });

/** Every weight but the regular ones, as many as have room in one title. */
const WEIGHTS = FontId.options
  .flatMap((font) => FAMILIES[font].weights.map((weight) => ({ font, weight })))
  .filter(({ weight }) => weight !== REGULAR);
const TITLES = Math.ceil(WEIGHTS.length / PARTS_MOST);
const PARTED = Array.from({ length: TITLES }, (_, n) => WEIGHTS.filter((_, i) => i % TITLES === n));

/** Everything that a title can show, in few frames: every font in every weight, every shape, scripts that run the other way, emoji. */
const SHOWN: { name: string; overlay: Overlay }[] = [
  { name: 'every font', overlay: spread(FontId.options.map((font) => words('Kite & Wind', { font, bold: false }))) },
  ...PARTED.map((faces, n) => ({
    name: `every weight ${n + 1}`,
    overlay: spread(faces.map((face) => words('Paper 27', { ...face, spacing: 0.05 }))),
  })),
  ...[ShapeId.options.slice(0, 8), ShapeId.options.slice(8)].map((shapes, n) => ({
    name: `shapes ${n + 1}`,
    overlay: spread(
      shapes.map((shape, i) => ({
        ...PLAIN_SHAPE,
        shape,
        size: 0.36,
        turn: i * 17,
        outline: i % 2 ? { colour: '#17191a', width: 0.03 } : null,
      })),
    ),
  })),
  {
    name: 'scripts',
    overlay: spread([
      words('عيد سعيد Kite 12'),
      words('שלום עפיפון 34'),
      words('Змей на ветру', { font: 'hand' }),
      words('Ψηλά 👨‍👩‍👧 🇩🇰'),
      words('🪁💨❤️', { shadow: null }),
      words('naïve façade ½', { font: 'even' }),
    ]),
  },
  {
    name: 'further scripts and signs',
    overlay: spread([
      words('風が凧を運ぶ。'),
      words('바람이 연을 ไกลไป'),
      words('风筝 → ★ ♪ ✓ ①', { font: 'tall' }),
      words('पतंग ঘুড়ি પતંગ ਪਤੰਗ', { size: 0.06 }),
      words('காற்று గాలి ಗಾಳಿ കാറ്റ്', { size: 0.06 }),
      words('ხარი քամի ነፋስ ខ្លែង ຫວ່າວ', { size: 0.06, font: 'hand' }),
    ]),
  },
  {
    name: 'around and behind',
    overlay: spread([
      words('outline', { outline: { colour: '#aa2200', width: 0.1 } }),
      words('panel behind lines of words', { panel: { colour: '#1f5f6b', opacity: 0.8, round: 0.2, by: 'lines' }, leading: 1.5 }),
      words('block of words behind', {
        panel: { colour: '#f4efe2', opacity: 1, round: 0.5, by: 'block' },
        colour: '#17191a',
        align: 'left',
      }),
      words('right', { align: 'right', capitals: true, shadow: { colour: '#000000', blur: 0.5, by: 0.2 } }),
    ]),
  },
];

test('titles and stickers are drawn alike in the browser and on the server: every font, shape, script, motion and preset', async ({
  page,
}) => {
  // It begins over a picture, and goes on over none, where nothing has to be decoded.
  await openPiece(page, 'Words', [{ media: 'demo-hilltop', from: 30, frames: 45 }], { width: 360, height: 640 });
  await ask(page, 'add', { track: null, media: OVERLAY, at: at(40), from: 0, length: at(80), values: { overlay: SHOWN[0]!.overlay } });
  const title = (await pieceOf(page)).tracks[1]!.clips[0]!;
  const set = async (values: PropertyValues) => {
    await ask(page, 'set', {
      clips: [title.id],
      values: { motionIn: 'none', motionOut: 'none', scale: 1, turn: 0, opacity: 1, ...values },
    });
    return pieceOf(page);
  };
  const bare = await alike(page, await set({ overlay: { parts: [words('')] } }), at(80), 360, 'nothing written');
  for (const { name, overlay } of SHOWN) {
    const drawn = await alike(page, await set({ overlay }), at(80), 360, name);
    expect([name, ssim(drawn, bare) < 0.95]).toEqual([name, true]);
  }
  await alike(page, await set({ overlay: SHOWN[1]!.overlay, turn: 20, scale: 1.3, opacity: 0.6 }), at(42), 360, 'turned, larger, fainter');
  for (const [n, kind] of MotionKind.options.entries()) {
    const by = MotionBy.options[n % MotionBy.options.length] ?? 'whole';
    const motionIn = { kind, by, length: at(20), direction: (['left', 'right', 'up', 'down'] as const)[n % 4] ?? 'up' };
    const overlay = { parts: [words('The wind lifts it up', { size: 0.14, width: 0.9 })] };
    await alike(page, await set({ overlay, motionIn, motionOut: motionIn }), at(47), 360, `${kind} by ${by}, coming`);
    await alike(page, await pieceOf(page), at(112), 360, `${kind} by ${by}, going`);
  }
  for (const preset of TITLE_PRESETS) await alike(page, await set(presetValues(preset)), at(80), 360, preset.name);
});
