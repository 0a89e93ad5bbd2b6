import {
  draftOf,
  EditRefused,
  TOGETHER,
  type Copied,
  type EditName,
  type EditParams,
  type Session,
  type TogetherStep,
} from '@flimzy/core/edits';
import { findClip, pieceLength, type Piece } from '@flimzy/core/piece';
import { frameLength, toGrid, type Flicks } from '@flimzy/core/time';
import { create } from 'zustand';
import { onPieceChanged } from '../api/events';
import { CallFailed } from '../api/client';
import { say } from '../look/Toast';
import type { PreviewEngine } from '../preview/engine';
import { PieceSync, type Outcome } from './sync';
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
  zoom: 48,
  engine: null,
  borrowed: null,
  shown: null,
}));

const get = useEditor.getState;
const set = useEditor.setState;
let sync: PieceSync | null = null;

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

/** Opens a piece in the editor. Returns what closes it again. */
export function openEditor(id: string): () => void {
  set({ id, session: null, draft: null, failed: null, ...NOTHING, playhead: 0, playing: false, shown: null });
  const mine = new PieceSync(id, {
    onChange: (session) => {
      const { selected, playhead, inside, playing } = get();
      const { piece } = session.current;
      const lost = inside !== null && !piece.nests?.[inside];
      const there = selected.filter((one) => findClip(piece, one));
      set({
        session,
        draft: null,
        selected: there,
        ...(lost ? { inside: null, outside: [] } : {}),
        ...(there.length ? {} : { gathering: false }),
      });
      get().engine?.setPiece(viewOf(piece, get().inside));
      // What plays goes on with the piece as it is now: a marker dropped on the way, or an answer of the server, must not stop it.
      if (!playing) moveTo(playhead);
    },
    onLost: (sentence) => say(`One change could not be kept (it stands under History): ${sentence}`),
    onGone: (sentence) => set({ failed: sentence }),
    onTrouble: (sentence) => say(sentence),
  });
  sync = mine;
  const stop = onPieceChanged((changed, revision) => (changed === id || changed === '*') && mine.catchUp(revision));
  mine.open().catch((error: unknown) => set({ failed: error instanceof CallFailed ? error.message : 'The piece could not be opened.' }));
  return () => {
    pause();
    stop();
    mine.close();
    if (sync !== mine) return; // another piece is open by now
    sync = null;
    set({ id: null, session: null, draft: null });
  };
}

/** The engine that shows the piece; null takes it away. */
export function setEngine(engine: PreviewEngine | null): void {
  set({ engine });
  const piece = currentPiece();
  if (engine && piece) {
    engine.setPiece(piece);
    engine.show(get().playhead);
  }
}

function told(outcome: Outcome | undefined): boolean {
  if (outcome && 'refused' in outcome) say(outcome.refused);
  return outcome !== undefined && !('refused' in outcome);
}

/** Makes several edits as one line of history, or says why not. */
export function together(title: string, edits: TogetherStep[]): boolean {
  set({ draft: null });
  return edits.length > 0 && told(sync?.together(title, edits));
}

/** Makes an edit, or says why not. Returns whether it was made. */
export function edit<N extends EditName>(name: N, params: EditParams<N>): boolean {
  set({ draft: null });
  return told(sync?.edit(name, params));
}

export function undo(): void {
  const outcome = sync?.undo();
  if (told(outcome) && outcome && 'title' in outcome) say(`Undone: ${outcome.title}`);
}

export function redo(): void {
  const outcome = sync?.redo();
  if (told(outcome) && outcome && 'title' in outcome) say(`Done again: ${outcome.title}`);
}

/** What could not be kept of this piece, last first. */
export const aside = () => sync?.aside ?? [];
/** Asks for such a change again, or says why it cannot be. */
export const tryAside = (id: string): boolean => told(sync?.tryAside(id));
export const forgetAside = (id: string): void => sync?.forgetAside(id);

/** How many edits can be taken back before those at hand, and what brings them here. */
export const undoDeeper = (): number => sync?.undoDeeper ?? 0;
export const showOlder = (): Promise<void> => sync?.showOlder() ?? Promise.resolve();

/** Undoes until an edit is the last one done; null undoes everything at hand. */
export function backTo(id: string | null): void {
  const { undo } = get().session?.current ?? { undo: [] };
  const index = id === null ? -1 : undo.findIndex((entry) => entry.id === id);
  const count = undo.length - 1 - index;
  for (let i = 0; i < count; i += 1) sync?.undo();
  if (count > 0) say(`${count === 1 ? 'One edit' : `${count} edits`} undone; redo brings them back.`);
}

/** Does undone edits again, up to this one. */
export function forwardTo(id: string): void {
  while (get().session?.current.redo.some((entry) => entry.id === id)) if (!told(sync?.redo())) return;
}

/**
 * Shows what an edit would do, without doing it, and the frame at a time of the result. Returns the piece it would be, or the
 * reason why it cannot be.
 */
export function tryEdit<N extends EditName>(name: N, params: EditParams<N>, lookAt: (piece: Piece) => Flicks | null): Piece | string {
  return trying(name, params, lookAt);
}

/** The same for several edits as one. */
export function tryTogether(title: string, edits: TogetherStep[], lookAt: (piece: Piece) => Flicks | null): Piece | string {
  return trying(TOGETHER, { title, edits }, lookAt);
}

/** What is shown as a draft, and what was asked for: a finger that moves within one frame asks for the same again. */
let tried: { on: Piece; asked: string; draft: Piece } | null = null;

function trying(name: string, params: unknown, lookAt: (piece: Piece) => Flicks | null): Piece | string {
  const { session, inside, draft: shown } = get();
  if (!session) return 'The piece is not open.';
  const on = session.current.piece;
  const asked = JSON.stringify([name, params]);
  if (shown && shown === tried?.draft && on === tried.on && asked === tried.asked) return viewOf(shown, inside);
  try {
    const draft = draftOf(on, name, params);
    tried = { on, asked, draft };
    set({ draft });
    const view = viewOf(draft, inside);
    const time = lookAt(view);
    if (time !== null) get().engine?.tryOut(view, time);
    return view;
  } catch (error) {
    if (error instanceof EditRefused) return error.message;
    throw error;
  }
}

/** Ends trying: the piece is shown as it is again. */
export function stopTrying(): void {
  const piece = currentPiece();
  set({ draft: null });
  if (piece) get().engine?.setPiece(piece);
  moveTo(get().playhead);
}

/** Moves the playhead to the nearest frame of the piece (its end included) and shows it. */
export function moveTo(time: Flicks): void {
  const piece = currentPiece();
  if (!piece) return;
  const playhead = Math.max(0, Math.min(toGrid(time, piece.format.rate), pieceLength(piece)));
  if (get().playing) get().engine?.pause();
  set({ playhead, playing: false });
  get().engine?.show(playhead);
}

export function step(frames: number): void {
  const piece = currentPiece();
  if (piece) moveTo(get().playhead + frames * frameLength(piece.format.rate));
}

export async function play(): Promise<void> {
  const { engine, playhead } = get();
  const piece = currentPiece();
  if (!engine || !piece || pieceLength(piece) === 0) return;
  const from = playhead >= pieceLength(piece) - frameLength(piece.format.rate) ? 0 : playhead;
  set({ playing: true, playhead: from });
  await engine.play(from).catch(() => {
    set({ playing: false });
    say('The sound could not be started. Touch the play button again.');
  });
}

export function pause(): void {
  const { engine, playing } = get();
  if (!playing) return;
  const now = engine?.now() ?? get().playhead;
  engine?.pause();
  set({ playing: false });
  moveTo(now);
}

/** Playing came to its end: that is where one stands then, whatever was last drawn on the way. */
export function playedOut(): void {
  const piece = currentPiece();
  set({ playing: false });
  if (piece) moveTo(pieceLength(piece));
}

export function togglePlay(): void {
  if (get().playing) pause();
  else void play();
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
