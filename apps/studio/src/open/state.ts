import type { Copied, Session } from '@flimzy/core/edits';
import type { Piece } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { create } from 'zustand';
import type { PreviewEngine } from './engine';
import { viewOf } from './view';

/** Pixels that one second takes on the timeline. */
export const ZOOM_MIN = 3;
export const ZOOM_MAX = 2400;

/** The way back out of nests: the timelines that were open, outermost first, and the moments one stood at. */
export type Outside = readonly { inside: string | null; playhead: Flicks }[];

interface EditorState {
  id: string | null;
  session: Session | null;
  /** What the piece would be if the finger lifted now; null when nothing is being dragged. */
  draft: Piece | null;
  failed: string | null;
  /** Selected clips, in the order in which they were. */
  selected: readonly string[];
  /** Touching a clip adds it to what is selected. */
  gathering: boolean;
  /** The nest whose inside is shown; null for the piece itself. The way back is `outside`. */
  inside: string | null;
  outside: Outside;
  /** In and out on the timeline shown, in flicks. */
  markIn: Flicks | null;
  markOut: Flicks | null;
  /** What was copied or cut, for pasting, into other pieces too. */
  clipboard: Copied | null;
  /** What trims do to what follows, and on which tracks. */
  rest: 'follow' | 'stay';
  reach: 'own' | 'all';
  /** What clips dragged onto others do: make room, or cover. */
  drop: 'insert' | 'over';
  playhead: Flicks;
  playing: boolean;
  /** How a piece is watched: so many times as fast, and from its end (or from in to out) again. */
  pace: 0.5 | 1 | 2;
  looping: boolean;
  /** The clip that is played by itself, while it is. */
  alone: string | null;
  /** Lines to place things by lie over the picture. */
  guides: boolean;
  /** The faders of the tracks are shown. */
  mixing: boolean;
  zoom: number;
  engine: PreviewEngine | null;
  /** Where the preview's picture is shown instead of in its own place; null: there. */
  borrowed: HTMLElement | null;
  /** What the preview really shows, told by itself. */
  shown: { time: Flicks; sources: { media: string; frame: number }[] } | null;
}

/** What is chosen and where one is, when a piece is opened. */
export const NOTHING = {
  selected: [] as readonly string[],
  gathering: false,
  inside: null as string | null,
  outside: [] as Outside,
  markIn: null as Flicks | null,
  markOut: null as Flicks | null,
};

export const useEditor = create<EditorState>(() => ({
  id: null,
  session: null,
  draft: null,
  failed: null,
  ...NOTHING,
  clipboard: null,
  rest: 'follow',
  reach: 'own',
  drop: 'insert',
  playhead: 0,
  playing: false,
  pace: 1,
  looping: false,
  alone: null,
  guides: false,
  mixing: false,
  zoom: 48,
  engine: null,
  borrowed: null,
  shown: null,
}));

const get = useEditor.getState;
const set = useEditor.setState;

/** The timeline as it is shown now: with what is being dragged, or as it is; of the nest that is open, or the piece. */
export const usePiece = (): Piece | null =>
  useEditor((s) => {
    const piece = s.draft ?? s.session?.current.piece;
    return piece ? viewOf(piece, s.inside) : null;
  });
/** The timeline shown as it is, without what is being dragged: for what need not be drawn again with every move of a finger. */
export const useSettledPiece = (): Piece | null => useEditor((s) => (s.session ? viewOf(s.session.current.piece, s.inside) : null));
/** Size and rate of the open piece. */
export const useFormat = (): Piece['format'] | null => useEditor((s) => s.session?.current.piece.format ?? null);
/** Whether nothing lies on the timeline shown. */
export const useIsEmpty = (): boolean => useSettledPiece()?.tracks.every((track) => track.clips.length === 0) ?? false;
/** The whole piece, whatever nest is open. */
export const useWhole = (): Piece | null => useEditor((s) => s.session?.current.piece ?? null);
/** The timeline shown, without what is being dragged. */
export const currentPiece = (): Piece | null => {
  const { session, inside } = get();
  return session ? viewOf(session.current.piece, inside) : null;
};

/** A name for what the open piece is just now: it stays when the server confirms what was done here, though the document is then another object. */
export const standOf = ({ session }: EditorState): string =>
  session ? `${session.current.revision} ${session.current.undo.at(-1)?.id ?? ''}` : '';

/** The stretch of time chosen by in and out on the timeline, or null. */
export function stretchOf({ markIn, markOut }: Pick<EditorState, 'markIn' | 'markOut'>): { from: Flicks; to: Flicks } | null {
  return markIn !== null && markOut !== null && markOut > markIn ? { from: markIn, to: markOut } : null;
}

export function setZoom(zoom: number): void {
  set({ zoom: Math.max(ZOOM_MIN, Math.min(ZOOM_MAX, zoom)) });
}

/** Selects one clip alone, or nothing. */
export const select = (id: string | null) => set({ selected: id === null ? [] : [id], gathering: false });

/** Selects these clips, first to last. */
export const selectAll = (selected: readonly string[]) => set({ selected, gathering: false });

/** A touch on a clip: selects it alone, or, while gathering (or with `more`), adds it or takes it away. */
export function touchClip(id: string, more = false): void {
  const { selected, gathering } = get();
  if (!gathering && !more) return set({ selected: selected.length === 1 && selected[0] === id ? [] : [id] });
  set({ selected: selected.includes(id) ? selected.filter((one) => one !== id) : [...selected, id] });
}
