import { z } from 'zod';
import { Clip, MediaFacts, NO_FADE, between, clipEnd, findTrack, itemsOf, type Piece, type Timeline } from '../piece';
import type { Flicks } from '../time';
import { bringIn, clear, How } from './add';
import { clipNames, defineEdit, EditRefused } from './edit';
import { newTrack } from './lanes';
import { ClipIds, Inside, ReachParam, Time } from './params';
import type { Lane, Plan } from './plan';

/** Clips taken along: each with its kind of track and how many tracks of that kind it stood above the lowest taken. */
export const Copied = z.object({
  clips: z
    .array(z.object({ clip: Clip, kind: z.enum(['picture', 'sound']), level: z.number().int().min(0).max(1_000) }))
    .min(1)
    .max(20_000),
  media: z.array(MediaFacts).max(10_000),
});
export type Copied = z.infer<typeof Copied>;

/** Copies clips, with what is linked to them when `linked`: plain data for {@link paste}. */
export function copyClips(piece: Piece, ids: readonly string[]): Copied | null {
  const wanted = new Set(ids);
  const found = [piece, ...Object.values(piece.nests ?? {})].flatMap((timeline) =>
    timeline.tracks.flatMap((track) => track.clips.filter((clip) => wanted.has(clip.id)).map((clip) => ({ clip, track, timeline }))),
  );
  if (found.length === 0) return null;
  const rank = (one: (typeof found)[number]) => one.timeline.tracks.filter((t) => t.kind === one.track.kind).indexOf(one.track);
  const lowest = (kind: string) => Math.min(...found.filter((one) => one.track.kind === kind).map(rank));
  return {
    clips: found.map((one) => ({ clip: one.clip, kind: one.track.kind, level: rank(one) - lowest(one.track.kind) })),
    media: [...new Set(found.flatMap(({ clip }) => itemsOf(clip)))].flatMap((id) => piece.media[id] ?? []),
  };
}

/** Copies what lies in [from, to) of a timeline's unlocked tracks, cut to it; null when there is nothing. Flicks. */
export function copyStretch(piece: Piece, timeline: Timeline, from: Flicks, to: Flicks): Copied | null {
  const inside = timeline.tracks
    .filter((track) => !track.locked)
    .flatMap((track) => track.clips.filter((clip) => clip.start < to && clipEnd(clip) > from));
  const copied = copyClips(
    piece,
    inside.map((clip) => clip.id),
  );
  if (!copied) return null;
  const clips = copied.clips.map(({ clip, ...rest }) => {
    const start = Math.max(clip.start, from);
    const cut: Clip = {
      ...clip,
      ...between(clip, start, Math.min(clipEnd(clip), to)),
      ...(start > clip.start ? { lead: undefined, ...NO_FADE.head } : {}),
      ...(clipEnd(clip) > to ? { trail: undefined, ...NO_FADE.tail } : {}),
    };
    return { ...rest, clip: cut };
  });
  return { ...copied, clips };
}

/** Sets copied clips down from a time on. Links among them are kept, as links of their own. */
export const paste = defineEdit({
  params: z.object({
    copied: Copied,
    inside: Inside,
    /** The track of its kind that the lowest goes to; null for the lowest unlocked. */
    track: z.string().nullable(),
    at: Time,
    how: How,
    tracks: ReachParam,
  }),
  title: ({ copied }) => `Paste ${copied.clips.length === 1 ? (copied.clips[0]?.clip.name ?? 'clip') : `${copied.clips.length} clips`}`,
  apply(draft, { copied, inside, track, at, how, tracks }, { plan, newId }) {
    setDown(plan, draft, copied, inside, track, at, how, tracks, newId);
  },
});

/** Copies clips right after themselves, moving the rest later. */
export const duplicate = defineEdit({
  params: z.object({ clips: ClipIds, tracks: ReachParam }),
  title: ({ clips }, piece) => `Duplicate ${clipNames(piece, clips)}`,
  apply(draft, { clips, tracks }, { plan, newId }) {
    const all = plan.expand(clips);
    const copied = copyClips(
      plan.piece,
      all.map(({ clip }) => clip.id),
    );
    const [first] = all;
    if (!copied || !first) return;
    const end = Math.max(...clips.map((id) => clipEnd(plan.find(id).clip)));
    const start = Math.min(...all.map(({ clip }) => clip.start));
    const named = Math.min(...clips.map((id) => plan.find(id).clip.start));
    setDown(
      plan,
      draft,
      copied,
      first.lane.inside,
      lowestOf(
        plan,
        all.map(({ lane }) => lane),
      ),
      end - named + start,
      'insert',
      tracks,
      newId,
    );
  },
});

function lowestOf(plan: Plan, lanes: readonly Lane[]): string | null {
  const [first] = lanes;
  return (
    (first && plan.lanesOf(first.inside).find((lane) => lane.track.kind === 'picture' && lanes.includes(lane))?.track.id) ??
    first?.track.id ??
    null
  );
}

function setDown(
  plan: Plan,
  draft: Piece,
  copied: Copied,
  inside: string | null,
  track: string | null,
  at: number,
  how: How,
  reach: 'own' | 'all',
  newId: () => string,
): void {
  for (const media of copied.media) {
    if (media.kind === 'nest' && !draft.nests?.[media.id])
      throw new EditRefused(`“${media.name}” is a nest of another piece and cannot be pasted here.`);
    bringIn(plan, draft, media);
  }
  const first = Math.min(...copied.clips.map(({ clip }) => clip.start));
  const last = Math.max(...copied.clips.map(({ clip }) => clipEnd(clip)));
  const lanes = copied.clips.map(({ kind, level }) => laneAt(plan, draft, inside, track, kind, level, newId));
  if (how === 'insert') {
    const onto = [...new Set(lanes)];
    if (onto.some((lane) => !plan.isFree(lane, at, at + last - first))) plan.open(plan.reach(onto, reach), at, last - first);
  }
  const groups = new Map<string, string>();
  const counts = new Map<string, number>();
  for (const { clip } of copied.clips) if (clip.link) counts.set(clip.link.group, (counts.get(clip.link.group) ?? 0) + 1);
  copied.clips.forEach(({ clip }, i) => {
    const lane = lanes[i] as Lane;
    const start = at + clip.start - first;
    clear(plan, lane, start, clip.length, how === 'over' ? 'over' : 'place', 'own');
    const made: Clip = { ...clip, id: newId(), start };
    delete made.link;
    if (clip.link && (counts.get(clip.link.group) ?? 0) > 1) {
      if (!groups.has(clip.link.group)) groups.set(clip.link.group, newId());
      made.link = { group: groups.get(clip.link.group) as string, anchor: clip.link.anchor };
    }
    plan.put(lane, made);
  });
}

/** The track `level` above the one named (or the lowest unlocked) of a kind; new tracks where there are not enough. */
function laneAt(
  plan: Plan,
  draft: Piece,
  inside: string | null,
  track: string | null,
  kind: 'picture' | 'sound',
  level: number,
  newId: () => string,
): Lane {
  const named = track === null ? null : findTrack(plan.piece, track);
  const same = () => plan.lanesOf(inside).filter((lane) => lane.track.kind === kind && !lane.track.locked);
  const base =
    named?.track.kind === kind
      ? Math.max(
          0,
          same().findIndex((lane) => lane.track.id === track),
        )
      : 0;
  while (same().length <= base + level) newTrack(plan, draft, inside, kind, newId);
  return same()[base + level] as Lane;
}
