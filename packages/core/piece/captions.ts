import { partsOf, readingTime, type Overlay } from '../properties';
import type { Flicks } from '../time';
import { clipEnd, type Clip } from './clip';
import { seenTracks } from './lookups';
import { isStill, seenThrough } from './pace';
import type { Piece } from './piece';
import type { Timeline, Track } from './track';

/** Whether the titles on a track are captions: what is said, for those who read it. */
export const isCaptions = (track: Pick<Track, 'kind' | 'role'>): boolean => track.kind === 'picture' && track.role === 'captions';

/** Whether a clip is a title that is to be read. */
export const isRead = (clip: Pick<Clip, 'overlay'>): boolean => readingTime(clip.overlay ?? 'none') > 0;

/** A clip that is seen, as it lies on the piece's own timeline, and those it is there through. */
export interface SeenClip {
  /** Its start and length there, cut to those of the nests it is in; in flicks, in a nest not always on frames. */
  clip: Clip;
  track: Track;
  /** What follows it on its track, as it lies there. */
  next: Clip | undefined;
  /** The clips of the nests that it is in, from the outside in; none on the piece's own timeline. */
  through: readonly Clip[];
}

/** All clips that are seen, in nests too, track by track. What a frozen nest shows is left out: it is one picture. */
export function seenClips(piece: Piece, timeline: Timeline = piece, through: readonly Clip[] = []): SeenClip[] {
  const lies = (clip: Clip): Clip => {
    const outer = through.at(-1);
    return outer ? within(seenThrough(outer, clip), outer) : clip;
  };
  return seenTracks(timeline).flatMap((track) =>
    track.clips.flatMap((one, n): SeenClip[] => {
      const clip = lies(one);
      if (clip.length <= 0) return [];
      const after = track.clips[n + 1];
      const nest = piece.nests?.[one.media];
      const inner = nest && !isStill(one, piece.media[one.media]) ? seenClips(piece, nest, [...through, clip]) : [];
      return [{ clip, track, next: after && lies(after), through }, ...inner];
    }),
  );
}

/** A clip cut to the time of another; of no length where they do not meet. */
function within(clip: Clip, outer: Clip): Clip {
  const [start, end] = [Math.max(clip.start, outer.start), Math.min(clipEnd(clip), clipEnd(outer))];
  return { ...clip, start, length: Math.max(0, end - start) };
}

/** What a caption says that nobody has written yet: where it is to be, and no more. */
export const UNWRITTEN = '…';

/** What is to be read for what is said, from one time to another (flicks). */
export interface Cue {
  from: Flicks;
  to: Flicks;
  text: string;
}

/** The texts of an overlay with their line breaks, without empty lines. */
const linesOf = (overlay: Overlay | 'none'): string =>
  partsOf(overlay)
    .flatMap((part) => (part.kind === 'text' ? part.text.split(/\r?\n/) : []))
    .map((line) => line.trim())
    .filter(Boolean)
    .join('\n');

/** All captions of a piece that are written and seen, in nests too, in order of time. */
export function cuesOf(piece: Piece): Cue[] {
  return seenClips(piece)
    .filter(({ clip, track }) => isCaptions(track) && isRead(clip))
    .map(({ clip }) => ({ from: clip.start, to: clipEnd(clip), text: linesOf(clip.overlay ?? 'none') }))
    .filter(({ text }) => text !== UNWRITTEN)
    .sort((a, b) => a.from - b.from);
}

/** A piece without its captions drawn. */
export function withoutCaptions(piece: Piece): Piece {
  const bare = <T extends Timeline>(timeline: T): T =>
    timeline.tracks.some(isCaptions)
      ? {
          ...timeline,
          tracks: timeline.tracks.map((track) =>
            isCaptions(track) ? { ...track, clips: track.clips.filter((clip) => !isRead(clip)) } : track,
          ),
        }
      : timeline;
  const nests = piece.nests && Object.fromEntries(Object.entries(piece.nests).map(([id, nest]) => [id, bare(nest)]));
  return { ...bare(piece), ...(nests ? { nests } : {}) };
}
