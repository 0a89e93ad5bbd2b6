import { z } from 'zod';
import { frameLength, type Flicks } from '../time';
import {
  Backdrop,
  Fit,
  hasPicture,
  isFile,
  isStill,
  LEVEL_MAX,
  LEVEL_MIN,
  MediaFacts,
  shelfOf,
  trackLength,
  type Clip,
  type Piece,
} from '../piece';
import { PropertyValues } from '../properties';
import { at, defineEdit, EditRefused } from './edit';
import { newTrack } from './lanes';
import { Inside, ReachParam, Time } from './params';
import type { Lane, Plan, Reach } from './plan';

/** How long a photo stays when nobody has said: 3 s, in flicks. */
export const PHOTO_LENGTH = 3 * 705_600_000;

/** Whole frames of the piece that the material holds, in flicks. */
export function usableLength(piece: Pick<Piece, 'format'>, media: MediaFacts): number {
  const frame = frameLength(piece.format.rate);
  const whole = isStill({}, media) ? PHOTO_LENGTH : media.length;
  return Math.floor(whole / frame) * frame;
}

/** How a clip is set down: in free room (else refused), making room by moving the rest later, or covering what is there. */
export const How = z.enum(['place', 'insert', 'over']);
export type How = z.infer<typeof How>;

/** Gets a stretch of a lane ready for something to be set down on it. @throws EditRefused when `place` finds no room */
export function clear(plan: Plan, lane: Lane, start: Flicks, length: Flicks, how: How, reach: Reach): void {
  if (plan.isFree(lane, start, start + length)) return;
  if (how === 'place') throw new EditRefused('There is not enough room there.');
  if (how === 'over') plan.cover([lane], start, start + length);
  else plan.open(plan.reach([lane], reach), start, length);
}

/** Adds a stretch of a media item to a track. */
export const add = defineEdit({
  params: z.object({
    /** The track; null for a new one on top of its kind, or, with `top`, the one that is on top of its kind already. */
    track: z.string().nullable(),
    top: z.boolean().default(false),
    inside: Inside,
    media: MediaFacts,
    /** Where on the timeline, in flicks; null for the end of the track. */
    at: Time.nullable(),
    how: How.default('insert'),
    tracks: ReachParam,
    /** Of a video with sound: both, or one alone. Sound alone goes on a sound track. */
    parts: z.enum(['both', 'picture', 'sound']).default('both'),
    /** The stretch of material, in flicks. */
    from: z.number().int().nonnegative(),
    length: z.number().int().positive(),
    fit: Fit.default('fill'),
    backdrop: Backdrop.default('blur'),
    level: z.number().min(LEVEL_MIN).max(LEVEL_MAX).default(0),
    /** Other properties that it has from the start. */
    values: PropertyValues.default({}),
  }),
  title: ({ media, parts }) => `Add ${parts === 'sound' ? 'the sound of ' : parts === 'picture' ? 'the picture of ' : ''}${media.name}`,
  apply(draft, params, { plan, newId }) {
    const { media, parts } = params;
    const sound = parts === 'sound' || !hasPicture(media);
    const lane = laneFor(plan, draft, params, sound ? 'sound' : 'picture', newId);
    const { kind } = lane.track;
    if (kind === 'picture' && sound) throw new EditRefused(`“${media.name}” has no picture; it goes on a sound track.`);
    if (kind === 'sound' && !media.hasSound) throw new EditRefused(`“${media.name}” has no sound; it goes on the picture track.`);
    if (!isStill({}, media) && params.from + params.length > media.length)
      throw new EditRefused(`“${media.name}” is only ${at(draft, media.length)} long.`);
    const start = params.at ?? trackLength(lane);
    bringIn(plan, draft, media);
    clear(plan, lane, start, params.length, params.how, params.tracks);
    const clip: Clip = {
      id: newId(),
      media: media.id,
      name: media.name,
      start,
      length: params.length,
      from: params.from,
      fit: params.fit,
      backdrop: params.backdrop,
      level: params.level,
      ...params.values,
    };
    if (kind === 'picture' && parts === 'picture') clip.silent = true;
    plan.put(lane, clip);
  },
});

function laneFor(
  plan: Plan,
  draft: Piece,
  { track, top, inside }: { track: string | null; top: boolean; inside: string | null },
  kind: 'picture' | 'sound',
  newId: () => string,
): Lane {
  if (track !== null) return plan.lane(track);
  const highest = top ? plan.lanesOf(inside).findLast((lane) => lane.track.kind === kind) : undefined;
  return highest ?? newTrack(plan, draft, inside, kind, newId);
}

/** Makes a media item known to the piece, and puts it on its shelf. */
export function bringIn(plan: Plan, draft: Piece, media: MediaFacts): void {
  draft.media[media.id] ??= media;
  plan.learn(media);
  onShelf(draft, media);
}

/** Puts a media item on the piece's shelf unless it is there. */
export function onShelf(draft: Piece, media: MediaFacts): void {
  if (!isFile(media) || (draft.shelf && draft.shelf.some((entry) => entry.media.id === media.id))) return;
  if (!draft.shelf) draft.shelf = shelfOf(draft).map((entry) => ({ ...entry }));
  if (!draft.shelf.some((entry) => entry.media.id === media.id)) draft.shelf.push({ media, ranges: [], markers: [] });
}
