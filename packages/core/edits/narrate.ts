import { z } from 'zod';
import { clipEnd, materialEnd, MediaFacts, Take, takesWith, timelineOf, type Clip, type Piece } from '../piece';
import { frameLength } from '../time';
import { bringIn, clear, usableLength } from './add';
import { clipName, defineEdit, EditRefused } from './edit';
import { newTrack } from './lanes';
import { Inside } from './params';
import type { Lane, Plan } from './plan';

/** Puts a take on the shelf, with what it was spoken to. */
function shelveTake(plan: Plan, draft: Piece, media: MediaFacts, take: Take): void {
  bringIn(plan, draft, media);
  const entry = draft.shelf?.find((one) => one.media.id === media.id);
  if (entry) entry.take = take;
}

/** The track that takes lie on: that of the clip it is there instead of, the first that has one, or an empty one for speech; else a new one. */
function takesLane(plan: Plan, draft: Piece, inside: string | null, instead: string | null, newId: () => string): Lane {
  const lanes = plan.lanesOf(inside).filter(({ track }) => track.kind === 'sound' && !track.locked);
  const takes = new Set((draft.shelf ?? []).flatMap((entry) => (entry.take ? [entry.media.id] : [])));
  const own = instead !== null && plan.has(instead) ? plan.find(instead).lane : null;
  const there =
    lanes.find((lane) => lane === own) ??
    lanes.find(({ clips }) => clips.some((clip) => takes.has(clip.media))) ??
    lanes.find(({ track, clips }) => track.role === 'speech' && clips.length === 0);
  if (there) return there;
  const lane = newTrack(plan, draft, inside, 'sound', newId, 'Narration');
  const track = timelineOf(draft, inside)?.tracks.find((one) => one.id === lane.track.id);
  if (track) track.role = 'speech';
  return lane;
}

/**
 * Takes in a narration that was recorded: on the shelf, and on the timeline where it was spoken, on the track of the takes, covering
 * what is there. Nothing else moves.
 */
export const narrate = defineEdit({
  params: z.object({
    inside: Inside,
    /** What was recorded; the material begins at the moment of the timeline that it was spoken to. */
    media: MediaFacts,
    take: Take,
    /** The clip of an earlier take that this one is there instead of. */
    instead: z.string().max(120).nullable().default(null),
  }),
  title: ({ media }) => `Record ${media.name}`,
  apply(draft, { inside, media, take, instead }, { plan, newId }) {
    const length = usableLength(draft, media);
    if (!media.hasSound || length === 0) throw new EditRefused('It is shorter than one frame.');
    const lane = takesLane(plan, draft, inside, instead, newId);
    if (instead !== null && plan.has(instead)) plan.remove(instead);
    shelveTake(plan, draft, media, take);
    clear(plan, lane, take.at, length, 'over', 'own');
    const plain: Pick<Clip, 'fit' | 'backdrop' | 'level'> = { fit: 'fill', backdrop: 'blur', level: 0 };
    plan.put(lane, { id: newId(), media: media.id, name: media.name, start: take.at, length, from: 0, ...plain });
  },
});

/** Puts a recorded narration on the shelf alone: one that was cut off before it had a place. */
export const keepTake = defineEdit({
  params: z.object({ media: MediaFacts, take: Take }),
  title: ({ media }) => `Put ${media.name} on the shelf`,
  apply(draft, { media, take }, { plan }) {
    shelveTake(plan, draft, media, take);
  },
});

/**
 * Puts another take in the place of one, in step: what is heard at a moment is what was spoken to it. An end that was that of the old
 * take is that of the new one, as far as there is room; one that was trimmed stays.
 */
export const swapTake = defineEdit({
  params: z.object({ clip: z.string(), media: z.string() }),
  title: ({ clip, media }, piece) => `${piece.media[media]?.name ?? 'Another take'} instead of ${clipName(piece, clip)}`,
  apply(draft, { clip: id, media: wanted }, { plan }) {
    const { lane, clip } = plan.find(id);
    const old = plan.mediaOf(clip);
    const other = takesWith(draft, clip.media).find((entry) => entry.media.id === wanted)?.media;
    const media = other && (plan.mediaOf({ media: wanted }) ?? other);
    if (!old || !media) throw new EditRefused('That is no take of the same stretch.');
    bringIn(plan, draft, media);
    const frame = frameLength(draft.format.rate);
    const last = clip.start + Math.floor((materialEnd({ ...clip, media: wanted }, media) - clip.start) / frame) * frame;
    const whole = materialEnd(clip, old) - clipEnd(clip) < frame;
    const next = lane.clips.find((one) => one.start > clip.start)?.start ?? Infinity;
    const end = Math.min(whole ? last : Math.min(clipEnd(clip), last), next);
    if (end <= clip.start) throw new EditRefused(`“${media.name}” ends before this clip begins.`);
    plan.set(id, { media: wanted, name: clip.name === old.name ? media.name : clip.name, length: end - clip.start });
  },
});
