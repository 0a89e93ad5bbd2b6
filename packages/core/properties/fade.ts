import { z } from 'zod';
import { FLICKS_PER_SECOND, toSeconds, type Flicks } from '../time';
import { defineProperty, typedSeconds } from './property';

/** The longest fade, in flicks: a minute. */
export const FADE_MAX = 60 * FLICKS_PER_SECOND;

/** What a fade is stepped by, in flicks: a tenth of a second. */
const TENTH = FLICKS_PER_SECOND / 10;

/** How a fade rises: evenly, with equal power (an even crossfade of different sounds), slowly at first, slowly at the end. */
export const FadeCurve = z.enum(['even', 'equalPower', 'slowStart', 'slowEnd']);
export type FadeCurve = z.infer<typeof FadeCurve>;

/** How much of the sound there is when `share` (0 to 1) of a fade in has passed; a fade out is the same backwards. */
export const FADES: Record<FadeCurve, (share: number) => number> = {
  even: (share) => share,
  equalPower: (share) => Math.sin((share * Math.PI) / 2),
  slowStart: (share) => share * share,
  slowEnd: (share) => share * (2 - share),
};

export const FADE_NAMES: Record<FadeCurve, string> = {
  even: 'even',
  equalPower: 'equal power',
  slowStart: 'slow start',
  slowEnd: 'slow end',
};

const CURVES = FadeCurve.options;
export const sayFade = (length: Flicks) => (length === 0 ? 'none' : `${toSeconds(length).toFixed(2)} s`);

/** A length as people type it, in seconds. Null when it is none; flicks. */
function read(text: string): Flicks | null {
  if (/^\s*none\s*$/i.test(text)) return 0;
  const length = typedSeconds(text);
  return length === null || length < 0 || length > FADE_MAX ? null : length;
}

const fade = (label: string, end: string) =>
  defineProperty({
    schema: z.number().int().min(0).max(FADE_MAX),
    plain: 0,
    always: false,
    side: 'sound',
    label,
    keys: false,
    say: sayFade,
    figure: {
      read,
      hint: 'A fade is up to 60 s long; write seconds, such as 1.5.',
      step: (value, by) => Math.max(0, Math.min(FADE_MAX, (Math.round(value / TENTH) + by) * TENTH)),
    },
    title: (value, clips) => (value === 0 ? `No fade ${end} of ${clips}` : `Fade ${end} of ${clips} ${sayFade(value)}`),
  });

const curve = (label: string, of: 'fadeIn' | 'fadeOut' | 'blend', plain: FadeCurve) =>
  defineProperty({
    schema: FadeCurve,
    plain,
    always: false,
    side: 'sound',
    label,
    keys: false,
    shown: (values) => Boolean(values[of]),
    say: (value) => FADE_NAMES[value],
    figure: {
      read: (text) => CURVES.find((one) => FADE_NAMES[one].startsWith(text.trim().toLowerCase() || '-')) ?? null,
      hint: `One of: ${Object.values(FADE_NAMES).join(', ')}.`,
      step: (value, by) => CURVES[(CURVES.indexOf(value) + by + CURVES.length) % CURVES.length] ?? value,
    },
    title: (value, clips) => `${label} of ${clips}: ${FADE_NAMES[value]}`,
  });

/** How long a clip's sound takes to come in, and to go, in flicks, and how. */
export const fadeIn = fade('Fade in', 'in');
export const fadeInCurve = curve('Fade-in curve', 'fadeIn', 'equalPower');
export const fadeOut = fade('Fade out', 'out');
export const fadeOutCurve = curve('Fade-out curve', 'fadeOut', 'equalPower');

/** How the crossfade where its sound starts goes: it comes in so, and what was there goes the same backwards. */
export const blendCurve = curve('Crossfade curve', 'blend', 'even');
