import { TextLook, type Motion, type Overlay, type Part, type PropertyValues, type ShapePart, type TextPart } from '../properties';

/** A way for a title to begin: what it writes and draws, and how that comes and goes. */
export interface TitlePreset {
  id: string;
  name: string;
  /** What it is for. */
  use: 'opener' | 'lower third' | 'line' | 'big words' | 'end card' | 'plain';
  overlay: Overlay;
  motionIn?: Motion;
  motionOut?: Motion;
}

const SECOND = 705_600_000;

const WHITE = '#ffffff';
const INK = '#17191a';
const SUN = '#ffd166';
const BRICK = '#c8452d';
const SEA = '#1f5f6b';
const PAPER = '#f4efe2';

/** A text as it is when nothing is chosen: white with a soft shadow, in the middle. */
export const PLAIN_TEXT: TextPart = {
  kind: 'text',
  text: '',
  font: 'plain',
  bold: true,
  size: 0.08,
  colour: WHITE,
  align: 'centre',
  x: 0.5,
  y: 0.5,
  width: 0.84,
  leading: 1.15,
  spacing: 0,
  capitals: false,
  pace: 'whole',
  outline: null,
  shadow: { colour: '#000000', blur: 0.18, by: 0.04 },
  panel: null,
};

/** A shape as it is when nothing is chosen. */
export const PLAIN_SHAPE: ShapePart = {
  kind: 'shape',
  shape: 'arrow',
  colour: SUN,
  x: 0.5,
  y: 0.5,
  size: 0.35,
  stretch: 1,
  turn: 0,
  outline: null,
  shadow: { colour: '#000000', blur: 0.06, by: 0.015 },
};

/** How captions look when nothing is chosen: readable over anything. */
export const PLAIN_CAPTION: TextLook = {
  ...TextLook.parse(PLAIN_TEXT),
  size: 0.058,
  y: 0.72,
  width: 0.8,
  leading: 1.25,
  outline: { colour: INK, width: 0.08 },
  shadow: null,
};

const text = (more: Partial<TextPart>): TextPart => ({ ...PLAIN_TEXT, ...more });
const shape = (more: Partial<ShapePart>): ShapePart => ({ ...PLAIN_SHAPE, ...more });
const motion = (kind: Motion['kind'], seconds: number, by: Motion['by'] = 'whole', direction: Motion['direction'] = 'up'): Motion => ({
  kind,
  length: seconds * SECOND,
  by,
  direction,
});
const of = (...parts: Part[]): Overlay => ({ parts });

/** Our own set, in the order in which it is offered. */
export const TITLE_PRESETS: readonly TitlePreset[] = [
  {
    id: 'plain',
    name: 'Plain',
    use: 'plain',
    overlay: of(text({ text: 'Your words' })),
    motionIn: motion('fade', 0.3),
    motionOut: motion('fade', 0.3),
  },
  {
    id: 'kite',
    name: 'Kite',
    use: 'opener',
    overlay: of(
      text({
        text: 'Today we fly',
        font: 'poster',
        size: 0.15,
        leading: 0.98,
        y: 0.32,
        shadow: { colour: '#000000', blur: 0.12, by: 0.03 },
      }),
      shape({ shape: 'underline', colour: SUN, y: 0.42, size: 0.5, shadow: null }),
    ),
    motionIn: motion('rise', 0.8, 'word'),
    motionOut: motion('fade', 0.3),
  },
  {
    id: 'placard',
    name: 'Placard',
    use: 'opener',
    overlay: of(
      text({
        text: 'HOW TO',
        font: 'tall',
        bold: false,
        size: 0.17,
        leading: 1.1,
        spacing: 0.02,
        capitals: true,
        colour: INK,
        shadow: null,
        panel: { colour: SUN, opacity: 1, round: 0.06, by: 'lines' },
        y: 0.3,
      }),
    ),
    motionIn: motion('stamp', 0.5, 'line'),
    motionOut: motion('slide', 0.3, 'whole', 'left'),
  },
  {
    id: 'chapter',
    name: 'Chapter',
    use: 'opener',
    overlay: of(
      text({ text: 'part one', font: 'even', bold: false, size: 0.04, spacing: 0.2, capitals: true, y: 0.42 }),
      text({ text: 'The frame', font: 'elegant', bold: false, size: 0.14, y: 0.5 }),
    ),
    motionIn: motion('fade', 1, 'letter'),
    motionOut: motion('fade', 0.5),
  },
  {
    id: 'name',
    name: 'Name tag',
    use: 'lower third',
    overlay: of(
      text({
        text: 'Ida Brandt',
        font: 'round',
        size: 0.07,
        align: 'left',
        x: 0.1,
        y: 0.72,
        colour: WHITE,
        shadow: null,
        panel: { colour: SEA, opacity: 1, round: 0.3, by: 'block' },
      }),
      text({
        text: 'builds kites',
        font: 'plain',
        bold: false,
        size: 0.045,
        align: 'left',
        x: 0.1,
        y: 0.775,
        colour: INK,
        shadow: null,
        panel: { colour: PAPER, opacity: 0.95, round: 0.3, by: 'block' },
      }),
    ),
    motionIn: motion('slide', 0.5, 'whole', 'right'),
    motionOut: motion('fade', 0.3),
  },
  {
    id: 'ribbon',
    name: 'Ribbon',
    use: 'lower third',
    overlay: of(
      text({
        text: 'Step 1: split the bamboo',
        font: 'plain',
        size: 0.055,
        leading: 1.5,
        align: 'left',
        x: 0.1,
        y: 0.76,
        width: 0.8,
        shadow: null,
        panel: { colour: BRICK, opacity: 1, round: 0, by: 'lines' },
      }),
    ),
    motionIn: motion('unveil', 0.5, 'whole', 'right'),
    motionOut: motion('unveil', 0.3, 'whole', 'right'),
  },
  {
    id: 'caption',
    name: 'Line below',
    use: 'line',
    overlay: of(text({ ...PLAIN_CAPTION, text: 'so that it never tears', y: 0.74 })),
    motionIn: motion('fade', 0.15),
    motionOut: motion('fade', 0.15),
  },
  {
    id: 'note',
    name: 'Note',
    use: 'line',
    overlay: of(
      text({
        text: 'wait for it …',
        font: 'hand',
        size: 0.1,
        y: 0.7,
        colour: INK,
        shadow: { colour: '#000000', blur: 0.1, by: 0.03 },
        panel: { colour: PAPER, opacity: 1, round: 0.15, by: 'block' },
      }),
    ),
    motionIn: motion('swing', 0.5),
    motionOut: motion('fade', 0.2),
  },
  {
    id: 'big-words',
    name: 'Big words',
    use: 'big words',
    overlay: of(
      text({ text: 'one word after the other', font: 'tall', bold: false, size: 0.24, capitals: true, pace: 'words', width: 0.95 }),
    ),
    motionIn: motion('stamp', 0.15),
  },
  {
    id: 'shout',
    name: 'Shout',
    use: 'big words',
    overlay: of(
      shape({ shape: 'burst', colour: SUN, size: 0.75, y: 0.4, shadow: { colour: '#000000', blur: 0.05, by: 0.01 } }),
      text({ text: 'WOW!', font: 'sign', bold: false, size: 0.15, y: 0.4, colour: BRICK, shadow: null }),
    ),
    motionIn: motion('grow', 0.4),
    motionOut: motion('fade', 0.2),
  },
  {
    id: 'typed',
    name: 'Typed',
    use: 'plain',
    overlay: of(
      text({
        text: 'It began with\nan old umbrella.',
        font: 'typed',
        bold: false,
        size: 0.065,
        leading: 1.35,
        align: 'left',
        x: 0.12,
        y: 0.35,
        width: 0.8,
      }),
    ),
    motionIn: motion('type', 1.5, 'letter'),
    motionOut: motion('fade', 0.3),
  },
  {
    id: 'end',
    name: 'End card',
    use: 'end card',
    overlay: of(
      shape({ shape: 'box', colour: SEA, size: 3, stretch: 0.35, shadow: null }),
      text({ text: 'More on Friday', font: 'brush', bold: false, size: 0.12, y: 0.42, shadow: null }),
      text({ text: 'the kite workshop', font: 'plain', bold: false, size: 0.05, y: 0.54, spacing: 0.05, shadow: null, colour: PAPER }),
    ),
    motionIn: motion('fade', 0.5),
  },
];

/** How a new sticker of a shape begins. */
export const stickerOf = (one: ShapePart['shape']): Overlay =>
  of(
    shape({
      shape: one,
      ...(one === 'progress' ? { size: 1, stretch: 1, y: 0.985, shadow: null } : {}),
      ...(one === 'thumb' || one === 'heart' || one === 'star' ? { size: 0.3 } : {}),
      ...(one === 'bubble' ? { colour: WHITE, size: 0.6 } : {}),
    }),
  );

/** An emoji as a sticker. */
export const emojiOf = (emoji: string): Overlay => of(text({ text: emoji, size: 0.3, shadow: null, bold: false }));

/** The values of a clip that a preset stands for. */
export function presetValues({ overlay, motionIn, motionOut }: TitlePreset): PropertyValues {
  return { overlay, motionIn: motionIn ?? 'none', motionOut: motionOut ?? 'none' };
}
