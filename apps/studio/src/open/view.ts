import type { Piece } from '@flimzy/core/piece';

const views = new WeakMap<Piece, { inside: string; view: Piece }>();

/** A piece as seen from inside one of its nests: with the tracks of that nest. Everything else of it stays. */
export function viewOf(piece: Piece, inside: string | null): Piece {
  const nest = inside === null ? null : piece.nests?.[inside];
  if (!nest || inside === null) return piece;
  const kept = views.get(piece);
  if (kept?.inside === inside) return kept.view;
  const view: Piece = { ...piece, tracks: nest.tracks, markers: nest.markers };
  views.set(piece, { inside, view });
  return view;
}
