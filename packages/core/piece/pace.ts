import { ascending, FLICKS_PER_SECOND, toSamples, type Flicks } from '../time';
import { clipEnd, type Clip } from './clip';
import type { MediaFacts } from './media';

/**
 * How a clip goes through its material. This file is the only one that knows: whoever wants to know which moment of the material
 * shows when, cuts a clip, or makes it longer, asks here.
 */
export type Pace =
  /** So many times as fast as the material; below 0, from its end to its beginning. */
  | { kind: 'even'; speed: number }
  /** One moment of the material (flicks) throughout. */
  | { kind: 'frozen'; moment: Flicks };

type Stretch = Pick<Clip, 'start' | 'length' | 'from' | 'hold' | 'speed'>;

/** Going backwards, what shows at a moment is what was there just before it: past what containers round a frame's time to. Flicks. */
const JUST_BEFORE: Flicks = FLICKS_PER_SECOND / 500;

const OWN_PACE: Pace = { kind: 'even', speed: 1 };

/** The pace of a clip. */
export function paceOf(clip: Pick<Clip, 'hold' | 'speed'>): Pace {
  if (clip.hold !== undefined) return { kind: 'frozen', moment: clip.hold };
  return clip.speed === undefined ? OWN_PACE : { kind: 'even', speed: clip.speed };
}

/** How many times as fast as its material a clip runs, below 0 backwards; 1 where it stands still. */
export function speedOf(clip: Pick<Clip, 'hold' | 'speed'>): number {
  const pace = paceOf(clip);
  return pace.kind === 'even' ? pace.speed : 1;
}

/** Whether a clip shows one moment throughout, and so can be as long as one likes. */
export function isStill(clip: Pick<Clip, 'hold'>, media: Pick<MediaFacts, 'kind'> | undefined): boolean {
  return paceOf(clip).kind === 'frozen' || media?.kind === 'photo' || media?.kind === 'overlay';
}

/** The moment of the material that a clip shows (or would, outside its ends) at a time of the timeline. Flicks. */
export function materialAt(clip: Stretch, time: Flicks): Flicks {
  const pace = paceOf(clip);
  if (pace.kind === 'frozen') return pace.moment;
  return keyTime(clip, time) - (pace.speed < 0 ? JUST_BEFORE : 0);
}

/** Where on its material's clock a clip is at a time of the timeline: what its keys are placed by, also where it stands still. Flicks. */
export function keyTime(clip: Stretch, time: Flicks): Flicks {
  return clip.from + Math.round((time - clip.start) * speedOf(clip));
}

/** The time of the timeline at which a key at a moment of the material's clock lies, also where the clip stands still. Flicks. */
export function timeOfKey(clip: Stretch, moment: Flicks): Flicks {
  return clip.start + Math.round((moment - clip.from) / speedOf(clip));
}

/** The time of the timeline at which a clip shows (or would show) a moment of its material: its start, when it is frozen. Flicks. */
export function timelineAt(clip: Stretch, moment: Flicks): Flicks {
  return paceOf(clip).kind === 'frozen' ? clip.start : timeOfKey(clip, moment);
}

/** Where the start of a clip's material would lie on the timeline: what stays while it is cut and trimmed, equal for clips in step. Flicks. */
export function materialStart(clip: Stretch): Flicks {
  const speed = speedOf(clip);
  // First the difference, which cutting leaves as it is to the flick, then one rounding; adding 0 makes −0 a 0.
  return speed === 1 ? clip.start - clip.from : Math.round(Math.round(clip.start * speed - clip.from) / speed) + 0;
}

/** Where in its material a clip begins, as a person says it, in flicks. */
export function materialIn(clip: Stretch): Flicks {
  return clip.from;
}

/** How much material a clip goes through, in flicks. */
export function materialUsed(clip: Stretch): Flicks {
  return Math.round(clip.length * Math.abs(speedOf(clip)));
}

/** The stretch of its material that a clip goes through, whichever way: where it begins and ends there, in flicks. */
export function materialSpan(clip: Stretch): { from: Flicks; to: Flicks } {
  const used = materialUsed(clip);
  return speedOf(clip) < 0 ? { from: clip.from - used, to: clip.from } : { from: clip.from, to: clip.from + used };
}

/** The same place and length over another stretch of material, which begins there at the earlier end. Flicks. */
export function overMaterial(clip: Stretch, begins: Flicks): Pick<Clip, 'from'> {
  return { from: speedOf(clip) < 0 ? begins + materialUsed(clip) : begins };
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

/** Material left before and after the stretch a clip uses, as it would be seen if the clip were pulled there, in flicks of the material; a still has no end to it. */
export function unusedMaterial(clip: Stretch, media: MediaFacts | undefined): { head: Flicks; tail: Flicks } {
  if (!media || isStill(clip, media)) return { head: Infinity, tail: Infinity };
  const { from, to } = materialSpan(clip);
  const [early, late] = [from, Math.max(0, media.length - to)];
  return speedOf(clip) < 0 ? { head: late, tail: early } : { head: early, tail: late };
}

/** The same as time of the timeline: how much longer it would last at the clip's pace. Flicks. */
export function unusedOnTimeline(clip: Stretch, media: MediaFacts | undefined): { head: Flicks; tail: Flicks } {
  const { head, tail } = unusedMaterial(clip, media);
  const lasts = (material: Flicks) => Math.floor(material / Math.abs(speedOf(clip)));
  return { head: lasts(head), tail: lasts(tail) };
}

/** How far a clip's ends can be pulled outwards, in flicks of the timeline: a nest may be made longer than its inside, which is then empty. */
export function roomToPull(clip: Stretch, media: MediaFacts | undefined): { head: Flicks; tail: Flicks } {
  const room = unusedOnTimeline(clip, media);
  if (media?.kind !== 'nest') return room;
  return speedOf(clip) < 0 ? { ...room, head: Infinity } : { ...room, tail: Infinity };
}

/** How far a clip's material can be moved within it, towards what is earlier and later there, in flicks of the material. */
export function roomToSlip(clip: Stretch, media: MediaFacts | undefined): { earlier: Flicks; later: Flicks } {
  const { head, tail } = unusedMaterial(clip, media);
  const [earlier, later] = speedOf(clip) < 0 ? [tail, head] : [head, tail];
  return { earlier, later: media?.kind === 'nest' ? Infinity : later };
}

/** What is wrong with where a clip lies in its material, as the end of a sentence that begins with its name; null when nothing is. */
export function outsideMaterial(clip: Clip, media: MediaFacts): string | null {
  if (!Number.isSafeInteger(clip.from)) return 'starts between moments of its material';
  if (isStill(clip, media)) return null;
  const { from, to } = materialSpan(clip);
  if (from < 0) return 'starts before its material';
  return media.kind !== 'nest' && to > media.length ? 'runs past its material' : null;
}

/** The whole of a clip's material on the grid of its frames, as far as it holds whole frames; `start` stays. Flicks. */
export function allMaterial(clip: Clip, media: MediaFacts, frame: Flicks): Pick<Clip, 'length' | 'from'> {
  const speed = speedOf(clip);
  const step = Math.round(frame * Math.abs(speed));
  if (speed < 0) {
    const from = clip.from + Math.floor((media.length - clip.from) / step) * step;
    return { from, length: Math.floor(from / step) * frame };
  }
  const from = clip.from - Math.floor(clip.from / step) * step;
  return { from, length: Math.floor((media.length - from) / step) * frame };
}

/** The end of a clip's whole material on the timeline, were it all shown. Flicks. */
export function materialEnd(clip: Clip, media: MediaFacts): Flicks {
  return isStill(clip, media) ? clipEnd(clip) : timelineAt(clip, speedOf(clip) < 0 ? 0 : media.length);
}

/** The same stretch moved into other material where it runs past its ends; as long as the material holds it. */
export function intoMaterial(clip: Clip, media: MediaFacts): Pick<Clip, 'from'> {
  return overMaterial(clip, Math.max(0, Math.min(materialSpan(clip).from, media.length - materialUsed(clip))));
}

/** A clip within a nest as it lies on the timeline on which a clip of that nest stands: where, how long, how fast. */
export function seenThrough(outer: Stretch, inner: Clip): Clip {
  const [start, end] = ascending(timeOfKey(outer, inner.start), timeOfKey(outer, clipEnd(inner)));
  const lying: Clip = { ...inner, start, length: end - start };
  const speed = speedOf(outer);
  return speed === 1 ? lying : { ...lying, speed: speedOf(inner) * speed, from: speed < 0 ? keyTime(inner, clipEnd(inner)) : inner.from };
}
