import { chunksOf, type TextPart } from '@flimzy/core/properties';
import type { Rect } from '@flimzy/core/frame';
import type { DrawContext } from './context';
import { FAMILIES, fontOf } from './fonts';

/** A piece of text that is drawn by itself, from its left edge on. */
export interface Unit {
  text: string;
  x: number;
  width: number;
}

export interface Line extends Unit {
  /** Where its letters stand, in pixels of the piece. */
  baseline: number;
  /** From the top of its capitals to the lowest of its letters. */
  box: Rect;
}

/** A text as it is set: all lengths in pixels of the piece. */
export interface LaidOut {
  size: number;
  direction: 'ltr' | 'rtl';
  lines: Line[];
  /** Around all lines; with its panel, that too. */
  box: Rect;
  /** How much a panel stands out around what it is behind. */
  padding: number;
}

/** How much of the size of a text a panel stands out, across and down. */
const PADDING = 0.3;

/** Scripts whose letters join or change by what stands beside them. */
const JOINED = new RegExp(
  `[${['Devanagari', 'Bengali', 'Gurmukhi', 'Gujarati', 'Tamil', 'Telugu', 'Kannada', 'Malayalam', 'Sinhala', 'Khmer', 'Myanmar']
    .map((script) => `\\p{Script=${script}}`)
    .join('')}]`,
  'u',
);

const RIGHT_TO_LEFT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff]/u;
const STRONG = /[\p{L}]/u;

/** The direction of a text: that of its first letter. */
export function directionOf(text: string): 'ltr' | 'rtl' {
  const first = [...text].find((letter) => STRONG.test(letter));
  return first !== undefined && RIGHT_TO_LEFT.test(first) ? 'rtl' : 'ltr';
}

/** Sets a context up for a text; lengths in pixels of the piece. */
export function dress<Image>(context: DrawContext<Image>, part: TextPart, size: number): void {
  context.font = fontOf(part, size);
  context.letterSpacing = `${part.spacing * size}px`;
  context.textAlign = 'left';
  context.textBaseline = 'alphabetic';
  context.lang = 'en';
  context.direction = directionOf(part.text);
}

/** Letters as they are seen, each with what belongs to it. */
const letters = new Intl.Segmenter('en', { granularity: 'grapheme' });
const lettersOf = (text: string) => [...letters.segment(text)].map(({ segment }) => segment);

/** Breaks one paragraph into lines that are no wider than so much; a word that is wider is broken within. */
function broken(paragraph: string, most: number, widthOf: (text: string) => number): string[] {
  const lines: string[] = [];
  let line = '';
  const push = (word: string, space: string) => {
    const longer = line === '' ? word : line + space + word;
    if (widthOf(longer) <= most) return void (line = longer);
    if (line !== '') lines.push(line);
    line = '';
    if (widthOf(word) <= most) return void (line = word);
    for (const letter of lettersOf(word)) {
      if (line !== '' && widthOf(line + letter) > most) {
        lines.push(line);
        line = '';
      }
      line += letter;
    }
  };
  for (const word of paragraph.split(/[ \t]+/)) chunksOf(word).forEach((chunk, n) => push(chunk, n === 0 ? ' ' : ''));
  lines.push(line);
  return lines;
}

/** Sets a text in a frame. */
export function layOut<Image>(context: DrawContext<Image>, part: TextPart, frame: { width: number; height: number }): LaidOut {
  const size = part.size * Math.min(frame.width, frame.height);
  dress(context, part, size);
  const text = part.capitals ? part.text.toLocaleUpperCase('en') : part.text;
  // Spacing stands after each letter, also the last one, where it is not seen.
  const widthOf = (words: string) => (words === '' ? 0 : context.measureText(words).width - part.spacing * size);
  const most = part.width * frame.width;
  const rows = text.split('\n').flatMap((paragraph) => broken(paragraph, most, widthOf));
  const widths = rows.map(widthOf);
  const widest = Math.max(size / 4, ...widths);
  const { capital, descent } = FAMILIES[part.font];
  const pitch = part.leading * size;
  const high = (rows.length - 1) * pitch + (capital + descent) * size;
  const share = part.align === 'left' ? 0 : part.align === 'right' ? 1 : 0.5;
  const left = part.x * frame.width - share * widest;
  const top = part.y * frame.height - high / 2;
  const lines = rows.map((row, n): Line => {
    const width = widths[n] ?? 0;
    const x = left + share * (widest - width);
    const baseline = top + capital * size + n * pitch;
    return { text: row, x, width, baseline, box: { x, y: baseline - capital * size, width, height: (capital + descent) * size } };
  });
  const padding = part.panel ? PADDING * size : 0;
  return {
    size,
    direction: directionOf(text),
    lines,
    padding,
    box: { x: left - padding, y: top - padding, width: widest + 2 * padding, height: high + 2 * padding },
  };
}

/**
 * What of a line moves by itself: words or letters, each where it stands in the line. A line that does not go from left to right
 * throughout is one piece, since its letters join, and its words are not in the order of its text. Where letters join otherwise, words are.
 */
export function unitsOf<Image>(context: DrawContext<Image>, line: Line, by: 'line' | 'word' | 'letter', spacing: number): Unit[] {
  if (by === 'line' || RIGHT_TO_LEFT.test(line.text)) return [line];
  const whole = by === 'word' || JOINED.test(line.text);
  const parts = whole ? line.text.split(/(?<= )/).flatMap(chunksOf) : lettersOf(line.text);
  const units: Unit[] = [];
  let before = '';
  for (const part of parts) {
    const from = before === '' ? 0 : context.measureText(before).width;
    before += part;
    const to = context.measureText(before).width - spacing;
    if (part.trim() !== '') units.push({ text: part, x: line.x + from, width: to - from });
  }
  return units;
}
