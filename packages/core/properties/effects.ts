import { z } from 'zod';
import { defineProperty } from './property';

/** The most effects in one list. */
export const EFFECTS_MOST = 12;

/** Our own looks. What each makes of colours is in `core/frame/looks.ts`. */
export const LookName = z.enum(['crisp', 'meadow', 'evening', 'harbour', 'kiln', 'faded', 'postcard', 'dusk', 'ink', 'tin', 'tea', 'neon']);
export type LookName = z.infer<typeof LookName>;

export const LOOK_NAMES: Record<LookName, string> = {
  crisp: 'Crisp',
  meadow: 'Meadow',
  evening: 'Evening',
  harbour: 'Harbour',
  kiln: 'Kiln',
  faded: 'Faded',
  postcard: 'Postcard',
  dusk: 'Dusk',
  ink: 'Ink',
  tin: 'Tin',
  tea: 'Tea',
  neon: 'Neon',
};

const sided = z.number().min(-1).max(1);
const share = z.number().min(0).max(1);

/** What is switched off stays in the list and does nothing. */
const off = { off: z.literal(true).optional() };

/** The colours of a picture. All at 0: as they are. */
export const Tone = z.object({
  /** Stops: twice the light for 1. */
  exposure: z.number().min(-3).max(3),
  contrast: sided,
  /** −1: black and white. */
  saturation: sided,
  /** Towards yellow, or blue. */
  warmth: sided,
  /** Towards magenta, or green. */
  tint: sided,
  shadows: sided,
  highlights: sided,
  /** How far black is lifted and white taken down, as old paper does. */
  fade: share,
});
export type Tone = z.infer<typeof Tone>;

/** Entries on a side of a table of colours that is kept, and bytes of one: red, green, blue. */
export const TABLE_SIDE = 17;
const TABLE_LETTERS = (TABLE_SIDE ** 3 * 3 * 4) / 3;

/** A table of colours that came from a file: levels (0 to 255) of each entry, red running quickest, in base64. */
export const ColourTable = z
  .string()
  .length(TABLE_LETTERS)
  .regex(/^[A-Za-z0-9+/]*$/);

/** One thing done to a picture. */
export const Effect = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('look'), look: LookName, strength: share, ...off }),
  z.object({ kind: z.literal('tone'), ...Tone.shape, ...off }),
  /** A look brought in: it goes with whatever it is on, so a piece, a copy and an archive have it whole. */
  z.object({ kind: z.literal('table'), name: z.string().trim().min(1).max(60), table: ColourTable, strength: share, ...off }),
  /** Darker (or, below 0, lighter) towards the corners. */
  z.object({ kind: z.literal('vignette'), amount: sided, ...off }),
  z.object({ kind: z.literal('grain'), amount: share, ...off }),
  z.object({ kind: z.literal('sharpen'), amount: share, ...off }),
  z.object({ kind: z.literal('blur'), amount: share, ...off }),
]);
export type Effect = z.infer<typeof Effect>;
export type EffectKind = Effect['kind'];

export const EFFECT_NAMES: Record<EffectKind, string> = {
  look: 'Look',
  tone: 'Colours',
  table: 'Look',
  vignette: 'Vignette',
  grain: 'Grain',
  sharpen: 'Sharpen',
  blur: 'Blur',
};

export const Effects = z.union([z.literal('none'), z.array(Effect).min(1).max(EFFECTS_MOST)]);
export type Effects = z.infer<typeof Effects>;

/** The effects of a list that are switched on. */
export const effectsOn = (effects: Effects | undefined): Effect[] =>
  effects === undefined || effects === 'none' ? [] : effects.filter((effect) => !effect.off);

/** One effect in a word or two. */
export const effectName = (effect: Effect): string =>
  effect.kind === 'look' ? LOOK_NAMES[effect.look] : effect.kind === 'table' ? effect.name : EFFECT_NAMES[effect.kind];

/** A list in words: "Meadow, Grain". */
export const sayEffects = (effects: Effects): string => (effects === 'none' ? 'none' : effects.map(effectName).join(', '));

/** What is done to a clip's picture, in order. */
export const effects = defineProperty({
  schema: Effects,
  plain: 'none',
  always: false,
  side: 'picture',
  label: 'Look',
  keys: false,
  seldom: true,
  say: sayEffects,
  title: (value, clips) => (value === 'none' ? `No look on ${clips}` : `Look of ${clips}: ${sayEffects(value)}`),
});
