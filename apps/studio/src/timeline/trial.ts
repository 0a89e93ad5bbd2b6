import { snapPoints, type EditName, type EditParams, type SnapPoint } from '@flimzy/core/edits';
import type { Piece } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { currentPiece, edit, stopTrying, tryEdit, useEditor } from '../open/editor';
import type { Catching } from './drag';
import { toTime } from './scale';
import type { DragShow } from './showing';

/** How near something catches, in pixels. */
const CATCH = 9;

/** How a finger that holds something has gone so far. */
export interface Hold {
  /** Later is positive; flicks. */
  by: Flicks;
  /** To the right is positive; pixels. */
  across: number;
  /** It lets go of what it would catch on. */
  free: boolean;
  /** What it is dropped on is covered. */
  over: boolean;
}

/** What lifting the finger now would do: shown, and made when it lifts; null when nothing can be. */
export interface Trial {
  show: DragShow;
  commit: (() => boolean) | null;
}

let points: { of: unknown[]; found: SnapPoint[] } | null = null;

/** What there is to catch on for clips that are dragged. It stays the same while they are, so it is gathered once. */
export function catching(piece: Piece, dragged: readonly string[], free: boolean): Catching {
  const { playhead, markIn, markOut, zoom } = useEditor.getState();
  const of = [piece, playhead, markIn, markOut, ...dragged];
  if (points?.of.length !== of.length || !of.every((one, i) => one === points?.of[i]))
    points = { of, found: snapPoints(piece, playhead, new Set(dragged), [markIn, markOut]) };
  return { reach: free ? null : toTime(CATCH, zoom), points: points.found };
}

/** Tries an edit: the piece it would be with what makes it (nothing, when it would change nothing), or why it cannot be. */
export function attempt<N extends EditName>(
  name: N,
  params: EditParams<N>,
  lookAt: (piece: Piece) => Flicks | null = () => null,
): { draft: Piece; commit: Trial['commit'] } | string {
  const draft = tryEdit(name, params, lookAt);
  if (typeof draft === 'string') return draft;
  return { draft, commit: draft === currentPiece() ? null : () => edit(name, params) };
}

/** Shows everything as it is again, and why what was tried cannot be. */
export function refused(why: string, clips: readonly string[], kind: DragShow['kind']): Trial {
  stopTrying();
  return { show: { clips, kind, title: why, note: '', caught: null, shift: 0, stirred: new Set() }, commit: null };
}
