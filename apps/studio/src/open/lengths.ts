import { BLEND_MAX } from '@flimzy/core/piece';
import { FADE_MAX } from '@flimzy/core/properties';
import { fromSeconds } from '@flimzy/core/time';
import { create } from 'zustand';
import { z } from 'zod';

const STORE = 'flimzy.lengths';

/** How long what is made by one touch is, in flicks: a fade, and a crossfade. */
const Lengths = z.object({
  fade: z.number().int().positive().max(FADE_MAX).default(fromSeconds(1)),
  cross: z.number().int().positive().max(BLEND_MAX).default(fromSeconds(0.5)),
});
type Lengths = z.infer<typeof Lengths>;

function kept(): Lengths {
  try {
    return Lengths.parse(JSON.parse(localStorage.getItem(STORE) ?? '{}'));
  } catch {
    return Lengths.parse({});
  }
}

/** The lengths that a person chose, on this device. */
export const useLengths = create<Lengths>(kept);

export function setLength(name: keyof Lengths, length: number): boolean {
  const next = Lengths.safeParse({ ...useLengths.getState(), [name]: Math.round(length) });
  if (!next.success) return false;
  useLengths.setState(next.data);
  try {
    localStorage.setItem(STORE, JSON.stringify(next.data));
  } catch {
    // A full storage keeps it until the page is closed.
  }
  return true;
}
