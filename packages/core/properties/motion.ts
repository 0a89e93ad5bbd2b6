import { z } from 'zod';
import { defineProperty } from './property';
import { sayFade } from './fade';
import { Direction } from './transition';

/** The ways in which a title comes in, and goes. What each does is in `core/frame/motions.ts`. */
export const MotionKind = z.enum(['fade', 'rise', 'slide', 'grow', 'stamp', 'swing', 'unveil', 'type', 'hop']);
export type MotionKind = z.infer<typeof MotionKind>;

export const MOTION_NAMES: Record<MotionKind, string> = {
  fade: 'Fade',
  rise: 'Rise',
  slide: 'Slide',
  grow: 'Grow',
  stamp: 'Stamp',
  swing: 'Swing',
  unveil: 'Unveil',
  type: 'Type',
  hop: 'Hop',
};

/** What of a title moves by itself, one after the other. */
export const MotionBy = z.enum(['whole', 'line', 'word', 'letter']);
export type MotionBy = z.infer<typeof MotionBy>;

export const MOTION_BY_NAMES: Record<MotionBy, string> = { whole: 'At once', line: 'By line', word: 'By word', letter: 'By letter' };

/** The longest motion, in flicks: 10 s. */
export const MOTION_MAX = 10 * 705_600_000;

export const Motion = z.object({
  kind: MotionKind,
  /** How long, in flicks. */
  length: z.number().int().positive().max(MOTION_MAX),
  by: MotionBy,
  /** Which way it goes. */
  direction: Direction,
});
export type Motion = z.infer<typeof Motion>;

const schema = z.union([z.literal('none'), Motion]);

const of = (label: string, does: string) =>
  defineProperty({
    schema,
    plain: 'none',
    always: false,
    side: 'picture',
    label,
    keys: false,
    seldom: true,
    say: (value) => (value === 'none' ? 'none' : `${MOTION_NAMES[value.kind].toLowerCase()}, ${sayFade(value.length)}`),
    title: (value, clips) =>
      value === 'none' ? `${clips} ${does} at once` : `${clips} ${does}: ${MOTION_NAMES[value.kind].toLowerCase()}`,
  });

/** How a title comes in, and how it goes. */
export const motionIn = of('Motion in', 'comes in');
export const motionOut = of('Motion out', 'goes');
