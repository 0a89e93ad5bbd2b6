import { clipEnd, type Piece } from '../piece';
import { firstWhere, type Flicks } from '../time';

/** A time that something being dragged can catch on, and what it is. */
export interface SnapPoint {
  time: Flicks;
  what: 'start' | 'playhead' | 'clip' | 'marker' | 'stretch';
}

/** Everything to catch on, by time: the start, the playhead, in and out, markers, and the ends of every clip but those being dragged. */
export function snapPoints(
  piece: Piece,
  playhead: Flicks,
  dragged: ReadonlySet<string>,
  stretch: readonly (Flicks | null)[] = [],
): SnapPoint[] {
  const points: SnapPoint[] = [
    { time: 0, what: 'start' },
    { time: playhead, what: 'playhead' },
  ];
  for (const time of stretch) if (time !== null) points.push({ time, what: 'stretch' });
  for (const { time } of piece.markers ?? []) points.push({ time, what: 'marker' });
  for (const track of piece.tracks)
    for (const clip of track.clips)
      if (!dragged.has(clip.id)) points.push({ time: clip.start, what: 'clip' }, { time: clipEnd(clip), what: 'clip' });
  return points.sort((a, b) => a.time - b.time);
}

/**
 * Catches a dragged thing: `edges` are its own times (one for a trim, both ends for a move), `points` are in order of time. Returns
 * the shift that brings an edge onto the nearest point within `reach` flicks, with the point, or null.
 */
export function snap(edges: readonly Flicks[], points: readonly SnapPoint[], reach: Flicks): { shift: Flicks; point: SnapPoint } | null {
  let best: { shift: Flicks; point: SnapPoint } | null = null;
  for (const edge of edges)
    for (let i = firstWhere(points, (point) => point.time >= edge - reach); i < points.length; i += 1) {
      const point = points[i] as SnapPoint;
      const shift = point.time - edge;
      if (shift > reach) break;
      if (!best || Math.abs(shift) < Math.abs(best.shift)) best = { shift, point };
    }
  return best;
}
