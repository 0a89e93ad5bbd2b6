import type { Layer } from '@flimzy/core/frame';
import { hasScript, REGULAR, SCRIPTS, type FontId, type Part, type TextPart, type Weight } from '@flimzy/core/properties';

/** A family, its heights in times of its size, from its font file (OS/2 cap height; hhea descent, at most a quarter). */
interface Family {
  /** The weights that it has, from thin to thick. */
  weights: readonly Weight[];
  /** The one of them that a text has which is said to be bold. */
  bold: Weight;
  capital: number;
  descent: number;
}

/** What is known of each family; the files are in `fonts.json`. */
export const FAMILIES: Record<FontId, Family> = {
  plain: { weights: [400, 500, 600, 700], bold: 700, capital: 0.72, descent: 0.25 },
  poster: { weights: [200, 300, 400, 500, 600, 700, 800], bold: 800, capital: 0.66, descent: 0.25 },
  tall: { weights: [REGULAR], bold: REGULAR, capital: 0.859, descent: 0.25 },
  book: { weights: [100, 200, 300, 400, 500, 600, 700, 800, 900], bold: 700, capital: 0.7, descent: 0.25 },
  elegant: { weights: [REGULAR], bold: REGULAR, capital: 0.66, descent: 0.25 },
  round: { weights: [300, 400, 500, 600, 700], bold: 700, capital: 0.7, descent: 0.236 },
  sign: { weights: [REGULAR], bold: REGULAR, capital: 0.72, descent: 0.25 },
  hand: { weights: [400, 500, 600, 700], bold: 700, capital: 0.61, descent: 0.25 },
  marker: { weights: [REGULAR], bold: REGULAR, capital: 0.74, descent: 0.25 },
  brush: { weights: [REGULAR], bold: REGULAR, capital: 0.84, descent: 0.25 },
  typed: { weights: [REGULAR], bold: REGULAR, capital: 0.68, descent: 0.25 },
  even: { weights: [300, 400, 500], bold: 500, capital: 0.7, descent: 0.25 },
};

/** What the family of a font file is called on a canvas: a name that no font of the machine has. */
export const familyName = (key: string) => `flimzy-${key}`;

/** What of a text decides which letters it is drawn with. */
type Lettering = Pick<TextPart, 'font' | 'bold' | 'weight' | 'text'>;

/** The weight that a text is drawn with: of those that its family has, the nearest to what is asked for. */
export function weightOf({ font, bold, weight }: Pick<TextPart, 'font' | 'bold' | 'weight'>): Weight {
  const family = FAMILIES[font];
  const wanted = weight ?? (bold ? family.bold : REGULAR);
  return family.weights.reduce((best, one) => (Math.abs(one - wanted) < Math.abs(best - wanted) ? one : best));
}

/** The file of a family's letters in one of its weights. */
export const fileOf = (font: FontId, weight: Weight): string => (weight === REGULAR ? font : `${font}-${weight}`);

/** From which weight on letters of other scripts are bold. */
const BOLD_FROM = 600;

const EMOJI = /[\p{Extended_Pictographic}\p{Regional_Indicator}\u20e3]/u;

/** Signs, numbers in circles and the like, and letters that are made to look like others. */
const SIGN = /[\p{So}\p{Sm}\p{Sk}\p{No}\p{Nl}\u{1d400}-\u{1d7ff}]/u;

/** The last letter that every family has, as far as a person can tell. */
const EVERYWHERE = 0xff;

const isBeyond = (letter: string) => (letter.codePointAt(0) ?? 0) > EVERYWHERE && !hasScript(letter);

/** A letter that is neither in every family nor in a file of its script. */
const isElsewhere = (letter: string) => /[\p{L}\p{N}\p{Sc}\p{Sm}]/u.test(letter) && isBeyond(letter);

const isSign = (letter: string) => SIGN.test(letter) && !/\p{Emoji_Presentation}/u.test(letter) && isBeyond(letter);
const hasSigns = (text: string) => [...text].some(isSign);

/** Files with letters that the families for looks may not have, and which texts need them. */
const FURTHER: readonly { file: string; bold: boolean; needed: (text: string) => boolean }[] = [
  ...Object.entries(SCRIPTS).map(([file, script]) => ({ file, bold: true, needed: (text: string) => script.test(text) })),
  { file: 'emoji', bold: false, needed: (text) => EMOJI.test(text) },
  { file: 'other', bold: true, needed: (text) => [...text].some(isElsewhere) },
  { file: 'signs', bold: true, needed: hasSigns },
  { file: 'further-signs', bold: false, needed: hasSigns },
  { file: 'mathematics', bold: false, needed: hasSigns },
];

/** The font files that a text needs, by their names in `fonts.json`, in the order in which a letter is looked for. */
export function filesOf(part: Lettering): string[] {
  const thick = part.weight === undefined ? part.bold : part.weight >= BOLD_FROM;
  const further = FURTHER.filter(({ needed }) => needed(part.text)).map(({ file, bold }) => (bold && thick ? `${file}-bold` : file));
  return [fileOf(part.font, weightOf(part)), ...further];
}

/** The font files that parts of titles need, each once. */
export const filesOfParts = (parts: readonly Part[]): string[] => [
  ...new Set(parts.flatMap((part) => (part.kind === 'text' ? filesOf(part) : []))),
];

/** The font files that layers need. */
export function filesFor(layers: readonly Layer[]): string[] {
  const parts = (all: readonly Layer[]): Part[] =>
    all.flatMap((layer) => (layer.kind === 'group' ? parts(layer.layers) : layer.kind === 'overlay' ? layer.parts : []));
  return filesOfParts(parts(layers));
}

/** The font of a text as a canvas takes it, so many pixels high. */
export function fontOf(part: Lettering, pixels: number): string {
  return `${pixels}px ${filesOf(part)
    .map((file) => `"${familyName(file)}"`)
    .join(', ')}`;
}
