import { z } from 'zod';
import { FontId, Weight } from './fonts';
import { defineProperty } from './property';
import { lettersToRead } from './scripts';

/** The most parts of one title. */
export const PARTS_MOST = 12;

/** The longest text of one part, in letters. */
export const TEXT_MOST = 1000;

/** The largest that a text and a shape are, as shares of the shorter side of the frame. */
export const TEXT_LARGEST = 1;
export const SHAPE_LARGEST = 3;

const colour = z.string().regex(/^#[0-9a-f]{6}$/);

/** Where a part lies: shares of the frame, from its upper left corner. */
const place = { x: z.number().min(-1).max(2), y: z.number().min(-1).max(2) };

/** A shadow behind what is drawn: lengths in the size of the part. */
export const Shadow = z.object({
  colour,
  /** How far it is spread. */
  blur: z.number().min(0).max(1),
  /** How far to the right and down. */
  by: z.number().min(-1).max(1),
});

/** A text with its looks. Lengths are in times of its size but where something else is said. */
export const TextPart = z.object({
  kind: z.literal('text'),
  text: z.string().max(TEXT_MOST),
  font: FontId,
  /** Whether its letters are thick, where no weight is said: in titles made before weights could be chosen, and in presets. */
  bold: z.boolean(),
  weight: Weight.optional(),
  /** Height of the font, as a share of the shorter side of the frame. */
  size: z.number().min(0.01).max(TEXT_LARGEST),
  colour,
  /** What of it lies at `x`: its left edge, its middle, or its right edge. `y` is that of its middle. */
  align: z.enum(['left', 'centre', 'right']),
  ...place,
  /** Where lines are broken at the latest, as a share of the frame's width. */
  width: z.number().min(0.05).max(2),
  /** From one line to the next. */
  leading: z.number().min(0.5).max(3),
  /** Between letters, more than usual. */
  spacing: z.number().min(-0.2).max(1),
  capitals: z.boolean(),
  /** All at once, or one word after the other, each as long as the others. */
  pace: z.enum(['whole', 'words']),
  outline: z.object({ colour, width: z.number().min(0.005).max(0.3) }).nullable(),
  shadow: Shadow.nullable(),
  /** A ground behind it: one, or one for each line. */
  panel: z
    .object({
      colour,
      opacity: z.number().min(0).max(1),
      /** How round its corners are. */
      round: z.number().min(0).max(1),
      by: z.enum(['block', 'lines']),
    })
    .nullable(),
});
export type TextPart = z.infer<typeof TextPart>;

/** How a text looks, whatever it says. */
export const TextLook = TextPart.omit({ text: true });
export type TextLook = z.infer<typeof TextLook>;

/** The drawn set. How each is drawn is in `stage/shapes.ts`. */
export const ShapeId = z.enum([
  'arrow',
  'swoop',
  'ring',
  'underline',
  'scribble',
  'burst',
  'star',
  'heart',
  'thumb',
  'tick',
  'cross',
  'bubble',
  'box',
  'disc',
  'progress',
]);
export type ShapeId = z.infer<typeof ShapeId>;

export const SHAPE_NAMES: Record<ShapeId, string> = {
  arrow: 'Arrow',
  swoop: 'Curved arrow',
  ring: 'Circle',
  underline: 'Underline',
  scribble: 'Scribble',
  burst: 'Burst',
  star: 'Star',
  heart: 'Heart',
  thumb: 'Thumb up',
  tick: 'Tick',
  cross: 'Cross',
  bubble: 'Speech bubble',
  box: 'Box',
  disc: 'Dot',
  progress: 'Progress line',
};

/** A drawn shape. */
export const ShapePart = z.object({
  kind: z.literal('shape'),
  shape: ShapeId,
  colour,
  /** Its middle. */
  ...place,
  /** Its longer side, as a share of the shorter side of the frame. */
  size: z.number().min(0.01).max(SHAPE_LARGEST),
  /** Width against height, in times of what it is drawn in. */
  stretch: z.number().min(0.1).max(20),
  /** Degrees clockwise. */
  turn: z.number().min(-360).max(360),
  outline: z.object({ colour, width: z.number().min(0.005).max(0.3) }).nullable(),
  shadow: Shadow.nullable(),
});
export type ShapePart = z.infer<typeof ShapePart>;

export const Part = z.discriminatedUnion('kind', [TextPart, ShapePart]);
export type Part = z.infer<typeof Part>;

/** What a title or a sticker shows: parts, each over those before it. */
export const Overlay = z.object({ parts: z.array(Part).min(1).max(PARTS_MOST) });
export type Overlay = z.infer<typeof Overlay>;

const schema = z.union([z.literal('none'), Overlay]);

/** The parts of an overlay; none where there is none. */
export const partsOf = (value: Overlay | 'none'): readonly Part[] => (value === 'none' ? [] : value.parts);

/** All texts of an overlay in one line; empty where it has none. */
export function textOf(value: Overlay | 'none'): string {
  return partsOf(value)
    .flatMap((part) => (part.kind === 'text' ? [part.text.replace(/\s+/g, ' ').trim()] : []))
    .filter(Boolean)
    .join(' · ');
}

/** What an overlay is called in a few words: its text, else the first of its shapes. */
export function overlayName(value: Overlay | 'none'): string {
  const text = textOf(value);
  if (text) return text.length > 40 ? `${text.slice(0, 39)}…` : text;
  const shape = partsOf(value).find((part) => part.kind === 'shape');
  return shape ? SHAPE_NAMES[shape.shape] : 'Title';
}

/** How fast a text is read by someone who does not expect it, in letters a second, and how long it takes to find it, in seconds. */
const LETTERS_A_SECOND = 16;
const FINDING = 0.4;

/** How fast captions are read: one knows where they stand, and hears them too. */
const CAPTION_LETTERS_A_SECOND = 20;

/** How long a title has to be seen to be read, in seconds; 0 where there is nothing to read. */
export function readingTime(value: Overlay | 'none', caption = false): number {
  const letters = lettersToRead(textOf(value));
  if (letters === 0) return 0;
  return caption ? letters / CAPTION_LETTERS_A_SECOND : FINDING + letters / LETTERS_A_SECOND;
}

/** What is drawn over everything for a title or a sticker: text and shapes. */
export const overlay = defineProperty({
  schema,
  plain: 'none',
  always: false,
  side: 'picture',
  label: 'Text',
  keys: false,
  seldom: true,
  say: overlayName,
  title: (value) => `Title “${overlayName(value)}”`,
});
