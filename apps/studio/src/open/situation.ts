import { clipAt, findClip, seamsOf, type Clip, type Piece, type Track } from '@flimzy/core/piece';
import type { Situation } from './actions/action';
import { currentPiece, stretchOf, useEditor } from './editor';

export function situation(): Situation | null {
  const piece = currentPiece();
  if (!piece) return null;
  const state = useEditor.getState();
  const { selected, playhead, clipboard, inside } = state;
  return { piece, selected, playhead, stretch: stretchOf(state), hasClipboard: clipboard !== null, inside };
}

/** A clip with its track, on the timeline shown. */
export interface OnTrack {
  track: Track;
  clip: Clip;
}

/** The clips under the playhead on unlocked tracks, lowest first. */
export function underPlayhead(piece: Piece, playhead: number): OnTrack[] {
  return piece.tracks.flatMap((track) => {
    const clip = track.locked ? null : clipAt(track, playhead);
    return clip ? [{ track, clip }] : [];
  });
}

/** The clips an action is about: those selected, else the lowest picture under the playhead. */
export function targets({ piece, selected, playhead }: Situation): OnTrack[] {
  const found = selected.flatMap((id) => findClip(piece, id) ?? []);
  if (found.length > 0) return found;
  const under = underPlayhead(piece, playhead);
  const first = under.find(({ track }) => track.kind === 'picture') ?? under[0];
  return first ? [first] : [];
}

/** The only clip an action is about, or null. */
export function target(s: Situation): OnTrack | null {
  return targets(s)[0] ?? null;
}

/** The clips of interlaced material among those an action is about. */
export function interlaced(s: Situation): Clip[] {
  return targets(s).flatMap(({ clip }) => (s.piece.media[clip.media]?.interlaced ? [clip] : []));
}

/** The join nearest to the playhead on a track (that of the selected clip, else the main one): the clip after it. */
export function nearestSeam({ piece, selected, playhead }: Situation): Clip | null {
  const found = selected[0] ? findClip(piece, selected[0]) : null;
  const track = found?.track ?? piece.tracks[0];
  const away = (clip: Clip) => Math.abs(clip.start - playhead);
  return (track ? seamsOf(track) : []).reduce<Clip | null>((best, clip) => (!best || away(clip) < away(best) ? clip : best), null);
}

/** The selected clips that directly follow another on their track. */
export function joinsBefore({ piece, selected }: Situation): Clip[] {
  return selected.flatMap((id) => {
    const found = findClip(piece, id);
    return found && seamsOf(found.track).includes(found.clip) ? [found.clip] : [];
  });
}
