import { z } from 'zod';
import { clipEnd, emptyStretches, timelineOf } from '../piece';
import { at as timecode, defineEdit, EditRefused } from './edit';
import { Inside, ReachParam, Time } from './params';
import type { Lane, Plan } from './plan';

/** Closes the empty stretch of one track that covers a time; what follows moves up. */
export const closeGap = defineEdit({
  params: z.object({ track: z.string(), at: Time, tracks: ReachParam }),
  title: ({ at }, piece) => `Close the gap at ${timecode(piece, at)}`,
  apply(_draft, { track, at, tracks }, { plan }) {
    const lane = plan.lane(track);
    const next = lane.clips.find((clip) => clip.start > at);
    const before = lane.clips.filter((clip) => clip.start <= at).at(-1);
    if (!next || (before && clipEnd(before) > at)) throw new EditRefused('There is no gap there with a clip after it.');
    plan.shift(plan.after(plan.reach([lane], tracks), next.start), (before ? clipEnd(before) : 0) - next.start);
  },
});

/** Closes every gap of one track, or of all unlocked tracks: there only where nothing at all lies on any of them. */
export const closeGaps = defineEdit({
  params: z.object({ track: z.string().nullable(), inside: Inside }),
  title: ({ track }) => (track === null ? 'Close all gaps' : 'Close the gaps of a track'),
  apply(_draft, { track, inside }, { plan }) {
    const lanes = track === null ? plan.unlocked(inside) : [plan.lane(track)];
    const gaps = emptyStretches(lanes.flatMap((lane) => lane.clips));
    if (gaps.length === 0) throw new EditRefused('There is no gap to close.');
    for (const { from, to } of gaps.reverse()) plan.shift(plan.after(lanes, to), from - to);
  },
});

const Stretch = z.object({ inside: Inside, from: Time, to: Time });

function needStretch(plan: Plan, { inside, from, to }: z.output<typeof Stretch>): Lane[] {
  if (to <= from) throw new EditRefused('Set in before out first.');
  return plan.unlocked(inside);
}

/** Takes a stretch of time out on all unlocked tracks: cut at both ends, what follows moves up. Markers after it move along. */
export const takeOutStretch = defineEdit({
  params: Stretch,
  title: ({ from, to }, piece) => `Take out ${timecode(piece, to - from)} at ${timecode(piece, from)}`,
  apply(draft, params, { plan }) {
    const lanes = needStretch(plan, params);
    const { from, to, inside } = params;
    plan.cover(lanes, from, to);
    plan.shift(plan.after(lanes, to), from - to);
    const timeline = timelineOf(draft, inside);
    if (!timeline?.markers) return;
    timeline.markers = timeline.markers
      .filter((m) => m.time < from || m.time >= to)
      .map((m) => (m.time >= to ? { ...m, time: m.time - (to - from) } : m));
  },
});

/** Empties a stretch of time on all unlocked tracks; nothing moves. */
export const liftStretch = defineEdit({
  params: Stretch,
  title: ({ from, to }, piece) => `Lift ${timecode(piece, to - from)} at ${timecode(piece, from)}`,
  apply(_draft, params, { plan }) {
    plan.cover(needStretch(plan, params), params.from, params.to);
  },
});

/** Keeps a stretch of time alone, on all unlocked tracks: what is before and after goes, and it moves to the start. */
export const keepStretch = defineEdit({
  params: Stretch,
  title: ({ from, to }, piece) => `Keep only ${timecode(piece, to - from)} at ${timecode(piece, from)}`,
  apply(draft, params, { plan }) {
    const lanes = needStretch(plan, params);
    const { from, to, inside } = params;
    plan.cut(lanes, from);
    plan.cut(lanes, to);
    for (const lane of lanes) for (const clip of [...lane.clips]) if (clip.start < from || clipEnd(clip) > to) plan.remove(clip.id);
    plan.shift(plan.after(lanes, from), -from);
    const timeline = timelineOf(draft, inside);
    if (timeline?.markers)
      timeline.markers = timeline.markers.filter((m) => m.time >= from && m.time <= to).map((m) => ({ ...m, time: m.time - from }));
  },
});
