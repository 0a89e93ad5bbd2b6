import type { Flicks } from '../time';
import { BLEND_MAX, clipEnd, soundSpan, type Clip } from './clip';
import { findClip, isHeard } from './lookups';
import { unusedOnTimeline } from './pace';
import type { Piece } from './piece';
import type { Track } from './track';

/** The place where two neighbouring clips meet. */
export interface Seam {
  track: Track;
  before: Clip;
  after: Clip;
  /** Where the picture changes, in flicks on the timeline. */
  join: Flicks;
  /** Where the sound changes hands; null when one of them is not heard. */
  handOver: Flicks | null;
  /** How much longer the material of the first lasts after its end, and how much earlier that of the second begins, in flicks of the timeline. */
  unusedAfter: Flicks;
  unusedBefore: Flicks;
}

/** The seam at which a clip starts, or null when no clip touches it there. */
export function seamAt(piece: Piece, id: string): Seam | null {
  const found = findClip(piece, id);
  const before = found?.track.clips[found.index - 1];
  if (!found || !before || clipEnd(before) !== found.clip.start) return null;
  const after = found.clip;
  const heard = isHeard(before, piece.media[before.media]) && isHeard(after, piece.media[after.media]);
  return {
    track: found.track,
    before,
    after,
    join: after.start,
    handOver: heard ? Math.min(soundSpan(after).start, soundSpan(before).end) : null,
    unusedAfter: roomOf(piece, before).tail,
    unusedBefore: roomOf(piece, after).head,
  };
}

const roomOf = (piece: Piece, clip: Clip) => unusedOnTimeline(clip, piece.media[clip.media]);

/** All seams of a track, in order: the clip after each. */
export function seamsOf(track: Track): Clip[] {
  return track.clips.filter((clip, i) => {
    const before = track.clips[i - 1];
    return before !== undefined && clipEnd(before) === clip.start;
  });
}

/** The longest crossfade that the material on both sides of a seam has room for, in flicks: half of it lies on either side of where sound changes hands. */
export function crossfadeRoom(piece: Piece, { before, after }: Seam): Flicks {
  const left = Math.max(0, roomOf(piece, before).tail - (before.trail ?? 0));
  const right = Math.max(0, roomOf(piece, after).head - (after.lead ?? 0));
  const [one, other] = [soundSpan(before), soundSpan(after)];
  return Math.max(0, Math.min(2 * left, 2 * right, one.end - one.start, other.end - other.start, BLEND_MAX));
}
