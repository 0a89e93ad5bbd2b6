import { z } from 'zod';
import { changes, curveSchema, type Curve } from './curve';
import { defineProperty, typedNumber } from './property';

interface Curved {
  label: string;
  plain: number;
  least: number;
  most: number;
  /** One step up or down. */
  step: number;
  /** What is shown for 1: 100 for a percentage. */
  shown: number;
  unit: '%' | '°';
  /** Digits after the point, as shown. */
  digits?: number;
  /** What history calls it: "Opacity of Hill 40 %". */
  called: string;
  seldom?: true;
}

/** A property of the picture that is a number and may change within a clip: its figure is typed in percent or degrees. */
export function defineCurved({ label, plain, least, most, step, shown, unit, digits = 0, called, seldom }: Curved) {
  const written = (value: number) => `${(value * shown).toFixed(digits).replace('-', '−')}${unit === '%' ? ' %' : unit}`;
  const say = (value: Curve) => (typeof value === 'number' ? written(value) : 'changes');
  const within = (value: number) => Math.max(least, Math.min(most, Math.round(value * 1e5) / 1e5));
  return defineProperty({
    schema: curveSchema(z.number().min(least).max(most)),
    plain,
    always: false,
    side: 'picture',
    label,
    keys: true,
    say,
    ...(seldom ? { seldom } : {}),
    figure: {
      read: (text) => {
        const typed = typedNumber(text, /%|°|deg(rees)?/i);
        return typed === null || typed < least * shown || typed > most * shown ? null : typed / shown;
      },
      hint: `${label} is between ${written(least)} and ${written(most)}.`,
      step: (value, by) => (changes(value) ? value : within((value as number) + by * step)),
    },
    title: (value, clips) => `${called} of ${clips} ${say(value)}`,
  });
}
