import {
  clipEnd,
  keyTime,
  meetingsOf,
  paceOf,
  seenTracks,
  speedOf,
  timeOfKey,
  timelines,
  type Clip,
  type Piece,
  type Timeline,
  type Track,
} from '../piece';
import {
  changesThroughout,
  evaluate,
  isBlended,
  isMovingTitle,
  motionLengths,
  pictureLayers,
  type Layer,
  type PictureRef,
  type Rect,
} from '../frame';
import { effectsOn, isChanging, keyMoments, type Effects } from '../properties';
import { plainBase } from './steps';
import { timeless, wayOf, type Run, type Way } from './ways';
import { ascending, frameAt, frameLength, type Flicks } from '../time';

/** A segment is at most this many frames, so that long clips render in parallel and a small change costs little. */
export const SEGMENT_FRAMES = 300;

/** The same where pixels are worked out here, on one core for each segment. */
const DRAWN_FRAMES = 120;

/** The same where a picture runs backwards: all its frames are held, to be turned round. */
const BACKWARDS_FRAMES = 30;

/** A picture of a segment. */
export interface NeededPicture {
  /** As it is at the first frame that shows it. */
  picture: PictureRef;
  /** Where it is drawn where it is largest, or how large it is as a backdrop. */
  rect: Rect;
  first: number;
  frames: number;
}

/** A stretch of the export between two edit points (or a part of a long one), in frames of the piece. */
export interface Segment {
  start: number;
  frames: number;
  /** What is drawn, frame after frame: only the times of the pictures change within a run, at the pace of the piece. */
  runs: Run[];
  /** Every picture that it shows, with the frames of the segment from which on and for how long it is needed. */
  pictures: NeededPicture[];
  way: Way;
}

/** The fewest frames that stand still before or after a change that are worth a segment of their own. */
const STILL_FRAMES = 12;

/** The frames within a clip up to which nothing of it has changed yet, and from which on nothing does any more. */
function stillEnds(clip: Clip, frame: Flicks): Flicks[] {
  const times = keyMoments(clip).map((at) => timeOfKey(clip, at));
  const frames = [Math.floor((times[0] ?? 0) / frame), Math.ceil((times.at(-1) ?? 0) / frame)];
  const least = STILL_FRAMES * frame;
  return frames.map((n) => n * frame).filter((time) => time >= clip.start + least && time <= clipEnd(clip) - least);
}

/** The frames within a clip at which its title has come in, and begins to go. */
function motionEnds(clip: Clip, frame: Flicks): Flicks[] {
  if (changesThroughout(clip)) return [];
  const { in: coming, out: going } = motionLengths(clip);
  const times = [clip.start + Math.ceil(coming / frame) * frame, clipEnd(clip) - Math.ceil(going / frame) * frame];
  return times.filter((time) => time > clip.start && time < clipEnd(clip));
}

/** The times at which what is drawn changes: clip starts and ends on the picture tracks that are seen, within nests too, where it is cut into parts, and the end; ascending. */
export function editPoints(piece: Piece, end: Flicks, cuts: readonly Flicks[] = []): Flicks[] {
  const frame = frameLength(piece.format.rate);
  const points = new Set<Flicks>([0, ...cuts, end]);
  // A time within a nest at another pace lies between frames of the piece: what changes there is seen from the next one on.
  const visit = (timeline: Timeline, from: Flicks, to: Flicks, outside: (time: Flicks) => Flicks): void => {
    const note = (time: Flicks) => time > from && time < to && points.add(Math.ceil(outside(time) / frame) * frame);
    for (const track of seenTracks(timeline)) {
      const meetings = meetingsOf(track, frame);
      for (const { from: begins, to: ends } of meetings) for (const time of [begins, ends]) note(time);
      const joined = new Set(meetings.flatMap(({ before, after }) => (before && after ? [after.start] : [])));
      for (const clip of track.clips) {
        for (const time of [clip.start, clipEnd(clip)]) if (!joined.has(time)) note(time);
        if (isChanging(clip)) for (const time of stillEnds(clip, frame)) note(time);
        if (isMovingTitle(clip)) for (const time of motionEnds(clip, frame)) note(time);
        const nest = piece.nests?.[clip.media];
        if (!nest || paceOf(clip).kind === 'frozen' || clip.start >= to || clipEnd(clip) <= from) continue;
        const inside = ascending(keyTime(clip, Math.max(from, clip.start)), keyTime(clip, Math.min(to, clipEnd(clip))));
        visit(nest, ...inside, (time) => outside(timeOfKey(clip, time)));
      }
    }
  };
  visit(piece, 0, end, (time) => time);
  return [...points].sort((a, b) => a - b);
}

/** Cuts frames [first, first + count) where the material, not the timeline, reaches a multiple of the segment length: a trimmed head leaves later segments as they were. */
function subdivide(first: number, count: number, sourceFrame: number, most: number): { start: number; frames: number }[] {
  const parts: { start: number; frames: number }[] = [];
  let done = 0;
  while (done < count) {
    const untilBoundary = most - ((sourceFrame + done) % most);
    const frames = count - done <= untilBoundary + most / 4 ? count - done : untilBoundary;
    parts.push({ start: first + done, frames });
    done += frames;
  }
  return parts;
}

/** What is drawn in frames [start, start + frames): one run where nothing changes but the time of the material. */
function runsOf(piece: Piece, start: number, frames: number, changing: boolean): Run[] {
  const frame = frameLength(piece.format.rate);
  const runs: Run[] = [];
  let last = '';
  let began = 0;
  for (let n = 0; n < (changing ? frames : 1); n += 1) {
    const { layers } = evaluate(piece, (start + n) * frame);
    const alike = JSON.stringify(layers.map((layer) => timeless(layer, (n - began) * frame)));
    const run = runs.at(-1);
    if (run && alike === last) run.frames += 1;
    else {
      runs.push({ frames: 1, layers });
      began = n;
      last = JSON.stringify(layers);
    }
  }
  const [only] = runs;
  if (!changing && only) only.frames = frames;
  return runs;
}

/** The pictures of runs, each once, with the frames they are needed for. */
function picturesOf(runs: readonly Run[]): NeededPicture[] {
  const needed = new Map<string, NeededPicture>();
  const behind = new Set<string>();
  let n = 0;
  for (const run of runs) {
    for (const { picture, rect, kind } of pictureLayers(run.layers)) {
      const known = needed.get(picture.clip);
      if (!known) {
        needed.set(picture.clip, { picture, rect, first: n, frames: run.frames });
        if (kind === 'backdrop') behind.add(picture.clip);
        continue;
      }
      known.frames = n + run.frames - known.first;
      if (kind !== 'picture') continue;
      if (behind.delete(picture.clip) || rect.width > known.rect.width) known.rect = rect; // not that of its backdrop
    }
    n += run.frames;
  }
  return [...needed.values()];
}

/** Grain is another one in every frame. */
const isGrainy = (effects: Effects | undefined) => effectsOn(effects).some(({ kind }) => kind === 'grain');

/** What a nest at another pace shows changes between frames of the piece. */
const isNestAtPace = (piece: Piece, clip: Clip) => speedOf(clip) !== 1 && piece.nests?.[clip.media] !== undefined;

/** Whether anything but the passing of time changes what a track shows from one frame to the next. */
const isChangingTrack = (piece: Piece, track: Track) =>
  isGrainy(track.effects) ||
  track.clips.some(
    (clip) =>
      isNestAtPace(piece, clip) ||
      isBlended(clip) ||
      isChanging(clip) ||
      isGrainy(clip.effects) ||
      clip.transition !== undefined ||
      clip.ending !== undefined ||
      isMovingTitle(clip),
  );

/** The segments of a piece, in order and without gaps; one ends at each of `cuts` (on frames of the piece). */
export function planSegments(piece: Piece, length: Flicks, cuts: readonly Flicks[] = []): Segment[] {
  const frame = frameLength(piece.format.rate);
  const points = editPoints(piece, length, cuts);
  const changing =
    isGrainy(piece.effects) || timelines(piece).some(([, timeline]) => seenTracks(timeline).some((track) => isChangingTrack(piece, track)));
  const segments: Segment[] = [];
  points.slice(0, -1).forEach((from, i) => {
    const to = points[i + 1] as Flicks;
    const { layers } = evaluate(piece, from);
    const shown = pictureLayers(layers).map(({ picture }) => picture);
    const [first] = shown;
    const backwards = shown.some(({ pace = 1 }) => pace < 0);
    const most = backwards ? BACKWARDS_FRAMES : plainBase(layers)?.effects.length === 0 ? SEGMENT_FRAMES : DRAWN_FRAMES;
    const sourceFrame = first && !backwards ? frameAt(Math.round(first.time / (first.pace ?? 1)), piece.format.rate) : 0;
    for (const part of subdivide(from / frame, (to - from) / frame, sourceFrame, most)) {
      const runs = runsOf(piece, part.start, part.frames, changing);
      segments.push({ ...part, runs, pictures: picturesOf(runs), way: wayOf(runs, piece.format) });
    }
  });
  return segments;
}

/** Raised whenever the compositor draws the same description differently, so that no older segment is taken for a new one. */
const DRAWING = 9;

/** Objects with their fields in one order: a database gives them back in another than they were made in. */
const inOrder = (_key: string, value: unknown): unknown =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
    : value;

/** Everything that decides a segment's pixels, as text to be hashed. `contentOf` gives the hash of a media item's original bytes. */
export function segmentKey(piece: Piece, segment: Segment, contentOf: (media: string) => string, encoding: string): string {
  const { width, height, rate } = piece.format;
  const named = (layer: Layer): unknown => {
    if (layer.kind === 'group') return { ...layer, layers: layer.layers.map(named) };
    if (!('picture' in layer)) return layer;
    const { picture, ...rest } = layer;
    return {
      ...rest,
      content: contentOf(picture.media),
      time: picture.time,
      pace: picture.pace,
      still: picture.still,
      fields: picture.fields,
    };
  };
  const runs = segment.runs.map((run) => ({ frames: run.frames, layers: run.layers.map(named) }));
  return JSON.stringify({ drawing: DRAWING, width, height, rate, runs, encoding }, inOrder);
}
