import { isHeard, type Piece, type Track } from '@flimzy/core/piece';

/** Where a track stands, in pixels from the left edge of the timeline's content. */
export interface Column {
  track: Track;
  left: number;
  width: number;
  /** Its pictures cover the tracks to its left. */
  covers: boolean;
  /** The column beside a picture track that shows its clips' own sound; null where no clip has any. */
  own: { left: number; width: number } | null;
}

/** Every column, and how wide all of them are. */
export interface Columns {
  ruler: number;
  list: Column[];
  width: number;
}

export const RULER = 44;
/** Pixels between two columns. */
export const GAP = 5;

/** Lays the tracks out side by side: the main picture as wide as there is room, the rest no narrower than a thumb needs. */
export function columnsFor(piece: Piece, width: number): Columns {
  const own = new Map(piece.tracks.map((t) => [t.id, t.kind === 'picture' && t.clips.some((c) => isHeard(c, piece.media[c.media]))]));
  const ownWidth = (track: Track) => (own.get(track.id) ? (track === piece.tracks[0] ? Math.min(54, Math.max(28, width * 0.14)) : 24) : 0);
  const sideWidth = Math.min(72, Math.max(44, width * 0.17));
  const overWidth = Math.min(110, Math.max(46, width * 0.2));
  const widthOf = (track: Track) => (track.kind === 'sound' ? sideWidth : overWidth);
  const rest = piece.tracks.slice(1).reduce((sum, track) => sum + widthOf(track) + GAP + (ownWidth(track) ? ownWidth(track) + 2 : 0), 0);
  const [main] = piece.tracks;
  const mainOwn = main ? ownWidth(main) : 0;
  const room = width - RULER - rest - mainOwn - GAP * 3;
  const mainWidth = Math.max(64, Math.min(240, room));
  let left = RULER;
  const list = piece.tracks.map((track, i): Column => {
    const column: Column = {
      track,
      left,
      width: i === 0 ? mainWidth : widthOf(track),
      covers: i > 0 && track.kind === 'picture',
      own: null,
    };
    left += column.width;
    const beside = ownWidth(track);
    if (beside > 0) {
      column.own = { left: left + 2, width: beside };
      left += 2 + beside;
    }
    left += GAP;
    return column;
  });
  return { ruler: RULER, list, width: Math.max(width, left + GAP) };
}

/** The track under a place across, for something of a kind: an id, or null past the last track of that kind (a new one). */
export function trackAt({ list }: Columns, x: number, kind: Track['kind']): string | null {
  const same = list.filter((column) => column.track.kind === kind);
  const end = (column: Column) => (column.own ? column.own.left + column.own.width : column.left + column.width);
  const found = same.find((column) => x < end(column) + GAP);
  return found?.track.id ?? null;
}

/** The columns that show anything between two places across. */
export function columnsIn({ list }: Columns, from: number, to: number): Column[] {
  return list.filter((column) => column.left < to && (column.own ? column.own.left + column.own.width : column.left + column.width) > from);
}
