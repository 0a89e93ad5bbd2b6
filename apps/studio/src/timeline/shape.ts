import {
  BLEND_MAX,
  crossfadeRoom,
  keyTime,
  LEVEL_MAX,
  LEVEL_MIN,
  seamAt,
  soundSpan,
  speedOf,
  clipEnd,
  timelineAt,
  timeOfKey,
  type Clip,
  type Piece,
} from '@flimzy/core/piece';
import {
  FADE_MAX,
  points,
  sayFade,
  sayLevel,
  TRANSITION_MAX,
  TRANSITION_NAMES,
  valueAt,
  valueOf,
  withinLevels,
  type PropertyValues,
} from '@flimzy/core/properties';
import { FLICKS_PER_SECOND, formatTimecode, frameLength, toGrid } from '@flimzy/core/time';
import { edit, moveTo, useEditor } from '../open/editor';
import { keysMoved } from '../open/framing';
import { openPanel } from '../open/panels';
import { attempt, refused, type Hold, type Trial } from './trial';

/** What can be pulled on the shape of a clip's sound. */
const HANDLES = ['blend', 'fade-in', 'fade-out', 'point', 'line', 'key', 'meet', 'meet-end'] as const;
export type ShapeHandle = (typeof HANDLES)[number];
export const isShape = (handle: string | null): handle is ShapeHandle => HANDLES.some((one) => one === handle);

/** Pixels between the line of full level and the edges of a clip. */
const INSET = 7;

/** Where a level (dB) is drawn across a clip: silence on the left, the loudest on the right. */
export const acrossFor = (level: number, width: number) =>
  INSET + ((Math.max(LEVEL_MIN, Math.min(LEVEL_MAX, level)) - LEVEL_MIN) / (LEVEL_MAX - LEVEL_MIN)) * (width - INSET * 2);

/** dB for a pixel across. */
const levelPerPixel = (width: number) => (LEVEL_MAX - LEVEL_MIN) / Math.max(10, width - INSET * 2);

/** Sets properties of one clip while a finger holds them. */
function setting(clip: Clip, values: PropertyValues, title: string, note: string): Trial {
  const tried = attempt('set', { clips: [clip.id], values });
  if (typeof tried === 'string') return refused(tried, [clip.id], 'trim');
  return { commit: tried.commit, show: { clips: [clip.id], kind: 'trim', title, note, caught: null, shift: 0, stirred: new Set() } };
}

const HUNDREDTH = FLICKS_PER_SECOND / 100;

/** The end of a fade pulled along the clip. */
function pullFade(clip: Clip, handle: 'fade-in' | 'fade-out', { by }: Hold): Trial {
  const field = handle === 'fade-in' ? 'fadeIn' : 'fadeOut';
  const span = soundSpan(clip);
  const wish = valueOf(clip, field) + (handle === 'fade-in' ? by : -by);
  const length = Math.round(Math.max(0, Math.min(wish, span.end - span.start, FADE_MAX)) / HUNDREDTH) * HUNDREDTH;
  return setting(clip, { [field]: length }, `Fade ${handle === 'fade-in' ? 'in' : 'out'} ${sayFade(length)}`, 'no clip moves');
}

/** A crossfade pulled open, upwards, at the join where a clip's sound begins: half of it lies on either side. */
function pullBlend(piece: Piece, clip: Clip, { by }: Hold): Trial {
  const seam = seamAt(piece, clip.id);
  const room = seam ? crossfadeRoom(piece, seam) : 0;
  const wish = Math.max(0, Math.min(BLEND_MAX, Math.round(((clip.blend ?? 0) - 2 * by) / HUNDREDTH) * HUNDREDTH));
  const tried = attempt('crossfade', { clips: [clip.id], length: wish });
  if (typeof tried === 'string') return refused(tried, [clip.id], 'trim');
  const note = wish > room ? 'No more material on both sides' : 'no clip moves';
  const title = wish === 0 ? 'No crossfade' : `Crossfade ${sayFade(Math.min(wish, room))}`;
  return { commit: tried.commit, show: { clips: [clip.id], kind: 'trim', title, note, caught: null, shift: 0, stirred: new Set() } };
}

/** A point of the envelope, pulled along in time and across in level. */
function pullPoint(piece: Piece, clip: Clip, n: number, { by, across }: Hold, width: number): Trial {
  const louder = across * levelPerPixel(width);
  const envelope = points.movedPoint(valueOf(clip, 'envelope'), n, Math.round(by * speedOf(clip)), louder);
  const key = points.pointsOf(envelope)[n];
  if (!key) return refused('That point is gone.', [clip.id], 'trim');
  const at = formatTimecode(Math.max(0, timelineAt(clip, key.at)), piece.format.rate);
  return setting(clip, { envelope }, `${sayLevel(clip.level + key.value)} at ${at}`, 'point of the envelope; touch it to take it away');
}

/** The line itself pulled across: between two points those two, else the whole level. */
function pullLine(clip: Clip, time: number, { across }: Hold, width: number): Trial {
  const louder = across * levelPerPixel(width);
  const envelope = valueOf(clip, 'envelope');
  if (points.pointsOf(envelope).length > 0) {
    const moment = keyTime(clip, time);
    const next = points.raised(envelope, moment, louder);
    return setting(clip, { envelope: next }, `${sayLevel(clip.level + valueAt(next, moment))} here`, 'the points on either side together');
  }
  const level = Math.round(withinLevels(clip.level + louder) * 10) / 10;
  return setting(clip, { level }, `Level ${sayLevel(level)}`, 'the whole clip; touch the line to add a point');
}

/** What pulling a part of the shape of a clip's sound would do. `time`: where the finger took hold, on the timeline. */
export function pullShape(piece: Piece, clip: Clip, handle: ShapeHandle, n: number, time: number, width: number, hold: Hold): Trial {
  if (handle === 'blend') return pullBlend(piece, clip, hold);
  if (handle === 'point') return pullPoint(piece, clip, n, hold, width);
  if (handle === 'key') return pullKey(piece, clip, n, hold);
  if (handle === 'meet' || handle === 'meet-end') return pullMeeting(piece, clip, handle === 'meet-end', hold);
  return handle === 'line' ? pullLine(clip, time, hold, width) : pullFade(clip, handle, hold);
}

/** A transition made longer or shorter: at a join both its ends go apart, at the end of a clip it reaches further into it. */
function pullMeeting(piece: Piece, clip: Clip, end: boolean, { by }: Hold): Trial {
  const field = end ? 'ending' : 'transition';
  const now = valueOf(clip, field);
  if (now === 'none') return refused('That transition is gone.', [clip.id], 'trim');
  const joined = !end && seamAt(piece, clip.id) !== null;
  const frame = frameLength(piece.format.rate);
  const wish = now.length + (end ? -by : joined ? -2 * by : by);
  const length = Math.max(2 * frame, Math.min(TRANSITION_MAX, toGrid(wish, piece.format.rate)));
  return setting(
    clip,
    { [field]: { ...now, length } },
    `${TRANSITION_NAMES[now.kind]} ${sayFade(length)}`,
    'no clip moves; touch it for more',
  );
}

/** The keys of a picture's framing at one moment, pulled along the clip together. */
function pullKey(piece: Piece, clip: Clip, at: number, { by, free }: Hold): Trial {
  const [first, last] = [clip.start, clipEnd(clip) - frameLength(piece.format.rate)];
  const wish = Math.max(first, Math.min(last, timeOfKey(clip, at) + by));
  const time = free ? Math.round(wish) : toGrid(wish, piece.format.rate);
  const { playhead } = useEditor.getState();
  const near = Math.abs(time - playhead) < frameLength(piece.format.rate) ? playhead : time;
  return setting(
    clip,
    keysMoved(clip, at, keyTime(clip, near)),
    `Key at ${formatTimecode(near, piece.format.rate)}`,
    'no clip moves; touch it to go there',
  );
}

/** A touch that pulls nothing: a point is added where the line was touched, and one that is touched goes; a key is gone to. */
export function touchShape(clip: Clip, handle: ShapeHandle, n: number, time: number): void {
  const envelope = valueOf(clip, 'envelope');
  if (handle === 'point') edit('set', { clips: [clip.id], values: { envelope: points.withoutPoint(envelope, n) } });
  if (handle === 'key') moveTo(timeOfKey(clip, n));
  if (handle === 'meet' || handle === 'meet-end') openPanel({ name: 'transition', clip: clip.id, end: handle === 'meet-end' });
  if (handle === 'line') edit('set', { clips: [clip.id], values: { envelope: points.withPoint(envelope, keyTime(clip, time)) } });
}
