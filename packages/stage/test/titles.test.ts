import { readFileSync } from 'node:fs';
import path from 'node:path';
import { createCanvas, GlobalFonts, setTextRenderer, type Canvas } from '@napi-rs/canvas';
import fc from 'fast-check';
import { PLAIN_SHAPE, PLAIN_TEXT } from '@flimzy/core/frame';
import { FontId, REGULAR, SCRIPTS, ShapeId, type Part } from '@flimzy/core/properties';
import { boxOfPart, drawFrame, FAMILIES, familyName, fileOf, filesOf, weightOf } from '..';
import { fontOf } from '../fonts';
import files from '../fonts.json';
import { layOut, unitsOf } from '../text';

const fileAt = (name: string) =>
  path.resolve(__dirname, '../../../node_modules/@expo-google-fonts', (files as Record<string, string>)[name] ?? name);
const FRAME = { width: 540, height: 960 };

setTextRenderer('system');
for (const name of Object.keys(files)) if (name !== 'emoji') GlobalFonts.registerFromPath(fileAt(name), familyName(name));

const measuring = createCanvas(8, 8).getContext('2d');
const none = () => {
  throw new Error('nothing is drawn on the side');
};

/** What a part draws in a frame that is black: how bright each pixel is. */
function drawn(part: Part): number[] {
  const canvas = createCanvas(FRAME.width, FRAME.height);
  const rect = { x: 0, y: 0, ...FRAME };
  drawFrame<Canvas>(canvas.getContext('2d'), { ...FRAME, layers: [{ kind: 'overlay', parts: [part], opacity: 1, rect }] }, 1, () => null, {
    canvas: none,
    layer: none,
    pixels: none,
  });
  const { data } = canvas.getContext('2d').getImageData(0, 0, FRAME.width, FRAME.height);
  return Array.from({ length: FRAME.width * FRAME.height }, (_, n) => data[n * 4] ?? 0);
}

/** The box around what a part draws, in pixels; null for nothing. */
function inked(part: Part): { left: number; right: number; top: number; bottom: number } | null {
  const box = { left: Infinity, right: -1, top: Infinity, bottom: -1 };
  drawn(part).forEach((bright, n) => {
    if (bright < 60) return;
    const [x, y] = [n % FRAME.width, Math.floor(n / FRAME.width)];
    [box.left, box.right] = [Math.min(box.left, x), Math.max(box.right, x)];
    [box.top, box.bottom] = [Math.min(box.top, y), Math.max(box.bottom, y)];
  });
  return box.right < 0 ? null : box;
}

/** A few letters of each script, each drawn by itself, and signs that titles have. */
const SAMPLES = [...'عשกກកကবਗગதతಗമකგժሀ凧あ한ア文繁体简→↔★♪✓☐①▁𝓀⌘Ⅷ≈₿Ж', 'क्ष', 'ư'];

const written = fc.array(fc.stringMatching(/^[A-Za-z0-9é]{1,14}$/), { minLength: 1, maxLength: 8 });

describe('a text', () => {
  it('is set in lines no wider than asked for, with all its letters, from the edge that it is aligned to', () => {
    fc.assert(
      fc.property(
        written,
        fc.constantFrom(...FontId.options),
        fc.constantFrom('left' as const, 'centre' as const, 'right' as const),
        fc.double({ min: 0.03, max: 0.3, noNaN: true }),
        fc.double({ min: 0.2, max: 0.9, noNaN: true }),
        (words, font, align, size, width) => {
          const part = { ...PLAIN_TEXT, text: words.join(' '), font, align, size, width };
          const { lines, box } = layOut(measuring, part, FRAME);
          expect(
            lines
              .map((line) => line.text)
              .join('')
              .replaceAll(' ', ''),
          ).toBe(words.join(''));
          const letter = size * FRAME.width;
          for (const line of lines) {
            if ([...line.text].length > 1) expect(line.width).toBeLessThanOrEqual(width * FRAME.width + 1e-6);
            expect(line.x).toBeGreaterThanOrEqual(box.x - 1e-6);
            expect(line.x + line.width).toBeLessThanOrEqual(box.x + box.width + 1e-6);
          }
          const anchor = { left: box.x, centre: box.x + box.width / 2, right: box.x + box.width }[align];
          expect(anchor).toBeCloseTo(0.5 * FRAME.width, 6);
          expect(box.y + box.height / 2).toBeCloseTo(0.5 * FRAME.height, 6);
          expect(box.height).toBeGreaterThan(letter * 0.8);
        },
      ),
    );
  });

  it('lies within its box, which hugs it', () => {
    for (const font of FontId.options) {
      const part: Part = { ...PLAIN_TEXT, text: 'Hgy Kite', font, shadow: null, size: 0.12 };
      const ink = inked(part)!;
      const box = boxOfPart(measuring, part, FRAME);
      const letter = 0.12 * FRAME.width;
      const far = [ink.left - box.x, box.x + box.width - ink.right, ink.top - box.y, box.y + box.height - ink.bottom];
      for (const one of far) expect([font, Math.abs(one) < letter * 0.3]).toEqual([font, true]);
    }
  });

  it('falls into words and letters that stand where they stand in the line', () => {
    const part = { ...PLAIN_TEXT, text: 'The wind lifts', size: 0.08 };
    const [line] = layOut(measuring, part, FRAME).lines;
    for (const [by, count] of [
      ['line', 1],
      ['word', 3],
      ['letter', 12],
    ] as const) {
      const units = unitsOf(measuring, line!, by, 0);
      expect(units).toHaveLength(count);
      expect(units[0]?.x).toBeCloseTo(line!.x);
      expect(units.at(-1)!.x + units.at(-1)!.width).toBeCloseTo(line!.x + line!.width, 3);
    }
    const arabic = layOut(measuring, { ...part, text: 'عيد سعيد' }, FRAME);
    expect(arabic.direction).toBe('rtl');
    expect(unitsOf(measuring, arabic.lines[0]!, 'letter', 0)).toHaveLength(1);
  });
});

it('every shape is drawn within its box, and fills it', () => {
  for (const shape of ShapeId.options) {
    const part: Part = { ...PLAIN_SHAPE, shape, colour: '#ffffff', size: 0.5, shadow: null };
    const ink = inked(part)!;
    const box = boxOfPart(measuring, part, FRAME);
    const most = box.width * 0.1;
    const far = [ink.left - box.x, box.x + box.width - ink.right, ink.top - box.y, box.y + box.height - ink.bottom];
    for (const one of far) expect([shape, Math.abs(one) < most]).toEqual([shape, true]);
  }
});

describe('the fonts', () => {
  /** Heights in times of the size, from OS/2 and hhea. */
  function heights(name: string): { capital: number; descent: number } {
    const font = readFileSync(fileAt(name));
    const tables = new Map<string, number>();
    for (let n = 0; n < font.readUInt16BE(4); n += 1)
      tables.set(font.toString('latin1', 12 + 16 * n, 16 + 16 * n), font.readUInt32BE(20 + 16 * n));
    const em = font.readUInt16BE((tables.get('head') ?? 0) + 18);
    return {
      capital: font.readInt16BE((tables.get('OS/2') ?? 0) + 88) / em,
      descent: -font.readInt16BE((tables.get('hhea') ?? 0) + 6) / em,
    };
  }

  it('are as high as the table says', () => {
    for (const font of FontId.options) {
      const { weights, bold } = FAMILIES[font];
      expect(weights).toContain(REGULAR);
      expect(weights).toContain(bold);
      const { capital, descent } = heights(font);
      // Of one family the file says too little; what it draws was measured.
      if (font !== 'typed') expect([font, FAMILIES[font].capital]).toEqual([font, Math.round(capital * 1000) / 1000]);
      expect([font, FAMILIES[font].descent]).toEqual([font, Math.min(0.25, Math.round(descent * 1000) / 1000)]);
    }
  });

  it('come in the weights that the table says, each as high as the others', () => {
    const ofFamilies = FontId.options.flatMap((font) =>
      FAMILIES[font].weights.map((weight) => ({ font, weight, file: fileOf(font, weight) })),
    );
    const others = [
      'emoji',
      'further-signs',
      'mathematics',
      ...['other', 'signs', ...Object.keys(SCRIPTS)].flatMap((name) => [name, `${name}-bold`]),
    ];
    expect([...ofFamilies.map(({ file }) => file), ...others].sort()).toEqual(Object.keys(files).sort());
    for (const { font, file } of ofFamilies)
      expect([file, heights(file).capital / heights(font).capital]).toEqual([file, expect.closeTo(1, 1)]);
  });

  it('are the thicker, the more their weight', () => {
    for (const font of FontId.options) {
      const ink = FAMILIES[font].weights.map((weight) =>
        drawn({ ...PLAIN_TEXT, text: 'Hot wind', font, weight, size: 0.2, shadow: null }).reduce((sum, bright) => sum + bright, 0),
      );
      expect([font, ink]).toEqual([font, [...new Set(ink)].sort((one, other) => one - other)]);
    }
  });

  it('have the weight that is nearest to the one asked for', () => {
    const weight = (font: FontId, more: { bold?: boolean; weight?: number }) => weightOf({ font, bold: false, ...more });
    expect(weight('book', { weight: 900 })).toBe(900);
    expect(weight('hand', { weight: 900 })).toBe(700);
    expect(weight('hand', { weight: 100 })).toBe(400);
    expect(weight('tall', { weight: 700 })).toBe(REGULAR);
    expect(weight('poster', { bold: true })).toBe(800);
    expect(weight('book', { bold: true })).toBe(700);
    expect(weight('book', { bold: true, weight: 300 })).toBe(300);
    expect(weight('plain', {})).toBe(REGULAR);
  });

  it('that a text needs are those of its letters', () => {
    const of = (text: string, bold = false) => filesOf({ font: 'tall', bold, text });
    expect(of('Kite, naïve – 27!')).toEqual(['tall']);
    expect(of('Змей')).toEqual(['tall', 'other']);
    expect(of('עפיפון', true)).toEqual(['tall', 'hebrew-bold']);
    expect(of('عيد 🪁')).toEqual(['tall', 'arabic', 'emoji']);
    expect(of('凧 ★')).toEqual(['tall', 'chinese', 'signs', 'further-signs', 'mathematics']);
    expect(of('凧あげ', true)).toEqual(['tall', 'japanese-bold', 'chinese-bold']);
    expect(filesOf({ font: 'book', bold: true, weight: 300, text: 'עפיפון' })).toEqual(['book-300', 'hebrew']);
    expect(filesOf({ font: 'book', bold: false, weight: 800, text: 'עפיפון' })).toEqual(['book-800', 'hebrew-bold']);
  });

  it('have every letter of their scripts, and signs', () => {
    // What no font has is an empty box, which is the same whatever it stands for.
    const shown = (text: string, font: FontId) => {
      const context = createCanvas(160, 120).getContext('2d');
      context.font = fontOf({ font, bold: false, text }, 60);
      context.fillText(text, 20, 80);
      return Buffer.from(context.getImageData(0, 0, 160, 120).data.buffer).toString('base64');
    };
    for (const font of ['tall', 'plain'] as const) {
      const box = shown('\ue000', font);
      expect(shown('ᚲ', font)).toBe(box);
      expect(SAMPLES.filter((text) => shown(text, font) === box)).toEqual([]);
    }
  });

  it('are broken where their script allows it, never before what closes a sentence', () => {
    const lines = (text: string, width: number) =>
      layOut(measuring, { ...PLAIN_TEXT, text, size: 0.1, width }, FRAME).lines.map((line) => line.text);
    expect(lines('風が凧を揚げる。', 0.45)).toEqual(['風が凧を', '揚げる。']);
    expect(lines('風が凧を揚げ。', 0.61)).toEqual(['風が凧を揚', 'げ。']);
    expect(lines('Kite は「凧」', 0.5)).toEqual(['Kite は', '「凧」']);
  });
});
