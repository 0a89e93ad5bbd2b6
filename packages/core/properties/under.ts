import { z } from 'zod';
import { fromSeconds, toSeconds } from '../time';
import { defineProperty, typedNumber, typedSeconds, type Figure } from './property';

const SPAN_MAX = fromSeconds(30);
const Span = z.number().int().min(0).max(SPAN_MAX);

/** How music makes way for speech. */
export const Under = z.object({
  /** How far below the speech it is kept, in LU. */
  below: z.number().min(0).max(40),
  /** How long before the speech it has gone down, in flicks. */
  early: Span,
  /** How long it takes to go down, and to come up again, in flicks. */
  down: Span,
  up: Span,
  /** How long it stays down after the speech; a shorter pause between sentences is not filled. Flicks. */
  hold: Span,
});
export type Under = z.infer<typeof Under>;

/** What one begins with. */
export const UNDER: Under = { below: 12, early: fromSeconds(0.1), down: fromSeconds(0.4), up: fromSeconds(0.8), hold: fromSeconds(0.8) };

interface UnderFigure extends Figure<number> {
  label: string;
  say(value: number): string;
}

const span = (label: string): UnderFigure => ({
  label,
  say: (value) => `${toSeconds(value).toFixed(2)} s`,
  read: (text) => {
    const typed = typedSeconds(text);
    return typed === null || typed < 0 || typed > SPAN_MAX ? null : typed;
  },
  hint: 'Seconds, between 0 and 30.',
  step: (value, by) => Math.max(0, Math.min(SPAN_MAX, value + by * fromSeconds(0.05))),
});

/** Each of its figures, as it is typed and stepped. */
export const UNDER_FIGURES: Record<keyof Under, UnderFigure> = {
  below: {
    label: 'Below the speech',
    say: (value) => `${value.toFixed(1)} LU`,
    read: (text) => {
      const typed = typedNumber(text, /(lu|db)\s*$/i);
      return typed === null || typed < 0 || typed > 40 ? null : typed;
    },
    hint: 'Between 0 and 40 LU.',
    step: (value, by) => Math.max(0, Math.min(40, value + by * 0.5)),
  },
  early: span('Down before it begins'),
  down: span('Goes down in'),
  hold: span('Stays down after it'),
  up: span('Comes up in'),
};

const say = (value: z.infer<typeof schema>) =>
  value === 'track' ? 'as its track' : value === 'off' ? 'no' : `${value.below.toFixed(0)} LU below`;

const schema = z.union([z.enum(['track', 'off']), Under]);

/** Whether a clip makes way for speech, and how: as its track does, not at all, or in a way of its own. */
export const under = defineProperty({
  schema,
  plain: 'track',
  always: false,
  side: 'sound',
  label: 'Under speech',
  keys: false,
  say,
  title: (value, clips) =>
    typeof value === 'object'
      ? `${clips} under speech: ${say(value)}`
      : value === 'off'
        ? `${clips} not under speech`
        : `${clips} under speech as the track`,
});
