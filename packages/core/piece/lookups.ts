import { covers, valueOf, type Under } from '../properties';
import { firstWhere, type Flicks } from '../time';
import { clipEnd, type Clip } from './clip';
import type { MediaFacts } from './media';
import { paceOf } from './pace';
import type { Piece } from './piece';
import type { Timeline, Track } from './track';

/** The end of the last clip on any track of a timeline, in flicks; 0 when it is empty. */
export function pieceLength(piece: Pick<Timeline, 'tracks'>): Flicks {
  return piece.tracks.reduce((end, track) => Math.max(end, trackLength(track)), 0);
}

/** The end of the last clip on a track, in flicks. */
export function trackLength(track: Pick<Track, 'clips'>): Flicks {
  const last = track.clips.at(-1);
  return last ? clipEnd(last) : 0;
}

/** Index of the first clip that ends after `time` (binary search), `clips.length` when there is none. */
export function indexAt(track: Pick<Track, 'clips'>, time: Flicks): number {
  return firstWhere(track.clips, (clip) => clipEnd(clip) > time);
}

/** Whether nothing on a track lies between two times. */
export function isFree(track: Pick<Track, 'clips'>, start: Flicks, end: Flicks): boolean {
  const next = track.clips[indexAt(track, start)];
  return !next || next.start >= end;
}

/** The clip covering a time on a track, or null. A clip covers its start and not its end. */
export function clipAt(track: Pick<Track, 'clips'>, time: Flicks): Clip | null {
  const clip = track.clips[indexAt(track, time)];
  return clip && clip.start <= time ? clip : null;
}

/** Where a clip stands. */
export interface Placed {
  /** Null for the piece's own timeline, else the nest it is in. */
  inside: string | null;
  timeline: Timeline;
  track: Track;
  index: number;
  clip: Clip;
}

/** A clip by id with where it stands, in nests too; or null. */
export function findClip(piece: Piece, id: string): Placed | null {
  for (const [inside, timeline] of [[null, piece] as const, ...Object.entries(piece.nests ?? {})])
    for (const track of timeline.tracks) {
      const index = track.clips.findIndex((clip) => clip.id === id);
      if (index >= 0) return { inside, timeline, track, index, clip: track.clips[index] as Clip };
    }
  return null;
}

/** A track by id, in nests too; or null. */
export function findTrack(piece: Piece, id: string): { inside: string | null; timeline: Timeline; track: Track; index: number } | null {
  for (const [inside, timeline] of [[null, piece] as const, ...Object.entries(piece.nests ?? {})]) {
    const index = timeline.tracks.findIndex((track) => track.id === id);
    if (index >= 0) return { inside, timeline, track: timeline.tracks[index] as Track, index };
  }
  return null;
}

/** Where nothing lies on a timeline though something follows, in order: between the start and the end of the last of some clips. */
export function emptyStretches(clips: readonly Clip[]): { from: Flicks; to: Flicks }[] {
  const gaps: { from: Flicks; to: Flicks }[] = [];
  let end = 0;
  for (const clip of [...clips].sort((a, b) => a.start - b.start)) {
    if (clip.start > end) gaps.push({ from: end, to: clip.start });
    end = Math.max(end, clipEnd(clip));
  }
  return gaps;
}

/** Every media item that a clip shows or plays: its own, and what covers words of it. */
export const itemsOf = (clip: Clip): string[] => [
  clip.media,
  ...covers.listOf(valueOf(clip, 'covers')).flatMap(({ item }) => item?.media ?? []),
];

/** Whether a clip makes sound on the track it stands on. */
export function isHeard(clip: Clip, media: MediaFacts | undefined): boolean {
  return Boolean(media?.hasSound) && !clip.silent && paceOf(clip).kind !== 'frozen';
}

/** How a clip makes way for speech on the track it stands on; null when it does not. */
export function underOf(clip: Clip, track: Track): Under | null {
  if (clip.under === 'off') return null;
  return clip.under === undefined || clip.under === 'track' ? (track.under ?? null) : clip.under;
}

/** Whether a track is said to be music, or makes way for speech as music does: what a piece leans towards or away from. */
export function isMusicTrack(track: Track): boolean {
  return track.role === 'music' || (track.role === undefined && track.under !== undefined);
}

/** The tracks of a timeline that are heard: all that are not muted, or only those on solo when there are any. */
export function heardTracks(timeline: Timeline): Track[] {
  const solo = timeline.tracks.filter((track) => track.solo);
  return (solo.length > 0 ? solo : timeline.tracks).filter((track) => !track.muted);
}

/** A timeline with nothing on it but one clip and what is linked with it, where they stand: seen and heard, whatever is hidden or muted. */
export function onlyClip(piece: Piece, id: string): Piece {
  const group = findClip(piece, id)?.clip.link?.group;
  const stays = (clip: Clip) => clip.id === id || (group !== undefined && clip.link?.group === group);
  const bare = ({ transition: _in, ending: _out, ...clip }: Clip): Clip => clip;
  const tracks = piece.tracks.map(({ solo: _solo, hidden: _hidden, ...track }) => ({
    ...track,
    muted: false,
    clips: track.clips.filter(stays).map(bare),
  }));
  return { ...piece, tracks };
}

/** A piece of which one track alone is heard, as it lies in the whole but for the limiter: all such tracks together are the piece. */
export function onlyTrack(piece: Piece, id: string): Piece {
  const tracks = piece.tracks.map(({ solo: _solo, ...track }) => (track.id === id ? track : { ...track, muted: true }));
  return { ...piece, tracks, sound: { ...piece.sound, unlimited: true } };
}

/** The picture tracks of a timeline that are seen, lowest first. */
export function seenTracks(timeline: Timeline): Track[] {
  return timeline.tracks.filter((track) => track.kind === 'picture' && !track.hidden);
}
