import {
  ask,
  EditRefused,
  EditRequest,
  editRequest,
  openSession,
  takeIn,
  togetherRequest,
  type EditName,
  type EditParams,
  type LogEntry,
  type Session,
  type TogetherStep,
} from '@flimzy/core/edits';
import { z } from 'zod';
import { call, CallFailed } from '../api/client';

/** How long to wait before asking a server again that did not answer, in ms. */
const AGAIN = 3000;

/** Undo entries left at which older ones are fetched. */
const UNDO_LOW = 20;

/** What came of trying to change the piece: an edit's title, or why it was not made. */
export type Outcome = { title: string } | { refused: string };

/** Keeps the app's side of one piece: applies edits at once, sends them, takes in what others did. Nothing unsent is lost when the page closes. */
export class PieceSync {
  private session: Session | null = null;
  private sending = false;
  private closed = false;
  private olderUndo = 0;
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(
    readonly id: string,
    private readonly listener: {
      onChange: (session: Session) => void;
      onLost: (sentence: string) => void;
      onGone: (sentence: string) => void;
    },
  ) {}

  private get key(): string {
    return `flimzy.unsent.${this.id}`;
  }

  /** Opens the piece and applies what an earlier page could not send. @throws CallFailed */
  async open(): Promise<void> {
    const { piece, revision, undo, redo, undoDepth } = await call('openPiece', { params: { id: this.id } });
    if (this.closed) return;
    let session = openSession({ piece, revision, undo, redo });
    this.olderUndo = undoDepth - undo.length;
    const kept = z.array(EditRequest).safeParse(JSON.parse(localStorage.getItem(this.key) ?? '[]'));
    for (const request of kept.data ?? []) {
      if (undo.some((entry) => entry.id === request.id)) continue;
      try {
        session = ask(session, request, new Date().toISOString());
      } catch (error) {
        if (!(error instanceof EditRefused)) throw error;
        this.listener.onLost(error.message);
      }
    }
    this.set(session);
    void this.send();
  }

  private set(session: Session): void {
    this.session = session;
    if (session.pending.length > 0) localStorage.setItem(this.key, JSON.stringify(session.pending));
    else localStorage.removeItem(this.key);
    this.listener.onChange(session);
  }

  private request(request: EditRequest, title: string): Outcome {
    if (!this.session) return { refused: 'The piece is not open yet.' };
    try {
      this.set(ask(this.session, request, new Date().toISOString()));
    } catch (error) {
      if (error instanceof EditRefused) return { refused: error.message };
      throw error;
    }
    void this.send();
    return { title };
  }

  /** Makes an edit. */
  edit<N extends EditName>(name: N, params: EditParams<N>): Outcome {
    const outcome = this.request(editRequest(crypto.randomUUID(), name, params), '');
    return 'refused' in outcome ? outcome : { title: this.session?.current.undo.at(-1)?.title ?? name };
  }

  /** Makes several edits as one. */
  together(title: string, edits: TogetherStep[]): Outcome {
    const outcome = this.request(togetherRequest(crypto.randomUUID(), title, edits), '');
    return 'refused' in outcome ? outcome : { title };
  }

  undo(): Outcome {
    const target = this.session?.current.undo.at(-1);
    if (!target) return { refused: 'There is nothing to undo.' };
    return this.request({ kind: 'undo', id: crypto.randomUUID(), target: target.id }, target.title);
  }

  redo(): Outcome {
    const target = this.session?.current.redo.at(-1);
    if (!target) return { refused: 'There is nothing to redo.' };
    return this.request({ kind: 'redo', id: crypto.randomUUID(), target: target.id }, target.title);
  }

  /** Asks for what others did, if there is anything after our revision. */
  catchUp(revision: number): void {
    if (!this.session || (revision !== 0 && revision <= this.session.confirmed.revision)) return;
    void this.send(true);
  }

  /** Sends all that is pending, until nothing is. */
  private async send(evenNothing = false): Promise<void> {
    if (this.sending || this.closed) return;
    this.sending = true;
    if (this.timer) clearTimeout(this.timer);
    let first = evenNothing;
    try {
      while (this.session && !this.closed && (first || this.session.pending.length > 0)) {
        first = false;
        const { entries, refused } = await call('editPiece', {
          params: { id: this.id },
          body: { since: this.session.confirmed.revision, requests: this.session.pending.slice(0, 200) },
        });
        const step = takeIn(this.session, entries, refused);
        this.set(step.session);
        for (const sentence of step.lost) this.listener.onLost(sentence);
      }
      await this.fetchOlderUndo();
    } catch (error) {
      if (!(error instanceof CallFailed)) throw error;
      if (error.status === 404) this.listener.onGone(error.message);
      else if (!this.closed) this.timer = setTimeout(() => void this.send(true), AGAIN);
    } finally {
      this.sending = false;
    }
  }

  /** Undo has no end: when the entries at hand run low, older ones are fetched. */
  private async fetchOlderUndo(): Promise<void> {
    const { session } = this;
    const oldest = session?.confirmed.undo[0];
    if (!session || !oldest || this.olderUndo <= 0 || session.confirmed.undo.length > UNDO_LOW) return;
    const older: LogEntry[] = await call('olderEdits', { params: { id: this.id }, query: { before: oldest.seq } });
    this.olderUndo -= older.length;
    const grow = <H extends { undo: readonly LogEntry[] }>(head: H): H => ({ ...head, undo: [...older, ...head.undo] });
    if (this.session) this.set({ ...this.session, confirmed: grow(this.session.confirmed), current: grow(this.session.current) });
  }

  close(): void {
    this.closed = true;
    if (this.timer) clearTimeout(this.timer);
  }
}
