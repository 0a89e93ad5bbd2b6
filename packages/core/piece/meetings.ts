import type { Transition } from '../properties';
import type { Flicks } from '../time';
import { clipEnd, type Clip } from './clip';
import { indexAt } from './lookups';
import type { Track } from './track';

/** A stretch of a track in which one picture goes over into another one, or comes out of nothing or goes into it. */
export interface Meeting {
  transition: Transition;
  before: Clip | null;
  after: Clip | null;
  /** Flicks on the timeline, on frames. */
  from: Flicks;
  to: Flicks;
}

/**
 * The meeting at the start of clip `n` of a track; null when it comes in by a plain cut. On either side of a join it lasts no longer than half
 * of the clip there, so that the next one has the other half.
 *
 * @param frame length of a frame of the piece, in flicks
 */
export function meetingInto({ clips }: Pick<Track, 'clips'>, n: number, frame: Flicks): Meeting | null {
  const after = clips[n];
  const transition = after?.transition;
  if (!after || !transition || transition === 'none') return null;
  const last = clips[n - 1];
  const before = last && clipEnd(last) === after.start ? last : null;
  if (!before)
    return within({
      transition,
      before,
      after,
      from: after.start,
      to: after.start + whole(Math.min(transition.length, after.length / 2), frame),
    });
  const half = whole(Math.min(transition.length / 2, before.length / 2, after.length / 2), frame);
  return within({ transition, before, after, from: after.start - half, to: after.start + half });
}

/** The meeting of the end of clip `n` with nothing; null when something follows, or it ends by a plain cut. */
export function meetingOut({ clips }: Pick<Track, 'clips'>, n: number, frame: Flicks): Meeting | null {
  const before = clips[n];
  const transition = before?.ending;
  if (!before || !transition || transition === 'none' || clips[n + 1]?.start === clipEnd(before)) return null;
  const length = whole(Math.min(transition.length, before.length / 2), frame);
  return within({ transition, before, after: null, from: clipEnd(before) - length, to: clipEnd(before) });
}

const whole = (length: Flicks, frame: Flicks) => Math.floor(length / frame + 1e-9) * frame;
const within = (meeting: Meeting) => (meeting.to > meeting.from ? meeting : null);

/** The meeting that a time lies in, or null. */
export function meetingAt(track: Pick<Track, 'clips'>, time: Flicks, frame: Flicks): Meeting | null {
  const n = indexAt(track, time);
  for (const meeting of [meetingInto(track, n, frame), meetingInto(track, n + 1, frame), meetingOut(track, n, frame)])
    if (meeting && meeting.from <= time && time < meeting.to) return meeting;
  return null;
}

/** All meetings of a track, in order. */
export function meetingsOf(track: Pick<Track, 'clips'>, frame: Flicks): Meeting[] {
  return track.clips.flatMap((clip, n) => {
    if (clip.transition === undefined && clip.ending === undefined) return [];
    return [meetingInto(track, n, frame), meetingOut(track, n, frame)].filter((one) => one !== null);
  });
}
