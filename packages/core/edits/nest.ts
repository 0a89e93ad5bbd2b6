import { z } from 'zod';
import { clipEnd, heardTracks, nestFacts, seenTracks, soundSpan, timelineOf, type Clip, type Piece, type Track } from '../piece';
import type { Effects } from '../properties';
import { frameLength, type Flicks } from '../time';
import { clipNames, defineEdit, EditRefused } from './edit';
import { newTrack } from './lanes';
import { ClipIds } from './params';
import type { Found, Lane, Plan } from './plan';

/**
 * Makes several clips one: they move into a timeline of their own, which one clip shows in their place. What is seen and heard stays
 * the same: inside, a track is hidden or silent when it was outside, and the nest stands on a track that is neither when any of them was not.
 */
export const nest = defineEdit({
  params: z.object({ clips: ClipIds, name: z.string().trim().min(1).max(200) }),
  title: ({ clips }, piece) => `Nest ${clipNames(piece, clips)}`,
  wordsStay: true,
  apply(draft, { clips, name }, { plan, newId }) {
    const all = plan.expand(clips);
    const [first] = all as [Found];
    const { inside } = first.lane;
    if (all.some((one) => one.lane.inside !== inside)) throw new EditRefused('Only clips of one timeline can be nested together.');
    const lanes = plan.lanesOf(inside).filter((lane) => all.some((one) => one.lane === lane));
    const standing = standingOf(plan, inside);
    const start = Math.min(...all.map(({ clip }) => clip.start));
    const end = Math.max(...all.map(({ clip }) => clipEnd(clip)));
    const home = homeFor(plan, draft, lanes, standing, newId);
    const edges = edgesOf(home, all, start, end);
    const met = metOutside(home, all, start);
    const frame = frameLength(plan.piece.format.rate);
    const earlier = Math.ceil(Math.max(0, edges.lead ?? 0) / frame) * frame; // room before the first picture, for its sound

    const id = `nest-${newId().replace(/[^a-z0-9-]/g, '-')}`;
    const tracks: Track[] = lanes.map((lane) => ({
      id: newId(),
      kind: lane.track.kind,
      name: lane.track.name,
      muted: !standing(lane).heard,
      ...(lane.track.hidden ? { hidden: true } : {}),
      ...(lane.track.level ? { level: lane.track.level } : {}),
      ...(lane.track.pan ? { pan: lane.track.pan } : {}),
      ...(lane.track.role ? { role: lane.track.role } : {}),
      ...(lane.track.under ? { under: lane.track.under } : {}),
      ...(lane.track.effects ? { effects: lane.track.effects } : {}),
      clips: all
        .filter((one) => one.lane === lane)
        .map(({ clip }) => ({ ...(clip === met ? without(clip) : clip), start: clip.start - start + earlier }))
        .sort((a, b) => a.start - b.start),
    }));
    if (tracks[0]?.kind !== 'picture') tracks.unshift({ id: newId(), kind: 'picture', name: 'Picture', muted: false, clips: [] });
    for (const { clip } of all) plan.remove(clip.id);
    if (!plan.isFree(home, start, end))
      throw new EditRefused('Another clip lies between them on their track. Choose that one too, or move it away.');
    draft.nests = { ...draft.nests, [id]: { name, tracks } };
    const facts = nestFacts({ ...plan.piece, nests: { ...plan.piece.nests, [id]: { name, tracks } } }, id);
    draft.media[id] = facts;
    plan.learn(facts);
    const place = { start, length: end - start, from: earlier };
    plan.put(home, {
      id: newId(),
      media: id,
      name,
      ...place,
      fit: 'fill',
      backdrop: 'black',
      level: 0,
      ...apartFrom(home.track),
      ...edges,
      ...(met ? { transition: met.transition } : {}),
    });
  },
});

/** What a clip must have that is not to make way for speech as its new track would have it. */
export const apartFrom = (track: Track): Pick<Clip, 'under'> => (track.under ? { under: 'off' } : {});

/** Whether what stands on a track is seen (were it a picture) and heard, and how loud (dB) and where between left and right. */
export interface Standing {
  seen: boolean;
  heard: boolean;
  level: number;
  pan: number;
  /** What is done to its pictures. */
  effects: Effects | undefined;
}

/** Whether two tracks do the same to their pictures. */
export const sameEffects = (one: Effects | undefined, other: Effects | undefined): boolean => JSON.stringify(one) === JSON.stringify(other);

/** How the tracks of a timeline stood before the edit. */
export function standingOf(plan: Plan, inside: string | null): (lane: Lane) => Standing {
  const timeline = timelineOf(plan.piece, inside);
  const [seen, heard] = timeline ? [new Set(seenTracks(timeline)), new Set(heardTracks(timeline))] : [new Set(), new Set()];
  return ({ track }) => ({
    seen: track.kind === 'sound' || seen.has(track),
    heard: heard.has(track),
    level: track.level ?? 0,
    pan: track.pan ?? 0,
    effects: track.effects,
  });
}

/** A new track, `index` from the bottom, on which things are seen and heard, or are not. */
export function trackStanding(
  plan: Plan,
  draft: Piece,
  inside: string | null,
  kind: Track['kind'],
  { seen, heard, level, pan, effects }: Standing,
  newId: () => string,
  index?: number,
): Lane {
  const made = newTrack(plan, draft, inside, kind, newId, undefined, index);
  const timeline = timelineOf(draft, inside);
  const track = timeline?.tracks.find((one) => one.id === made.track.id);
  if (!track || !timeline) return made;
  if (!heard) track.muted = true;
  if (level !== 0) track.level = level;
  if (pan !== 0) track.pan = pan;
  if (effects) track.effects = effects;
  if (!seen && kind === 'picture') track.hidden = true;
  if (heard && timeline.tracks.some((one) => one.solo)) track.solo = true;
  return made;
}

/** The track for the nest: the lowest of theirs on which all that was seen and heard still is, else a new one above the lowest. */
function homeFor(plan: Plan, draft: Piece, lanes: readonly Lane[], standing: (lane: Lane) => Standing, newId: () => string): Lane {
  const kind = lanes.some((lane) => lane.track.kind === 'picture') ? 'picture' : 'sound';
  const same = lanes.filter((lane) => lane.track.kind === kind);
  const seen = same.some((lane) => standing(lane).seen);
  const heard = lanes.some((lane) => standing(lane).heard);
  // What its tracks do to pictures, loudness and side is done inside; the nest's own track must not do it again.
  const plain = ({ level, pan }: Standing) => level === 0 && pan === 0;
  const fits = same.find(
    (lane) => !standing(lane).effects && (!seen || standing(lane).seen) && (!heard || (standing(lane).heard && plain(standing(lane)))),
  );
  if (fits) return fits;
  const [lowest] = same as [Lane];
  const { inside } = lowest;
  return trackStanding(
    plan,
    draft,
    inside,
    kind,
    { seen, heard, level: 0, pan: 0, effects: undefined },
    newId,
    plan.lanesOf(inside).indexOf(lowest) + 1,
  );
}

/** A clip that comes in by a plain cut. */
function without({ transition: _, ...plain }: Clip): Clip {
  return plain;
}

/** The clip of the nest's own track that comes in over one that stays outside: the nest itself then comes in so. */
function metOutside(home: Lane, all: readonly Found[], start: Flicks): Clip | undefined {
  const own = all.find(({ lane, clip }) => lane === home && clip.start === start)?.clip;
  const joined = home.clips.some((clip) => clipEnd(clip) === start && !all.some((one) => one.clip.id === clip.id));
  return own?.transition !== undefined && joined ? own : undefined;
}

/** The sound edges of the nest: those with which the clips on its own track begin and end. */
function edgesOf(home: Lane, all: readonly Found[], start: Flicks, end: Flicks): Pick<Clip, 'lead' | 'trail' | 'blend'> {
  const own = all.filter((one) => one.lane === home).map(({ clip }) => clip);
  const head = own.find((clip) => clip.start === start);
  const tail = own.find((clip) => clipEnd(clip) === end);
  return {
    ...(head && soundSpan(head).start < start ? { lead: head.lead, ...(head.blend ? { blend: head.blend } : {}) } : {}),
    ...(tail && soundSpan(tail).end > end ? { trail: tail.trail } : {}),
  };
}

/** Renames a nest. */
export const renameNest = defineEdit({
  params: z.object({ nest: z.string(), name: z.string().trim().min(1).max(200) }),
  title: ({ name }) => `Rename nest to ${name}`,
  apply(draft: Piece, { nest: id, name }) {
    const inner = draft.nests?.[id];
    if (!inner) throw new EditRefused('That nest is no longer in the piece.');
    inner.name = name;
  },
});
