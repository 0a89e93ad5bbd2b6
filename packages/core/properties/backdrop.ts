import { z } from 'zod';
import { defineProperty, typedNumber } from './property';

/**
 * What fills the frame behind a picture that does not: the picture itself, blurred; one colour; two, going over into each other;
 * black (on a higher track: what lies under it); or nothing of its own.
 */
export const Backdrop = z.enum(['black', 'blur', 'colour', 'gradient']);
export type Backdrop = z.infer<typeof Backdrop>;

const WORDS: Record<Backdrop, string> = { black: 'Nothing', blur: 'Its own blur', colour: 'A colour', gradient: 'Two colours' };

export const backdrop = defineProperty({
  schema: Backdrop,
  plain: 'blur',
  always: true,
  side: 'picture',
  label: 'Backdrop',
  keys: false,
  say: (value) => WORDS[value],
  title: (value, clips) => `${WORDS[value]} behind ${clips}`,
});

const schema = z.string().regex(/^#[0-9a-f]{6}$/);

/** A colour as people type it: with or without its sign, short or long; null when it is none. */
export function typedColour(text: string): string | null {
  const digits = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i.exec(text.trim())?.[1]?.toLowerCase();
  if (!digits) return null;
  return `#${digits.length === 3 ? [...digits].map((one) => one + one).join('') : digits}`;
}

const colour = (label: string, plain: string, on: readonly Backdrop[]) =>
  defineProperty({
    schema,
    plain,
    always: false,
    side: 'picture',
    label,
    keys: false,
    shown: (values) => (on as readonly unknown[]).includes(values.backdrop),
    say: (value) => value,
    figure: { read: typedColour, hint: 'A colour as #rrggbb.', step: (value) => value },
    title: (value, clips) => `${label} of ${clips} ${value}`,
  });

export const backdropColour = colour('Backdrop colour', '#2b4a5e', ['colour', 'gradient']);
export const backdropTo = colour('Backdrop to', '#16202b', ['gradient']);

const share = (label: string, plain: number) =>
  defineProperty({
    schema: z.number().min(0).max(1),
    plain,
    always: false,
    side: 'picture',
    label,
    keys: false,
    seldom: true,
    shown: (values) => values.backdrop === 'blur',
    say: (value) => `${Math.round(value * 100)} %`,
    figure: {
      read: (text) => {
        const typed = typedNumber(text, /%/);
        return typed === null || typed < 0 || typed > 100 ? null : typed / 100;
      },
      hint: `${label} is between 0 and 100 %.`,
      step: (value, by) => Math.max(0, Math.min(1, Math.round((value + by * 0.05) * 1e4) / 1e4)),
    },
    title: (value, clips) => `${label} of ${clips} ${Math.round(value * 100)} %`,
  });

/** Of a picture's own blur behind it: how much it is blurred, how much of its light is left, and of its colour. */
export const backdropSoft = share('Backdrop blur', 0.5);
export const backdropLight = share('Backdrop light', 0.62);
export const backdropColourful = share('Backdrop colours', 1);
