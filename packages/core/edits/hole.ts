import { clipEnd } from '../piece';
import type { Found, Plan, Reach } from './plan';

/**
 * Takes clips out with what is linked to them. With `close`, what follows moves up by the length of the first clip of each
 * linked set (its picture, when that was meant), on its own tracks or on all.
 */
export function takeOut(plan: Plan, ids: readonly string[], rest: 'close' | 'leave', reach: Reach): void {
  const sets: Found[][] = [];
  const seen = new Set<string>();
  for (const id of ids) {
    if (seen.has(id)) continue;
    const group = plan.group(id);
    const named = group.filter(({ clip }) => ids.includes(clip.id));
    for (const { clip } of group) seen.add(clip.id);
    sets.push([...named, ...group.filter((one) => !named.includes(one))]);
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
