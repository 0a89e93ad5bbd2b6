import { z } from 'zod';
import { defineProperty } from './property';

/** The ways to go over from one picture to the next. What each draws is in `core/frame/transitions`. */
export const TransitionKind = z.enum(['dissolve', 'dip', 'flash', 'slide', 'push', 'wipe', 'circle', 'shape', 'zoom', 'spin', 'blur']);
export type TransitionKind = z.infer<typeof TransitionKind>;

export const TRANSITION_NAMES: Record<TransitionKind, string> = {
  dissolve: 'Dissolve',
  dip: 'Dip to a colour',
  flash: 'Flash',
  slide: 'Slide over',
  push: 'Push',
  wipe: 'Wipe',
  circle: 'Circle',
  shape: 'Shape',
  zoom: 'Zoom through',
  spin: 'Spin',
  blur: 'Blur over',
};

export const Direction = z.enum(['left', 'right', 'up', 'down']);
export type Direction = z.infer<typeof Direction>;

/** The shapes in which a picture can come in; the last is drawn by hand. */
export const TransitionShape = z.enum(['star', 'heart', 'diamond', 'burst', 'kite', 'drawn']);
export type TransitionShape = z.infer<typeof TransitionShape>;

/** The longest transition, in flicks: 10 s. */
export const TRANSITION_MAX = 10 * 705_600_000;

/** How one picture goes over into the next. */
export const Transition = z.object({
  kind: TransitionKind,
  /** How long, in flicks; half of it lies on either side of the join, or all of it within the clip where nothing meets it. */
  length: z.number().int().positive().max(TRANSITION_MAX),
  /** Which way the new picture goes. */
  direction: Direction.default('left'),
  /** Of the edge of a wipe, as a share of the frame. */
  soft: z.number().min(0).max(1).default(0.1),
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/)
    .default('#000000'),
  shape: TransitionShape.default('star'),
  /** The line drawn by hand, closed, around its middle: at most 1 away from it. */
  drawn: z
    .array(z.tuple([z.number().min(-1).max(1), z.number().min(-1).max(1)]))
    .min(3)
    .max(64)
    .optional(),
});
export type Transition = z.infer<typeof Transition>;

const schema = z.union([z.literal('none'), Transition]);

const of = (label: string, where: string) =>
  defineProperty({
    schema,
    plain: 'none',
    always: false,
    side: 'picture',
    label,
    keys: false,
    say: (value) => (value === 'none' ? 'none' : TRANSITION_NAMES[value.kind]),
    title: (value, clips) => (value === 'none' ? `No transition ${where} ${clips}` : `${TRANSITION_NAMES[value.kind]} ${where} ${clips}`),
  });

/** How a clip's picture comes in: over the one before it, or out of nothing where none is. */
export const transition = of('Comes in by', 'before');

/** How it goes where no other follows it. */
export const ending = of('Ends by', 'at the end of');
