import { clipEnd } from '../piece';
import type { Found, Plan, Reach } from './plan';

/**
 * Takes clips out, with what is linked to them or without. With `close`, what follows moves up by the length of the first clip of each
 * linked set (its picture, when that was meant), on its own tracks or on all.
 */
export function takeOut(
  plan: Plan,
  ids: readonly string[],
  rest: 'close' | 'leave',
  reach: Reach,
  linked: 'along' | 'stay' = 'along',
): void {
  const sets: Found[][] = [];
  const seen = new Set<string>();
  for (const id of ids) {
    if (seen.has(id)) continue;
    const group = plan.group(id);
    const named = group.filter(({ clip }) => ids.includes(clip.id));
    for (const { clip } of group) seen.add(clip.id);
    const others = group.filter((one) => !named.includes(one));
    sets.push(linked === 'along' ? [...named, ...others] : named);
    // What stays alone of a set is linked with nothing any more.
    if (linked === 'stay' && others.length === 1)
      for (const { clip, lane } of others) if (!lane.track.locked) plan.set(clip.id, { link: undefined });
  }
  sets.sort((a, b) => (b[0]?.clip.start ?? 0) - (a[0]?.clip.start ?? 0));
  for (const set of sets) {
    const [first] = set;
    if (!first) continue;
    const named = set.filter(({ clip }) => ids.includes(clip.id)).map(({ lane }) => lane);
    for (const { clip } of set) plan.remove(clip.id);
    if (rest === 'close') plan.shift(plan.after(plan.reach(named, reach), clipEnd(first.clip)), -first.clip.length);
  }
}
