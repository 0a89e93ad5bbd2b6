import { z } from 'zod';
import { changes, curveSchema, type Curve } from './curve';
import { defineProperty, typedNumber } from './property';

const within = (share: number) => Math.max(0, Math.min(1, share));
const say = (value: Curve) => (typeof value === 'number' ? `${Math.round(value * 100)} %` : 'changes');

/** How much of a clip's picture there is over what lies under it: 0 (nothing) to 1 (all). */
export const opacity = defineProperty({
  schema: curveSchema(z.number().min(0).max(1)),
  plain: 1,
  always: false,
  side: 'picture',
  label: 'Opacity',
  keys: true,
  say,
  figure: {
    read: (text) => {
      const percent = typedNumber(text, /%/);
      return percent === null || percent < 0 || percent > 100 ? null : percent / 100;
    },
    hint: 'Opacity is between 0 and 100 %.',
    step: (value, by) => (changes(value) ? value : within(Math.round(((value as number) + by * 0.05) * 100) / 100)),
  },
  title: (value, clips) => `Opacity of ${clips} ${say(value)}`,
});
