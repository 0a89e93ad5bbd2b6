import { BLEND_MAX } from '@flimzy/core/piece';
import { FADE_MAX, TRANSITION_MAX } from '@flimzy/core/properties';
import { fromSeconds } from '@flimzy/core/time';
import { z } from 'zod';
import { kept } from './kept';

/** The longest that a frame is frozen by one touch, in flicks: a minute. */
export const FREEZE_MAX = fromSeconds(60);

/** How long what is made by one touch is, in flicks: a fade, a crossfade, a transition, a frozen frame. */
const Lengths = z.object({
  fade: z.number().int().positive().max(FADE_MAX).default(fromSeconds(1)),
  transition: z.number().int().positive().max(TRANSITION_MAX).default(fromSeconds(0.6)),
  freeze: z.number().int().positive().max(FREEZE_MAX).default(fromSeconds(2)),
  cross: z.number().int().positive().max(BLEND_MAX).default(fromSeconds(0.5)),
});

/** The lengths that a person chose, on this device. */
export const { use: useLengths, set: setLengths } = kept('flimzy.lengths', Lengths);

export const setLength = (name: keyof z.infer<typeof Lengths>, length: number): boolean => setLengths({ [name]: Math.round(length) });
