import { clipEnd, type Clip, type Piece, type Track } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';

/** How much room there is after a clip on its track, in flicks; without end where nothing follows. */
export function gapAfter(track: Track, clip: Clip): Flicks {
  const next = track.clips[track.clips.findIndex((one) => one.id === clip.id) + 1];
  return next ? next.start - clipEnd(clip) : Infinity;
}

/** How many clips a ripple from the end of a clip moves: on its own track, or on every unlocked one. */
export function followers(piece: Piece, track: Track, clip: Clip, reach: 'own' | 'all'): number {
  const tracks = reach === 'all' ? piece.tracks.filter((one) => !one.locked) : [track];
  return tracks.flatMap((one) => one.clips).filter((one) => one.start >= clipEnd(clip)).length;
}
