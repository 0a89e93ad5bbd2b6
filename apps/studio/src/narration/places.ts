import { findClip, takesWith, type Piece, type ShelfEntry } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { currentPiece, stretchOf } from '../open/editor';

const takesIn = (piece: Piece | undefined): ShelfEntry[] => (piece?.shelf ?? []).filter((entry) => entry.take);

/** Where a recording would begin and (over a chosen stretch) end, on the timeline shown. */
export function recordingSpan(state: { markIn: Flicks | null; markOut: Flicks | null; playhead: Flicks }): {
  at: Flicks;
  until: Flicks | null;
} {
  const stretch = stretchOf(state);
  return stretch ? { at: stretch.from, until: stretch.to } : { at: state.playhead, until: null };
}

/** A name for the next take of a piece. */
export function nextName(piece: Piece | undefined): string {
  const names = new Set((piece?.shelf ?? []).map((entry) => entry.media.name));
  for (let n = takesIn(piece).length + 1; ; n += 1) if (!names.has(`Narration ${n}`)) return `Narration ${n}`;
}

/** The clip on the timeline shown that a take is heard by. */
export function clipOf(media: string): string | null {
  return (
    currentPiece()
      ?.tracks.flatMap((track) => track.clips)
      .find((clip) => clip.media === media)?.id ?? null
  );
}

/** The same piece with the tracks of earlier takes silent: nobody wants to speak over himself. */
export function withoutTakes(piece: Piece): Piece {
  const takes = new Set(takesIn(piece).map((entry) => entry.media.id));
  const tracks = piece.tracks.map((track) => (track.clips.some((clip) => takes.has(clip.media)) ? { ...track, muted: true } : track));
  return { ...piece, tracks };
}

/** The takes of the stretch that a clip of one is about, and which it is; null when it is none. */
export function takesOf(piece: Piece, id: string): { clip: string; media: string; takes: { id: string; name: string }[] } | null {
  const clip = findClip(piece, id)?.clip;
  const takes = clip ? takesWith(piece, clip.media).map(({ media }) => ({ id: media.id, name: media.name })) : [];
  return clip && takes.length > 0 ? { clip: clip.id, media: clip.media, takes } : null;
}
