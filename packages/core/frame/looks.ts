import type { Effect, LookName, Tone } from '../properties';
import { throughTable, type Colour } from './tables';

/** Colours as they are. */
export const PLAIN_TONE: Tone = { exposure: 0, contrast: 0, saturation: 0, warmth: 0, tint: 0, shadows: 0, highlights: 0, fade: 0 };

/** A look: colours first, then what is mixed into the dark and into the light. */
interface Look extends Partial<Tone> {
  /** Added to what is dark and to what is light, as shares of full. */
  dark?: Colour;
  light?: Colour;
}

/** Our own set. */
const LOOKS: Record<LookName, Look> = {
  crisp: { contrast: 0.22, saturation: 0.12, shadows: 0.1 },
  meadow: { saturation: 0.28, warmth: 0.12, tint: -0.08, shadows: 0.15, contrast: 0.05 },
  evening: { warmth: 0.42, saturation: 0.1, exposure: -0.1, highlights: -0.2, light: [0.05, 0.01, -0.05], dark: [0.02, 0, 0.03] },
  harbour: { warmth: -0.25, contrast: 0.12, saturation: -0.12, dark: [-0.01, 0.02, 0.05], light: [-0.02, 0, 0.02] },
  kiln: { contrast: 0.28, saturation: 0.15, warmth: 0.2, dark: [-0.02, 0.02, 0.05], light: [0.06, 0.02, -0.06] },
  faded: { fade: 0.45, saturation: -0.25, contrast: -0.1, light: [0.02, 0.01, -0.02] },
  postcard: { fade: 0.2, saturation: 0.2, warmth: 0.18, dark: [0.04, 0, 0.03], light: [0.02, 0.02, -0.06] },
  dusk: { exposure: -0.45, warmth: -0.35, saturation: -0.15, contrast: 0.1, dark: [0.01, 0, 0.06] },
  ink: { saturation: -1, contrast: 0.4 },
  tin: { saturation: -1, contrast: 0.05, fade: 0.25, dark: [-0.01, 0.005, 0.03] },
  tea: { saturation: -0.8, warmth: 0.35, fade: 0.25, dark: [0.04, 0.015, -0.02], light: [0.05, 0.02, -0.05] },
  neon: { contrast: 0.3, saturation: 0.5, dark: [0.03, -0.02, 0.08], light: [-0.02, 0.03, 0.04] },
};

const LUMA: Colour = [0.2126, 0.7152, 0.0722];

const within = (n: number) => Math.max(0, Math.min(1, n));
/** How bright a colour looks as it is stored (BT.709's luma): 0 to 1. */
export const lumaOf = ([r, g, b]: Colour): number => LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;

/** How much a brightness belongs to the dark: 1 at black, 0 from the middle on; of 1 − brightness: to the light. */
const darkness = (luma: number) => (1 - Math.min(1, luma / 0.6)) ** 2;

/** From light to level and back (IEC 61966-2-1 in its short form, 2.2). */
const lit = (level: number) => level ** 2.2;
const seen = (light: number) => light ** (1 / 2.2);

/** How much warmth and tint change the light of each colour, as powers of two. */
const WARM: Colour = [0.45, 0.05, -0.6];
const MAGENTA: Colour = [0.2, -0.3, 0.2];

/** A colour through a tone: levels, 0 to 1. */
function toned(colour: Colour, tone: Tone): Colour {
  const { exposure, contrast, saturation, warmth, tint, shadows, highlights, fade } = tone;
  let out = colour;
  if (exposure !== 0 || warmth !== 0 || tint !== 0)
    out = out.map((level, i) => seen(lit(level) * 2 ** (exposure + warmth * (WARM[i] ?? 0) + tint * (MAGENTA[i] ?? 0)))) as Colour;
  if (shadows !== 0 || highlights !== 0) {
    const luma = within(lumaOf(out));
    // What is dark is made so many times as light, so that black stays black.
    const [times, more] = [1 + 0.9 * shadows * darkness(luma), 0.35 * highlights * darkness(1 - luma)];
    out = out.map((level) => level * times + more) as Colour;
  }
  if (contrast !== 0) {
    // Around the middle, so that black and white stay: an S for more, a flatter line for less.
    const s = (level: number) => level * level * (3 - 2 * level);
    out = out.map((level) => {
      const at = within(level);
      return contrast > 0 ? at + contrast * 1.4 * (s(at) - at) : 0.5 + (at - 0.5) * (1 + contrast * 0.75);
    }) as Colour;
  }
  if (saturation !== 0) {
    const luma = lumaOf(out);
    out = out.map((level) => luma + (level - luma) * (1 + saturation)) as Colour;
  }
  return fade === 0 ? out : (out.map((level) => 0.22 * fade + level * (1 - 0.3 * fade)) as Colour);
}

function looked(colour: Colour, name: LookName, strength: number): Colour {
  const { dark, light, ...tone } = LOOKS[name];
  const made = toned(colour, { ...PLAIN_TONE, ...tone });
  const luma = within(lumaOf(made));
  return made.map((level, i) => {
    const full = level + (dark?.[i] ?? 0) * (1 - luma) + (light?.[i] ?? 0) * luma;
    return (colour[i] ?? 0) + (full - (colour[i] ?? 0)) * strength;
  }) as Colour;
}

/** What effects make of a colour, in order: red, green and blue, 0 to 1. Those that are not about colours leave it. */
export function colourThrough(effects: readonly Effect[], colour: Colour): Colour {
  let out = colour;
  for (const effect of effects) {
    if (effect.kind === 'look') out = looked(out, effect.look, effect.strength);
    if (effect.kind === 'tone') out = toned(out, effect);
    if (effect.kind === 'table') out = throughTable(out, effect.table, effect.strength);
    out = out.map(within) as Colour;
  }
  return out;
}

/** Whether an effect makes of every colour another one, wherever it is: several such fold into one. */
export const isColour = ({ kind }: Effect): boolean => kind === 'look' || kind === 'tone' || kind === 'table';

/**
 * Effects of colour as a cube: `side`³ entries from red (slowest) to blue, `entry` int16 each, in 1/`unit` of a level.
 */
export function cubeOf(effects: readonly Effect[], side: number, entry: number, unit: number): Int16Array {
  const cube = new Int16Array(side ** 3 * entry);
  let at = 0;
  for (let r = 0; r < side; r += 1)
    for (let g = 0; g < side; g += 1)
      for (let b = 0; b < side; b += 1) {
        const colour = colourThrough(effects, [r / (side - 1), g / (side - 1), b / (side - 1)]);
        for (let i = 0; i < 3; i += 1) cube[at + i] = Math.round((colour[i] ?? 0) * 255 * unit);
        at += entry;
      }
  return cube;
}
