import { trackLength } from './lookups';
import type { MediaFacts } from './media';
import type { Piece } from './piece';
import { hasPicture } from './media';
import type { Timeline } from './track';

/** Every timeline of a piece: its own under null, then its nests by id. */
export function timelines(piece: Piece): [string | null, Timeline][] {
  return [[null, piece], ...Object.entries(piece.nests ?? {})];
}

/** A timeline by id; null is the piece's own. Undefined when there is no such nest. */
export function timelineOf(piece: Piece, id: string | null): Timeline | undefined {
  return id === null ? piece : piece.nests?.[id];
}

/** What a nest is as material: as long as its inside, of the piece's size and rate. */
export function nestFacts(piece: Piece, id: string): MediaFacts {
  const nest = piece.nests?.[id];
  const clips = nest?.tracks.flatMap((track) => track.clips.map((clip) => ({ track, media: piece.media[clip.media] }))) ?? [];
  const seen = clips.some(({ track, media }) => track.kind === 'picture' && media && hasPicture(media));
  return {
    id,
    name: nest?.name ?? 'Nest',
    kind: 'nest',
    length: Math.max(0, ...(nest?.tracks.map(trackLength) ?? [])),
    width: seen ? piece.format.width : 0,
    height: seen ? piece.format.height : 0,
    rate: piece.format.rate,
    hasSound: clips.some(({ media }) => media?.hasSound),
  };
}

/** The nests that a timeline shows, directly or within others. */
export function nestsWithin(piece: Piece, timeline: Timeline, found = new Set<string>()): Set<string> {
  for (const track of timeline.tracks)
    for (const clip of track.clips) {
      const inner = piece.nests?.[clip.media];
      if (!inner || found.has(clip.media)) continue;
      found.add(clip.media);
      nestsWithin(piece, inner, found);
    }
  return found;
}
