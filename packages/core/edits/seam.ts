import { z } from 'zod';
import { between, clipEnd, roomToSlip, slipped, speedOf, type Clip } from '../piece';
import { frameLength } from '../time';
import { clipName, clipNames, defineEdit, EditRefused } from './edit';
import { Also, ClipIds, Time } from './params';
import { edgeMates, needMaterial, needRoom } from './trim';
import type { Found, Plan } from './plan';

const By = z.number().int();

/** The clip that directly joins another on its track, or null. */
export function joined(plan: Plan, id: string, side: 'before' | 'after'): Clip | null {
  const { lane, clip } = plan.find(id);
  const index = lane.clips.indexOf(clip);
  const other = side === 'before' ? lane.clips[index - 1] : lane.clips[index + 1];
  if (!other) return null;
  return (side === 'before' ? clipEnd(other) === clip.start : other.start === clipEnd(clip)) ? other : null;
}

/** Moves the join of two clips: the one ends where the other starts, earlier or later; nothing else moves. */
export const roll = defineEdit({
  params: z.object({
    /** The clip after the join. */
    clip: z.string(),
    /** Clips after further joins, which move by as much. */
    also: Also,
    /** Where the join is to be, in flicks. */
    to: Time,
  }),
  title: ({ clip, also }, piece) => `Roll the join before ${clipNames(piece, [clip, ...also])}`,
  apply(_draft, { clip: id, also, to }, { plan }) {
    const by = to - plan.find(id).clip.start;
    const heads = new Map<string, Found>();
    const tails = new Map<string, Found>();
    for (const one of [id, ...also]) {
      const before = joined(plan, one, 'before');
      if (!before) throw new EditRefused('There is no join here: the clips do not touch.');
      for (const mate of edgeMates(plan, one, 'head').mates) heads.set(mate.clip.id, mate);
      for (const mate of edgeMates(plan, before.id, 'tail').mates) tails.set(mate.clip.id, mate);
    }
    for (const [end, found] of [...heads, ...tails]) needRoom(plan, found, heads.has(end) ? by : 0, tails.has(end) ? by : 0);
    for (const [end, { clip }] of tails) plan.set(end, between(clip, clip.start, clipEnd(clip) + by));
    for (const start of heads.keys()) {
      const { clip } = plan.find(start);
      plan.set(start, between(clip, clip.start + by, clipEnd(clip)));
    }
  },
});

/**
 * Moves the material inside clips: other frames in the same place. Positive shows later material, by so many flicks of it. What is linked is
 * slipped by as much of the timeline, so that it stays in step: at another speed by more of its material, or less, in whole frames.
 */
export const slip = defineEdit({
  params: z.object({ clips: ClipIds, by: By }),
  title: ({ clips }, piece) => `Slip ${clipNames(piece, clips)}`,
  apply(_draft, { clips, by }, { plan }) {
    const frame = frameLength(plan.piece.format.rate);
    for (const one of plan.expand(clips)) {
      const { earlier, later } = roomToSlip(one.clip, plan.mediaOf(one.clip));
      const group = one.clip.link ? plan.group(one.clip.id) : [one];
      const [lead = one] = group.filter(({ clip }) => clips.includes(clip.id));
      const mixed = group.some(({ clip }) => speedOf(clip) !== speedOf(lead.clip));
      const frames = Math.round(by / speedOf(lead.clip) / frame);
      const mine = mixed ? Math.round(frames * frame * speedOf(one.clip)) : by;
      needMaterial(plan, one.clip, [-mine, earlier], [mine, later]);
      plan.set(one.clip.id, slipped(one.clip, mine));
    }
  },
});

/** Moves clips between their neighbours, which give way on one side and fill up on the other; nothing else moves. */
export const slide = defineEdit({
  params: z.object({ clip: z.string(), also: Also, by: By }),
  title: ({ clip, also }, piece) => `Slide ${clipNames(piece, [clip, ...also])}`,
  apply(_draft, { clip: id, also, by }, { plan }) {
    const sliding = plan.expand([id, ...also]);
    const held = new Set(sliding.map((one) => one.clip.id));
    const heads = new Set<string>();
    const tails = new Set<string>();
    for (const name of held) {
      const before = joined(plan, name, 'before');
      const after = joined(plan, name, 'after');
      if (before && !held.has(before.id)) tails.add(before.id);
      if (after && !held.has(after.id)) heads.add(after.id);
    }
    // A neighbour between two that slide moves its material on both sides: it is slipped, and moves along.
    for (const name of new Set([...heads, ...tails])) {
      const found = plan.find(name);
      const [head, tail] = [heads.has(name) ? by : 0, tails.has(name) ? by : 0];
      needRoom(plan, found, head, tail);
      plan.set(name, between(found.clip, found.clip.start + head, clipEnd(found.clip) + tail));
    }
    for (const { clip } of sliding) plan.set(clip.id, { start: clip.start + by });
  },
});

/** Two clips change places. On one track what lies between keeps its order and joins; on two tracks each must fit where the other was. */
export const swap = defineEdit({
  params: z.object({ a: z.string(), b: z.string() }),
  title: ({ a, b }, piece) => `Swap ${clipName(piece, a)} and ${clipName(piece, b)}`,
  apply(_draft, params, { plan }) {
    const [one, two] = [plan.find(params.a), plan.find(params.b)];
    if (one.clip.id === two.clip.id) throw new EditRefused('Choose two clips to swap.');
    const [first, last] = one.clip.start <= two.clip.start ? [one, two] : [two, one];
    if (first.lane !== last.lane) {
      if (first.lane.track.kind !== last.lane.track.kind) throw new EditRefused('A picture and a sound cannot change places.');
      plan.remove(first.clip.id);
      plan.remove(last.clip.id);
      plan.put(last.lane, { ...first.clip, start: last.clip.start });
      plan.put(first.lane, { ...last.clip, start: first.clip.start });
      const by = last.clip.start - first.clip.start;
      for (const [found, shift] of [[first, by] as const, [last, -by] as const])
        for (const mate of plan.group(found.clip.id).slice(1)) plan.set(mate.clip.id, { start: mate.clip.start + shift });
      plan.sort(plan.lanesOf(first.lane.inside).filter((lane) => lane.own));
      return;
    }
    const { clips } = first.lane;
    const between = clips.slice(clips.indexOf(first.clip) + 1, clips.indexOf(last.clip)).map((clip) => clip.id);
    const moves: [string[], number][] = [
      [[last.clip.id], first.clip.start - last.clip.start],
      [between, last.clip.length - first.clip.length],
      [[first.clip.id], clipEnd(last.clip) - clipEnd(first.clip)],
    ];
    for (const [ids, by] of moves) plan.shift(ids, by);
  },
});
