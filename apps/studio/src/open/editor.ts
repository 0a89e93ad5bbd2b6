import type { EditName, EditParams, TogetherStep } from '@flimzy/core/edits';
import { findClip } from '@flimzy/core/piece';
import { calmDown, hurry } from '../api/calm';
import { onPieceChanged } from '../api/events';
import { CallFailed } from '../api/client';
import { say } from '../look/Toast';
import { givePiece, moveTo, pause } from './playing';
import { NOTHING, useEditor } from './state';
import { PieceSync, type Outcome } from './sync';

export * from './state';
export * from './playing';
export * from './trying';

const get = useEditor.getState;
const set = useEditor.setState;
let sync: PieceSync | null = null;

/** Opens a piece in the editor. Returns what closes it again. */
export function openEditor(id: string): () => void {
  set({ id, session: null, draft: null, failed: null, ...NOTHING, playhead: 0, playing: false, shown: null });
  hurry();
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
      givePiece();
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
    calmDown();
    if (sync !== mine) return; // another piece is open by now
    sync = null;
    set({ id: null, session: null, draft: null });
  };
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
