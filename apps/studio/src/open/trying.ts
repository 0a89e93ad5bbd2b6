import { draftOf, EditRefused, TOGETHER, type EditName, type EditParams, type TogetherStep } from '@flimzy/core/edits';
import type { Piece } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { moveTo } from './playing';
import { currentPiece, useEditor } from './state';
import { viewOf } from './view';

const get = useEditor.getState;
const set = useEditor.setState;

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
