import { clipEnd, indexAt, isCaptions, keyTime, matesOf, soundSpan, timelines, timeOfKey, type Clip, type Timeline } from '../piece';
import { ascending, frameLength, type Flicks } from '../time';
import type { Lane, Plan } from './plan';

/** A stretch of time, in flicks. */
interface Span {
  start: Flicks;
  end: Flicks;
}

/** Where a caption is after an edit, and when the words begin that it is: it may begin a little earlier, over those before them. */
interface Placed extends Span {
  said: Flicks;
}

const lengthOf = ({ start, end }: Span) => end - start;
const shared = (one: Span, other: Span): Span => ({ start: Math.max(one.start, other.start), end: Math.min(one.end, other.end) });

/**
 * Captions go with what is said: wherever an edit took the words of a clip, to another time, to another speed, or away, it takes the captions
 * over them. Those that the edit moved itself, and those on locked tracks, stay as they are; so does what stands over nothing.
 */
export function captionsFollow(plan: Plan): void {
  for (const [inside, timeline] of timelines(plan.piece)) {
    const lanes = plan.lanesOf(inside);
    if (!lanes.some((lane) => lane.own && !isCaptions(lane.track))) continue;
    for (const lane of lanes) if (isCaptions(lane.track) && !lane.track.locked) followOn(plan, lane, timeline);
  }
}

function followOn(plan: Plan, lane: Lane, timeline: Timeline): void {
  const moved = new Map<string, Placed | null>();
  const said = new Map<string, Flicks>();
  const frame = frameLength(plan.piece.format.rate);
  const made = partsMade(plan, lane.inside);
  for (const before of lane.track.clips) {
    if (!plan.has(before.id)) continue;
    const now = plan.find(before.id);
    if (now.lane !== lane || now.clip.start !== before.start || now.clip.length !== before.length) continue;
    const over = { start: before.start, end: clipEnd(before), said: before.start };
    const carrier = carrierOf(timeline, over);
    const place = carrier ? placeAfter(plan, lane.inside, timeline, carrier, over, made) : over;
    if (place) said.set(before.id, Math.round(place.said / frame) * frame);
    if (place?.start !== over.start || place.end !== over.end) moved.set(before.id, place);
  }
  if (moved.size === 0) return;
  // Most only move, and by as much: that is cheaper than a change.
  const shifts = new Map<Flicks, string[]>();
  for (const [id, place] of moved) {
    const { start, length } = plan.find(id).clip;
    const by = (place?.start ?? start) - start;
    if (!place) plan.remove(id);
    else if (lengthOf(place) !== length) plan.set(id, { start: place.start, length: lengthOf(place) });
    else if (shifts.get(by)?.push(id) === undefined) shifts.set(by, [id]);
  }
  for (const [by, ids] of shifts) plan.shiftAlone(ids, by);
  plan.sort([lane]);
  giveWay(plan, lane, said, moved);
}

/**
 * The clip whose words a caption over a stretch is, or its sound that is detached: of the lowest track for pictures, or of those for speech,
 * where half as much of it is enough.
 */
function carrierOf(timeline: Timeline, over: Span): Clip | null {
  const { tracks } = timeline;
  const lowest = tracks.find((track) => track.kind === 'picture' && !isCaptions(track));
  let best: Clip | null = null;
  let most = 0;
  for (const { role, clips } of tracks.filter((track) => track.role === 'speech' || track === lowest))
    // Sound may reach past its picture: one clip more on either side.
    for (let i = Math.max(0, indexAt({ clips }, over.start) - 1); i < clips.length; i += 1) {
      const clip = clips[i] as Clip;
      const counts = lengthOf(shared(heardSpan(clip), over)) * (role === 'speech' ? 2 : 1);
      if (counts > most) [best, most] = [clip, counts];
      if (clip.start >= over.end) break;
    }
  return best?.silent ? (soundOf(timeline, best).find(({ silent }) => !silent) ?? best) : best;
}

/** The time in which a clip is seen or heard. */
function heardSpan(clip: Clip): Span {
  const { start, end } = soundSpan(clip);
  return { start: Math.min(start, clip.start), end: Math.max(end, clipEnd(clip)) };
}

/** The clips that the edit made of others on a timeline: halves, and sounds of their own. */
function partsMade(plan: Plan, inside: string | null): Clip[] {
  const lanes = plan.lanesOf(inside).filter((lane) => lane.own && !isCaptions(lane.track));
  return lanes.flatMap(({ clips }) => clips.filter(({ id }) => plan.originOf(id) !== id));
}

/** Where the words under a caption are after the edit, as the longest stretch of them that is whole; null when they are gone. */
function placeAfter(
  plan: Plan,
  inside: string | null,
  timeline: Timeline,
  carrier: Clip,
  over: Placed,
  made: readonly Clip[],
): Placed | null {
  const same = plan.has(carrier.id) ? plan.find(carrier.id) : null;
  // Other material in its place, or in a nest now: nobody can say where the words went.
  if (same && (same.clip.media !== carrier.media || same.lane.inside !== inside)) return over;
  const words = shared(heardSpan(carrier), over);
  const mates = soundOf(timeline, carrier);
  const candidates = [
    ...(same ? [same.clip] : []),
    ...mates.flatMap(({ id }) => (plan.has(id) && plan.find(id).lane.inside === inside ? [plan.find(id).clip] : [])),
    ...made.filter(({ id }) => [carrier, ...mates].some((one) => one.id === plan.originOf(id))),
  ];
  const heard = candidates.filter(({ silent }) => !silent);
  const frame = frameLength(plan.piece.format.rate);
  const [from, to] = [keyTime(carrier, words.start), keyTime(carrier, words.end)];
  const stretches = (heard.length > 0 ? heard : candidates).map((clip) => {
    const [start, end] = ascending(timeOfKey(clip, from), timeOfKey(clip, to));
    const kept = shared(heardSpan(clip), { start, end });
    return { kept, whole: { start, end } };
  });
  const runs = joined(stretches.map(({ kept }) => kept).filter((kept) => lengthOf(kept) > 0));
  const run = runs.reduce<Span | null>((best, one) => (best && lengthOf(best) >= lengthOf(one) ? best : one), null);
  if (!run) return null;
  const said = run.start;
  if (said === words.start && run.end === words.end) return { ...over, said };
  // What stands over the ends of the words on either side goes on doing so, where the words themselves are whole there; less, as they get less.
  const share = Math.min(1, lengthOf(run) / lengthOf(words));
  const head = stretches.some(({ whole }) => whole.start === run.start) ? share * (words.start - over.start) : 0;
  const tail = stretches.some(({ whole }) => whole.end === run.end) ? share * (over.end - words.end) : 0;
  return { ...onFrames(run.start - head, run.end + tail, frame), said };
}

/** A stretch on whole frames; of one that is shorter than any, the frame that it lies in. */
function onFrames(start: Flicks, end: Flicks, frame: Flicks): Span {
  const [first, last] = [Math.max(0, Math.round(start / frame)), Math.round(end / frame)];
  if (first < last) return { start: first * frame, end: last * frame };
  const one = Math.max(0, Math.floor((start + end) / 2 / frame));
  return { start: one * frame, end: (one + 1) * frame };
}

/** What is linked with a clip and plays the same material. */
const soundOf = (timeline: Timeline, clip: Clip): Clip[] => matesOf(timeline, clip).filter(({ media }) => media === clip.media);

/** Stretches in order, those that touch as one. */
function joined(stretches: readonly Span[]): Span[] {
  const runs: Span[] = [];
  for (const one of [...stretches].sort((a, b) => a.start - b.start)) {
    const last = runs.at(-1);
    if (last && one.start <= last.end) last.end = Math.max(last.end, one.end);
    else runs.push({ ...one });
  }
  return runs;
}

/**
 * None over another, in the order in which they are said: what one stands over before its own words gives way first, then the earlier one ends
 * there. Where nothing of one would be left, the one stays that stood there, or is said first.
 */
function giveWay(plan: Plan, lane: Lane, said: ReadonlyMap<string, Flicks>, moved: ReadonlyMap<string, unknown>): void {
  const when = (clip: Clip) => said.get(clip.id) ?? clip.start;
  let before: Clip | null = null;
  for (const clip of [...lane.clips].sort((a, b) => when(a) - when(b))) {
    if (before && clipEnd(before) > clip.start) {
      const start = Math.min(clipEnd(before), Math.max(clip.start, when(clip)));
      if (start > before.start && start < clipEnd(clip)) {
        if (start < clipEnd(before)) plan.set(before.id, { length: start - before.start });
        if (start > clip.start) plan.set(clip.id, { start, length: clipEnd(clip) - start });
      } else if (moved.has(clip.id)) {
        plan.remove(clip.id);
        continue;
      } else plan.remove(before.id);
    }
    before = plan.find(clip.id).clip;
  }
  plan.sort([lane]);
}
