import { z } from 'zod';
import { frameLength, type Flicks } from '../time';
import { between, clipEnd, roomToPull, type Clip } from '../piece';
import { at, clipNames, defineEdit, EditRefused } from './edit';
import { Also, ReachParam } from './params';
import type { Found, Plan, Reach } from './plan';

/** Refuses a change of a clip's ends (in flicks, later is positive) that leaves it no frame or needs material there is not. */
export function needRoom(plan: Plan, { clip }: Found, head: number, tail: number): void {
  const room = roomToPull(clip, plan.mediaOf(clip));
  if (clip.length - head + tail < frameLength(plan.piece.format.rate)) throw new EditRefused('A clip is at least one frame long.');
  needMaterial(plan, clip, [-head, room.head], [tail, room.tail]);
}

/** Refuses what needs more material before or after a clip than there is; each as what is wished for and what is left, in flicks. */
export function needMaterial(plan: Plan, { name }: Clip, before: [wish: Flicks, left: Flicks], after: [wish: Flicks, left: Flicks]): void {
  for (const [edge, [wish, left]] of [['before', before] as const, ['after', after] as const])
    if (wish > left) throw new EditRefused(`“${name}” has only ${at(plan.piece, left)} of material left ${edge} this point.`);
}

/** A clip and those linked with it whose end stands at the same time: they are trimmed as one. */
export function edgeMates(plan: Plan, id: string, edge: 'head' | 'tail'): { mates: Found[]; others: Found[] } {
  const group = plan.group(id);
  const time = ({ clip }: Found) => (edge === 'head' ? clip.start : clipEnd(clip));
  const own = time(group[0] as Found);
  return { mates: group.filter((one) => time(one) === own), others: group.filter((one) => time(one) !== own) };
}

/**
 * Moves one end of a clip, and the same end of others by as much; linked clips that end at the same time are trimmed along.
 * Refused as a whole when one of them cannot.
 */
export const trim = defineEdit({
  params: z.object({
    clip: z.string(),
    also: Also,
    edge: z.enum(['head', 'tail']),
    /**
     * Where that end is to be on the timeline as it stands before the edit, in flicks. Before its start when a head gets longer
     * and the rest follows.
     */
    to: z.number().int(),
    /** `stay`: nothing else moves. `follow`: all that comes after moves along, so that joins stay joined. */
    rest: z.enum(['stay', 'follow']),
    tracks: ReachParam,
  }),
  title: ({ clip, also, edge, rest }, piece) =>
    `Trim ${edge === 'head' ? 'start' : 'end'} of ${clipNames(piece, [clip, ...also])}${rest === 'follow' ? ', the rest follows' : ''}`,
  apply(_draft, { clip: id, also, edge, to, rest, tracks }, { plan }) {
    const { clip } = plan.find(id);
    const by = to - (edge === 'head' ? clip.start : clipEnd(clip));
    const byEnd = new Map<Flicks, string[]>();
    for (const one of new Set([id, ...also])) {
      const end = clipEnd(plan.find(one).clip);
      byEnd.set(end, [...(byEnd.get(end) ?? []), one]);
    }
    // The latest first: by the time a ripple moves clips, they have been trimmed themselves.
    const trimmed = new Map<string, ReadonlySet<string>>();
    for (const [, ids] of [...byEnd].sort(([a], [b]) => b - a)) trimTogether(plan, ids, trimmed, edge, by, rest, tracks);
  },
});

/**
 * Trims clips that end at the same time, unless they have been already, and moves what follows them.
 *
 * @param trimmed the clips trimmed so far, each with those that were moved for it
 */
function trimTogether(
  plan: Plan,
  ids: readonly string[],
  trimmed: Map<string, ReadonlySet<string>>,
  edge: 'head' | 'tail',
  by: Flicks,
  rest: 'stay' | 'follow',
  tracks: Reach,
): void {
  const [first] = ids as [string];
  const end = clipEnd(plan.find(first).clip);
  const mates = new Map<string, Found>();
  const others = new Map<string, Found>();
  const held = new Set(ids);
  for (const id of ids) {
    const group = edgeMates(plan, id, edge);
    for (const mate of group.mates) {
      held.add(mate.clip.id);
      if (!trimmed.has(mate.clip.id)) mates.set(mate.clip.id, mate);
    }
    if (!trimmed.has(id)) for (const other of group.others) others.set(other.clip.id, other);
  }
  const [head, tail] = edge === 'head' ? [by, 0] : [0, by];
  for (const mate of mates.values()) needRoom(plan, mate, head, tail);
  const lanes = ids.map((id) => plan.find(id).lane);
  const following = rest === 'follow' ? plan.after(plan.reach(lanes, tracks), end).filter((other) => !held.has(other)) : [];
  if (rest === 'stay') for (const mate of mates.values()) needFree(mate, head, tail);
  for (const { clip: c } of mates.values()) {
    trimmed.set(c.id, new Set());
    const cut = between(c, c.start + head, clipEnd(c) + tail);
    plan.set(c.id, rest === 'stay' ? cut : { ...cut, start: c.start });
  }
  if (rest === 'stay') return;
  const along = edge === 'head' ? [...others.keys()] : [];
  const moving = plan.expand(following).map((one) => one.clip.id);
  const torn = edge === 'tail' ? [...others.values()].find((other) => moving.includes(other.clip.id)) : undefined;
  if (torn) throw new EditRefused(`“${torn.clip.name}” is linked with what is trimmed and would fall out of step. Unlink them first.`);
  // Trimmed along with another one that ends later, they have moved what follows that already.
  const before = mates.size === 0 ? ids.map((id) => trimmed.get(id)) : [];
  const moved = [...new Set([...moving, ...along])].filter((one) => !held.has(one) && !before.some((set) => set?.has(one)));
  for (const id of mates.keys()) trimmed.set(id, new Set(moved));
  plan.shiftAlone(moved, edge === 'head' ? -head : tail);
}

function needFree({ lane, clip }: Found, head: number, tail: number): void {
  const index = lane.clips.indexOf(clip);
  const [before, after] = [lane.clips[index - 1], lane.clips[index + 1]];
  if (before && clip.start + head < clipEnd(before)) throw new EditRefused(`“${before.name}” is in the way.`);
  if (after && clipEnd(clip) + tail > after.start) throw new EditRefused(`“${after.name}” is in the way.`);
  if (clip.start + head < 0) throw new EditRefused('The timeline starts there.');
}
