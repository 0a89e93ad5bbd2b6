import { typedNumber } from '@flimzy/core/properties';
import { FigureField } from './Field';

export interface NumberFieldProps {
  label: string;
  value: number;
  least: number;
  most: number;
  step: number;
  /** What is shown for 1: 100 for a percentage. */
  shown?: number;
  unit?: string;
  /** Digits after the point, as shown. */
  digits?: number;
  /** Sets it; whether that could be done. */
  onChange: (value: number) => boolean;
  testID: string;
}

/** A number as it is written: short. */
export const short = (n: number) => Math.round(n * 1e4) / 1e4;

/** A number with its bounds, typed and stepped. */
export function NumberField({ label, value, least, most, step, shown = 1, unit = '', digits = 0, onChange, testID }: NumberFieldProps) {
  const say = (n: number) => `${(n * shown).toFixed(digits).replace('-', '−')}${unit === '%' ? ' %' : unit}`;
  return (
    <FigureField
      label={label}
      testID={testID}
      value={say(value)}
      onSubmit={(text) => {
        const typed = typedNumber(text, /%|°|s|deg(rees)?/gi);
        if (typed === null || typed < least * shown - 1e-9 || typed > most * shown + 1e-9) return `Between ${say(least)} and ${say(most)}.`;
        return onChange(short(typed / shown)) ? null : 'It cannot be set.';
      }}
      onStep={(by) => onChange(short(Math.max(least, Math.min(most, value + by * step))))}
    />
  );
}
