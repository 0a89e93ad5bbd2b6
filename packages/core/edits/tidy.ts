import { EDGE_MAX, roomToPull, type Clip, type MediaFacts } from '../piece';
import { propertyOf, SELDOM } from '../properties';
import { FLICKS_PER_SAMPLE, type Flicks } from '../time';

/** Fields of a clip that may be missing. */
const EXTRAS: readonly (keyof Clip)[] = ['hold', 'speed', 'silent', 'lead', 'trail', 'blend', 'link', ...SELDOM];

const EXTRA: ReadonlySet<string> = new Set(EXTRAS);

/** Asked of thousands of clips for one edit: most have fewer fields than there are such. */
function hasExtras(clip: Clip): boolean {
  for (const key in clip) if (EXTRA.has(key)) return true;
  return false;
}

/** A clip with its sound edges kept within the material, on the sample grid, and without fields that say nothing. */
export function tidy(clip: Clip, all: Readonly<Record<string, MediaFacts>>): Clip {
  if (!hasExtras(clip)) return clip;
  const room = roomToPull(clip, all[clip.media]);
  const whole = (n: number) => Math.floor(n / FLICKS_PER_SAMPLE) * FLICKS_PER_SAMPLE;
  const edge = (wish: Flicks | undefined, unused: Flicks) =>
    wish === undefined ? undefined : Math.max(-whole(clip.length), Math.min(wish, EDGE_MAX, whole(Math.max(0, unused)))) || undefined;
  const next: Clip = { ...clip, lead: edge(clip.lead, room.head), trail: edge(clip.trail, room.tail), blend: clip.blend || undefined };
  if (next.speed === 1) next.speed = undefined;
  for (const name of SELDOM) if (next[name] === propertyOf(name).plain) Reflect.deleteProperty(next, name);
  for (const key of EXTRAS) if (next[key] === undefined) Reflect.deleteProperty(next, key);
  return EXTRAS.every((key) => next[key] === clip[key] && key in next === key in clip) ? clip : next;
}
