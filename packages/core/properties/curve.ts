import { z } from 'zod';
import type { Flicks } from '../time';

/** How a value goes from one key on to the next: evenly, starting slowly, ending slowly, both, or staying until the next. */
export const Ease = z.enum(['even', 'slowStart', 'slowEnd', 'slowBoth', 'hold']);
export type Ease = z.infer<typeof Ease>;

/** The most keys one curve may have. */
const MOST_KEYS = 1_000;

/** A number that stays, or one that changes: keys in order of time, each at a moment of the material (flicks), so that cutting a clip does not move them. */
export function curveSchema<S extends z.ZodType<number>>(value: S) {
  const key = z.object({ at: z.number().int(), value, ease: Ease });
  const keys = z
    .array(key)
    .min(1)
    .max(MOST_KEYS)
    .refine((list) => list.every((one, i) => i === 0 || one.at > (list[i - 1]?.at ?? 0)), 'keys are in order of time');
  return z.union([value, z.object({ keys })]);
}
export type Curve = number | { keys: { at: Flicks; value: number; ease: Ease }[] };

/** How far along a change is when `share` (0 to 1) of its time has passed. */
export const EASES: Record<Ease, (share: number) => number> = {
  even: (share) => share,
  slowStart: (share) => share * share,
  slowEnd: (share) => share * (2 - share),
  slowBoth: (share) => share * share * (3 - 2 * share),
  hold: () => 0,
};

/** The value of a curve at a moment of the material: before its first key that one's, after its last that one's. */
export function valueAt(curve: Curve, moment: Flicks): number {
  if (typeof curve === 'number') return curve;
  const { keys } = curve;
  const next = keys.findIndex((key) => key.at > moment);
  if (next === -1) return keys.at(-1)?.value ?? 0;
  const [before, after] = [keys[next - 1], keys[next]];
  if (!before || !after) return after?.value ?? 0;
  return before.value + (after.value - before.value) * EASES[before.ease]((moment - before.at) / (after.at - before.at));
}

/** A curve with another value wherever it has one. */
export function curveOf(curve: Curve, change: (value: number) => number): Curve {
  return typeof curve === 'number' ? change(curve) : { keys: curve.keys.map((key) => ({ ...key, value: change(key.value) })) };
}

/** Whether a curve has keys: what it makes of two moments may differ. */
export function changes(curve: unknown): boolean {
  return typeof curve === 'object' && curve !== null && 'keys' in curve && Array.isArray(curve.keys); // a list has a method of that name
}
