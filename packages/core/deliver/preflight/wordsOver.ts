import type { TogetherStep } from '../../edits';
import type { Rect } from '../../frame';
import { clipEnd, findClip, isCaptions, sameShape, type SeenClip } from '../../piece';
import { AS_EVERYWHERE, partsOf, shapeKey, type PropertyValues } from '../../properties';
import { fromSeconds } from '../../time';
import { isWithin, safeArea } from '../inShape';
import type { Check, Checked, Finding } from './check';
import { boxIn, called, each, wordsOf } from './words';

/** How long words have to lie over each other to be noticed. */
const NOTICED = fromSeconds(0.2);

/** How much room is left between words, as a share of the frame's height. */
const APART = 0.012;

/** Words with where they are drawn, in pixels of the frame. */
interface Boxed {
  seen: SeenClip;
  box: Rect;
  /** How far up they lie among all. */
  n: number;
}

const meet = (a: Rect, b: Rect) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** For each words those that are there at the same time, long enough to be noticed. */
function meetings(all: readonly Boxed[]): Map<Boxed, Boxed[]> {
  const found = new Map(all.map((one) => [one, [] as Boxed[]]));
  const inOrder = [...all].sort((a, b) => a.seen.clip.start - b.seen.clip.start);
  inOrder.forEach((one, i) => {
    const end = clipEnd(one.seen.clip);
    for (let k = i + 1; k < inOrder.length; k += 1) {
      const other = inOrder[k] as Boxed;
      const { start } = other.seen.clip;
      if (end - start < NOTICED) break;
      if (Math.min(end, clipEnd(other.seen.clip)) - start < NOTICED) continue;
      found.get(one)?.push(other);
      found.get(other)?.push(one);
    }
  });
  return found;
}

/** How far up or down a box is moved at least to lie over none of others, within an area; null where there is no room. */
function wayOut(box: Rect, others: readonly Rect[], area: Rect, gap: number): number | null {
  const free = others
    .flatMap(({ y, height }) => [y - gap - box.height - box.y, y + height + gap - box.y])
    .filter((by) => {
      const moved = { ...box, y: box.y + by };
      return isWithin(moved, area) && !others.some((other) => meet(moved, other));
    });
  return free.length > 0 ? free.reduce((least, by) => (Math.abs(by) < Math.abs(least) ? by : least)) : null;
}

/** What moves words so much (a share of the frame's height) further down: everywhere, or in the shape in which they are sent alone. */
function movedDown({ piece, sent }: Checked, id: string, by: number): PropertyValues | null {
  const own = findClip(piece, id)?.clip;
  if (!own?.overlay || own.overlay === 'none') return null;
  if (sameShape(sent.format, piece.format))
    return { overlay: { parts: own.overlay.parts.map((part) => ({ ...part, y: Math.max(-1, Math.min(2, part.y + by)) })) } };
  const all = own.inShapes && own.inShapes !== 'none' ? own.inShapes : {};
  const key = shapeKey(sent.format);
  const there = all[key] ?? AS_EVERYWHERE;
  return { inShapes: { ...all, [key]: { ...there, down: Math.max(-2, Math.min(2, there.down + by)) } } };
}

/** Words that lie over other words. */
export const wordsOver: Check = (checked) => {
  const { sent, format, boxOf } = checked;
  const all = wordsOf(sent).map((seen, n): Boxed => {
    const written = partsOf(seen.clip.overlay ?? 'none').filter(({ kind }) => kind === 'text');
    return { seen, box: boxIn(boxOf(written, sent.format), seen.through, sent.format), n };
  });
  const met = meetings(all);
  const at = (one: Boxed) => met.get(one) ?? [];
  // Of two, captions are to give way; else what lies on top.
  const gives = (one: Boxed, other: Boxed) =>
    isCaptions(one.seen.track) === isCaptions(other.seen.track) ? one.n > other.n : isCaptions(one.seen.track);
  const under = (one: Boxed) => at(one).filter((other) => meet(one.box, other.box) && gives(one, other));
  const lying = all.filter((one) => under(one).length > 0);
  const boxes = new Map(all.map((one) => [one.seen, one]));
  const boxed = (seen: SeenClip) => boxes.get(seen) as Boxed;
  return each(
    lying.map(({ seen }) => seen),
    (some, name): Finding => {
      const steps = some.flatMap((seen): TogetherStep[] => {
        if (seen.through.length > 0) return [];
        const one = boxed(seen);
        const others = at(one).map(({ box }) => box);
        const by = wayOut(one.box, others, safeArea(format, sent.format), APART * sent.format.height);
        const values = by === null ? null : movedDown(checked, seen.clip.id, by / sent.format.height);
        return values ? [{ name: 'set', params: { clips: [seen.clip.id], values } }] : [];
      });
      const [first] = some;
      const [other] = under(boxed(first));
      const lies = some.length === 1 ? 'lies' : 'lie';
      return {
        says: `${name} ${lies} over ${other ? called(other.seen.clip) : 'other words'}${some.length > 1 ? ' and the like' : ''}.`,
        why: 'Neither can be read.',
        weight: 'hurts',
        at: Math.max(first.clip.start, other?.seen.clip.start ?? 0),
        mends: steps.length > 0 ? [{ label: 'Move apart', edits: { title: `Move ${name} away from other words`, steps } }] : [],
      };
    },
  );
};
