import { z } from 'zod';
import { clipEnd } from '../piece';
import { clear, How } from './add';
import { clipNames, defineEdit, EditRefused } from './edit';
import { newTrack } from './lanes';
import { ClipIds, ReachParam, Time } from './params';
import type { Found, Lane, Plan } from './plan';

/** Moves clips in time and to other tracks; what is linked to them keeps its track and moves in time along. */
export const move = defineEdit({
  params: z.object({
    /** The first is the one held; the others keep their place to it. */
    clips: ClipIds,
    /** The track for the first: the others go as many tracks of their kind up or down. Null: a new track on top. */
    track: z.string().nullable(),
    /** Where the first is to start, in flicks, on the timeline as it stands before the edit. */
    to: Time,
    how: How,
    /** What becomes of the room they leave: closed by what follows on their old tracks, or left. */
    rest: z.enum(['close', 'leave']),
    tracks: ReachParam,
  }),
  title: ({ clips }, piece) => `Move ${clipNames(piece, clips)}`,
  apply(draft, params, { plan, newId }) {
    const named = params.clips.map((id) => plan.find(id));
    const [held] = named;
    if (!held) return;
    const { inside } = held.lane;
    const target = params.track === null ? newTrack(plan, draft, inside, held.lane.track.kind, newId) : plan.lane(params.track);
    if (held.lane.track.kind !== target.track.kind) throw new EditRefused(`“${held.clip.name}” stays on a ${held.lane.track.kind} track.`);
    if (target.inside !== inside) throw new EditRefused('A clip cannot be moved into another timeline; cut and paste it.');
    const all = plan.expand(params.clips);
    const lanes = new Map(all.map((one) => [one.clip.id, laneFor(plan, one, held, target, params.clips)]));
    const to = closeUp(plan, all, named, target, params);
    const by = to - held.clip.start;
    if (params.how === 'insert') {
      const first = Math.min(...named.map(({ clip }) => clip.start));
      const last = Math.max(...named.map(({ clip }) => clipEnd(clip)));
      const onto = new Set(named.map(({ clip }) => lanes.get(clip.id) as Lane));
      if ([...onto].some((lane) => !plan.isFree(lane, first + by, last + by)))
        plan.open(plan.reach([...onto], params.tracks), first + by, last - first);
    }
    for (const { clip } of all) {
      const lane = lanes.get(clip.id) as Lane;
      const start = clip.start + by;
      if (start < 0) throw new EditRefused('That would be before the start of the timeline.');
      clear(plan, lane, start, clip.length, params.how === 'over' ? 'over' : 'place', 'own');
      plan.put(lane, { ...clip, start });
    }
  },
});

/** The track a clip lands on: as many tracks of its kind from its old one as the held clip goes; linked ones stay on theirs. */
function laneFor(plan: Plan, one: Found, held: Found, target: Lane, named: readonly string[]): Lane {
  if (one.clip.id === held.clip.id) return target;
  if (!named.includes(one.clip.id) || one.lane.track.kind !== held.lane.track.kind) return one.lane;
  const same = plan.lanesOf(held.lane.inside).filter((lane) => lane.track.kind === held.lane.track.kind);
  const lane = same[same.indexOf(one.lane) + same.indexOf(target) - same.indexOf(held.lane)];
  if (!lane) throw new EditRefused('There is no track there for all of them. Add a track first.');
  return lane;
}

/** Lifts the clips, closes their holes if asked to, and gives where the held one then starts. */
function closeUp(
  plan: Plan,
  all: readonly Found[],
  named: readonly Found[],
  target: Lane,
  { to, how, rest, tracks }: { to: number; how: How; rest: 'close' | 'leave'; tracks: 'own' | 'all' },
): number {
  let wish = to;
  const [held] = named as [Found];
  if (how === 'insert' && target === held.lane && to > held.clip.start && to < clipEnd(held.clip)) wish = held.clip.start;
  for (const { clip } of all) plan.remove(clip.id);
  if (rest === 'leave') return wish;
  const before = wish;
  const byGroup = new Set<string>();
  for (const { clip, lane } of [...named].sort((a, b) => b.clip.start - a.clip.start)) {
    const group = clip.link?.group;
    if (group !== undefined && byGroup.has(group)) continue;
    if (group !== undefined) byGroup.add(group);
    const mates = named.filter((one) => group !== undefined && one.clip.link?.group === group);
    plan.shift(plan.after(plan.reach([lane, ...mates.map((m) => m.lane)], tracks), clipEnd(clip)), -clip.length);
    if ((lane === target || tracks === 'all') && before >= clipEnd(clip)) wish -= clip.length;
  }
  return wish;
}
