import type { Flicks } from '../time';
import { BLEND_MAX, clipEnd, soundSpan, type Clip } from './clip';
import { findClip, isHeard } from './lookups';
import { unusedMaterial } from './pace';
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
  /** Material of the first left after its end, and of the second before its start, in flicks. */
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
    unusedAfter: unusedMaterial(before, piece.media[before.media]).tail,
    unusedBefore: unusedMaterial(after, piece.media[after.media]).head,
  };
}

/** All seams of a track, in order: the clip after each. */
export function seamsOf(track: Track): Clip[] {
  return track.clips.filter((clip, i) => {
    const before = track.clips[i - 1];
    return before !== undefined && clipEnd(before) === clip.start;
  });
}

/** The longest crossfade that the material on both sides of a seam has room for, in flicks: half of it lies on either side of where sound changes hands. */
export function crossfadeRoom(piece: Piece, { before, after }: Seam): Flicks {
  const left = Math.max(0, unusedMaterial(before, piece.media[before.media]).tail - (before.trail ?? 0));
  const right = Math.max(0, unusedMaterial(after, piece.media[after.media]).head - (after.lead ?? 0));
  const [one, other] = [soundSpan(before), soundSpan(after)];
  return Math.max(0, Math.min(2 * left, 2 * right, one.end - one.start, other.end - other.start, BLEND_MAX));
}
