import type { Layer } from '@flimzy/core/frame';
import type { FontId, Part, TextPart } from '@flimzy/core/properties';

/** A family: whether it has a bold of its own, and its heights in times of its size, from its font file (OS/2 cap height; hhea descent, at most a quarter). */
interface Family {
  bold: boolean;
  capital: number;
  descent: number;
}

/** What is known of each family; the files are in `fonts.json`. */
export const FAMILIES: Record<FontId, Family> = {
  plain: { bold: true, capital: 0.72, descent: 0.25 },
  poster: { bold: true, capital: 0.66, descent: 0.25 },
  tall: { bold: false, capital: 0.859, descent: 0.25 },
  book: { bold: true, capital: 0.7, descent: 0.25 },
  elegant: { bold: false, capital: 0.66, descent: 0.25 },
  round: { bold: true, capital: 0.7, descent: 0.236 },
  sign: { bold: false, capital: 0.72, descent: 0.25 },
  hand: { bold: true, capital: 0.61, descent: 0.25 },
  marker: { bold: false, capital: 0.74, descent: 0.25 },
  brush: { bold: false, capital: 0.84, descent: 0.25 },
  typed: { bold: false, capital: 0.68, descent: 0.25 },
  even: { bold: true, capital: 0.7, descent: 0.25 },
};

/** What the family of a font file is called on a canvas: a name that no font of the machine has. */
export const familyName = (key: string) => `flimzy-${key}`;

const fileOf = (font: FontId, bold: boolean) => (bold && FAMILIES[font].bold ? `${font}-bold` : font);

const ARABIC = /[\u0600-\u06ff\u0750-\u077f\u08a0-\u08ff\ufb50-\ufdff\ufe70-\ufeff]/u;
const HEBREW = /[\u0590-\u05ff\ufb1d-\ufb4f]/u;
const EMOJI = /[\p{Extended_Pictographic}\p{Regional_Indicator}\u20e3]/u;

/** The last letter that every family has, as far as a person can tell. */
const EVERYWHERE = 0xff;

/** A letter that is neither in every family nor in a file of its script. */
const isElsewhere = (letter: string) =>
  /[\p{L}\p{N}\p{Sc}\p{Sm}]/u.test(letter) && (letter.codePointAt(0) ?? 0) > EVERYWHERE && !ARABIC.test(letter) && !HEBREW.test(letter);

/** Files with letters that the families for looks may not have, and which texts need them. */
const FURTHER: readonly { file: string; bold: boolean; needed: (text: string) => boolean }[] = [
  { file: 'arabic', bold: true, needed: (text) => ARABIC.test(text) },
  { file: 'hebrew', bold: true, needed: (text) => HEBREW.test(text) },
  { file: 'emoji', bold: false, needed: (text) => EMOJI.test(text) },
  { file: 'other', bold: true, needed: (text) => [...text].some(isElsewhere) },
];

/** The font files that a text needs, by their names in `fonts.json`, in the order in which a letter is looked for. */
export function filesOf(part: Pick<TextPart, 'font' | 'bold' | 'text'>): string[] {
  const further = FURTHER.filter(({ needed }) => needed(part.text)).map(({ file, bold }) => (bold && part.bold ? `${file}-bold` : file));
  return [fileOf(part.font, part.bold), ...further];
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
export function fontOf(part: Pick<TextPart, 'font' | 'bold' | 'text'>, pixels: number): string {
  return `${pixels}px ${filesOf(part)
    .map((file) => `"${familyName(file)}"`)
    .join(', ')}`;
}
