import { toSamples, type Flicks } from '../time';
import { clipEnd, type Clip } from './clip';
import type { MediaFacts } from './media';

/**
 * How a clip goes through its material. This file is the only one that knows: whoever wants to know which moment of the material
 * shows when, cuts a clip, or makes it longer, asks here.
 */
export type Pace =
  /** So many times as fast as the material; above 0. */
  | { kind: 'even'; speed: number }
  /** One moment of the material (flicks) throughout. */
  | { kind: 'frozen'; moment: Flicks };

type Stretch = Pick<Clip, 'start' | 'length' | 'from' | 'hold'>;

const OWN_PACE: Pace = { kind: 'even', speed: 1 };

/** The pace of a clip. */
export function paceOf(clip: Pick<Clip, 'hold'>): Pace {
  return clip.hold === undefined ? OWN_PACE : { kind: 'frozen', moment: clip.hold };
}

/** Whether a clip shows one moment throughout, and so can be as long as one likes. */
export function isStill(clip: Pick<Clip, 'hold'>, media: Pick<MediaFacts, 'kind'> | undefined): boolean {
  return paceOf(clip).kind === 'frozen' || media?.kind === 'photo' || media?.kind === 'overlay';
}

/** Material gone through in a length of timeline; what is frozen only counts what was trimmed. Flicks. */
function throughIn(clip: Stretch, length: Flicks): Flicks {
  const pace = paceOf(clip);
  return pace.kind === 'even' ? Math.round(length * pace.speed) : length;
}

/** The moment of the material that a clip shows (or would, outside its ends) at a time of the timeline. Flicks. */
export function materialAt(clip: Stretch, time: Flicks): Flicks {
  const pace = paceOf(clip);
  return pace.kind === 'frozen' ? pace.moment : keyTime(clip, time);
}

/** Where on its material's clock a clip is at a time of the timeline: what its keys are placed by, also where it stands still. Flicks. */
export function keyTime(clip: Stretch, time: Flicks): Flicks {
  return clip.from + throughIn(clip, time - clip.start);
}

/** The time of the timeline at which a key at a moment of the material's clock lies, also where the clip stands still. Flicks. */
export function timeOfKey(clip: Stretch, moment: Flicks): Flicks {
  const pace = paceOf(clip);
  return clip.start + (pace.kind === 'even' ? Math.round((moment - clip.from) / pace.speed) : moment - clip.from);
}

/** The time of the timeline at which a clip shows (or would show) a moment of its material: its start, when it is frozen. Flicks. */
export function timelineAt(clip: Stretch, moment: Flicks): Flicks {
  const pace = paceOf(clip);
  return pace.kind === 'frozen' ? clip.start : clip.start + Math.round((moment - clip.from) / pace.speed);
}

/** Where the start of a clip's material would lie on the timeline: what stays while it is cut and trimmed, equal for clips in step. Flicks. */
export function materialStart(clip: Stretch): Flicks {
  const pace = paceOf(clip);
  return clip.start - (pace.kind === 'even' ? Math.round(clip.from / pace.speed) : clip.from);
}

/** Where in its material a clip begins, as a person says it, in flicks. */
export function materialIn(clip: Stretch): Flicks {
  return clip.from;
}

/** How much material a clip goes through, in flicks. */
export function materialUsed(clip: Stretch): Flicks {
  return throughIn(clip, clip.length);
}

/** The same clip with other ends on the timeline, showing the same moments at the same times: cut there, or grown. */
export function between(clip: Stretch, start: Flicks, end: Flicks): Pick<Clip, 'start' | 'length' | 'from'> {
  return { start, length: end - start, from: keyTime(clip, start) };
}

/** The same place and length with other material: later by so many flicks of it. */
export function slipped(clip: Stretch, by: Flicks): Pick<Clip, 'from'> {
  return { from: clip.from + by };
}

/** Whether one clip goes on in its material as the other does, so that a cut between them cannot be told. */
export function flowsOn(before: Clip, after: Clip): boolean {
  if (before.media !== after.media || materialStart(before) !== materialStart(after)) return false;
  const [one, two] = [paceOf(before), paceOf(after)];
  return one.kind === 'even' && two.kind === 'even' && one.speed === two.speed;
}

/**
 * The sample of the material that sounds at sample 0 of the timeline: sample n of the timeline is sample n + this of the material.
 * Rounded once, from what cutting leaves as it is, so that halves of a clip play the samples that the whole played.
 *
 * @param origin where the clip's timeline begins on the one whose samples are counted, in flicks
 */
export function sampleShift(clip: Stretch, origin: Flicks = 0): number {
  return -toSamples(materialStart(clip) + origin);
}

/** Material left before and after the stretch a clip uses, in flicks; a still has no end to it. */
export function unusedMaterial(clip: Stretch, media: MediaFacts | undefined): { head: Flicks; tail: Flicks } {
  if (!media || isStill(clip, media)) return { head: Infinity, tail: Infinity };
  return { head: clip.from, tail: Math.max(0, media.length - clip.from - materialUsed(clip)) };
}

/** How far a clip's ends can be pulled outwards, in flicks: a nest may be made longer than its inside, which is then empty. */
export function roomToPull(clip: Stretch, media: MediaFacts | undefined): { head: Flicks; tail: Flicks } {
  const { head, tail } = unusedMaterial(clip, media);
  return { head, tail: media?.kind === 'nest' ? Infinity : tail };
}

/** What is wrong with where a clip lies in its material, as the end of a sentence that begins with its name; null when nothing is. */
export function outsideMaterial(clip: Clip, media: MediaFacts): string | null {
  if (!Number.isSafeInteger(clip.from)) return 'starts between moments of its material';
  if (isStill(clip, media)) return null;
  if (clip.from < 0) return 'starts before its material';
  return media.kind !== 'nest' && clip.from + materialUsed(clip) > media.length ? 'runs past its material' : null;
}

/** The whole of a clip's material on the grid of its frames, as far as it holds whole frames; `start` stays. Flicks. */
export function allMaterial(clip: Clip, media: MediaFacts, frame: Flicks): Pick<Clip, 'length' | 'from'> {
  const from = clip.from - Math.floor(clip.from / frame) * frame;
  return { from, length: Math.floor((media.length - from) / frame) * frame };
}

/** The end of a clip's whole material on the timeline, were it all shown. Flicks. */
export function materialEnd(clip: Clip, media: MediaFacts): Flicks {
  return isStill(clip, media) ? clipEnd(clip) : timelineAt(clip, media.length);
}

/** The same stretch moved into other material where it runs past its ends; as long as the material holds it. */
export function intoMaterial(clip: Clip, media: MediaFacts): Pick<Clip, 'from'> {
  return { from: Math.max(0, Math.min(clip.from, media.length - materialUsed(clip))) };
}
