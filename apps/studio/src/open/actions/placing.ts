import { commonRate, usableLength, type EditParams, type How, type TogetherStep } from '@flimzy/core/edits';
import { panZoom } from '@flimzy/core/frame';
import { hasPicture, trackLength, type MediaFacts, type Piece, type Track } from '@flimzy/core/piece';
import { frameLength, toGrid } from '@flimzy/core/time';
import { say } from '../../look/Toast';
import { currentPiece, together, useEditor } from '../editor';
import { usePhotos } from '../photos';

/** How items of the shelf are set down. */
export interface Manner {
  how: How;
  parts: 'both' | 'picture' | 'sound';
}

/** Where they are. */
export interface Place {
  /** Flicks on the timeline; null for the end of their tracks. */
  at: number | null;
  /** A track for those of its kind; null for a new one. Without it, the lowest of their kind that is not locked. */
  track?: string | null;
}

/** One thing to set down: an item, or a stretch of it. */
export interface Chosen {
  media: MediaFacts;
  /** Flicks of the material; null for all of it. */
  range: { from: number; to: number } | null;
}

/** How long an item is when it comes in: all of it; music no longer than the picture. */
function lengthFor(piece: Piece, { media, range }: Chosen, at: number): { from: number; length: number } {
  const frame = frameLength(piece.format.rate);
  if (range && media.kind !== 'photo') {
    const from = toGrid(range.from, piece.format.rate);
    return { from, length: Math.floor((Math.min(range.to, media.length) - from + frame / 2) / frame) * frame };
  }
  const whole =
    media.kind === 'photo' ? Math.max(frame, toGrid(usePhotos.getState().length, piece.format.rate)) : usableLength(piece, media);
  const pictureEnd = piece.tracks[0] ? trackLength(piece.tracks[0]) : 0;
  return { from: 0, length: media.kind === 'sound' && pictureEnd > at ? Math.min(whole, pictureEnd - at) : whole };
}

/** Pictures of about the frame's shape fill it; others are shown whole before a blurred backdrop. */
function fitFor(piece: Piece, media: MediaFacts): 'fit' | 'fill' {
  if (!media.width || !media.height) return 'fill';
  const ratio = media.width / media.height / (piece.format.width / piece.format.height);
  return ratio > 0.75 && ratio < 1.34 ? 'fill' : 'fit';
}

const photosIn = (piece: Piece) =>
  piece.tracks.reduce((sum, track) => sum + track.clips.filter((clip) => piece.media[clip.media]?.kind === 'photo').length, 0);

/** The gentle movement of a new photo: every second one away, each to another place. */
const moving = (length: number, piece: Piece, n: number) =>
  panZoom({ start: 0, length, from: 0 }, n % 2 ? 'towards' : 'away', frameLength(piece.format.rate), n);

/** The edits that set things down in order, one after the other; empty when none of them can be. */
export function stepsFor(
  piece: Piece,
  inside: string | null,
  chosen: readonly Chosen[],
  place: Place,
  { how, parts }: Manner,
): TogetherStep[] {
  const rated = inside === null ? withRateOf(piece, chosen) : piece;
  const ends = new Map<string, number>();
  const begun = new Set<string>();
  const named = piece.tracks.find((t) => t.id === place.track);
  const steps: TogetherStep[] = [];
  const photos = usePhotos.getState();
  let photo = photosIn(piece);
  let at = place.at ?? 0;
  for (const one of chosen) {
    const { media } = one;
    const kind = parts === 'sound' || !hasPicture(media) ? 'sound' : 'picture';
    const track: Track | undefined = named?.kind === kind ? named : piece.tracks.find((t) => t.kind === kind && !t.locked);
    const fresh = place.track === null || !track;
    const start = place.at === null && track ? (ends.get(track.id) ?? trackLength(track)) : at;
    const { from, length } = lengthFor(rated, one, start);
    if (length <= 0) {
      say(`“${media.name}” is shorter than one frame.`);
      continue;
    }
    const params: EditParams<'add'> = {
      track: fresh ? null : track.id,
      top: fresh && begun.has(kind),
      inside,
      media,
      at: start,
      how: place.at === null ? 'insert' : how,
      from,
      length,
      fit: fitFor(piece, media),
      parts: media.kind === 'video' ? parts : 'both',
      ...(media.kind === 'photo' && photos.moves ? { values: moving(length, rated, (photo += 1)) } : {}),
    };
    steps.push({ name: 'add', params });
    begun.add(kind);
    if (track) ends.set(track.id, start + length);
    if (kind === 'picture' || parts === 'sound') at = start + length;
  }
  return rated === piece || steps.length === 0 ? steps : [{ name: 'rate', params: { rate: rated.format.rate } }, ...steps];
}

/** What history calls setting things down. */
export const addTitle = (chosen: readonly Chosen[]) =>
  `Add ${chosen.length === 1 ? (chosen[0]?.media.name ?? 'it') : `${chosen.length} items`}`;

/** A piece with the frame rate that its first clips give it, unless one was chosen; the same piece when they give none. */
export function withRateOf(piece: Piece, chosen: readonly Chosen[]): Piece {
  const rate = commonRate(chosen.map((one) => one.media));
  if (piece.rateChosen || !rate || piece.tracks.some((track) => track.clips.length > 0)) return piece;
  return { ...piece, format: { ...piece.format, rate } };
}

/** Sets things down in order, as one line of history. */
export function placeAll(chosen: readonly Chosen[], place: Place, manner: Manner): boolean {
  const piece = currentPiece();
  if (!piece) return false;
  const steps = stepsFor(piece, useEditor.getState().inside, chosen, place, manner);
  const title = addTitle(chosen);
  if (steps.length === 0 || !together(title, steps)) return false;
  say(`${title.replace(/^Add/, 'Added')}.`);
  return true;
}
