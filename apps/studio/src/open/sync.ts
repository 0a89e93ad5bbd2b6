import { BATCH_WEIGHT } from '@flimzy/contract';
import {
  ask,
  EditRefused,
  EDITS,
  editRequest,
  isEditName,
  openSession,
  takeIn,
  TOGETHER,
  togetherRequest,
  weightOf,
  type EditName,
  type EditParams,
  type EditRequest,
  type LogEntry,
  type Session,
  type SessionStep,
  type TogetherStep,
} from '@flimzy/core/edits';
import { v4 as uuid } from 'uuid';
import { call, CallFailed } from '../api/client';
import { Unsent, type Aside } from './unsent';

/** How long to wait before asking a server again that did not answer, in ms. */
const AGAIN = 3000;

/** Entries of a stack left at which deeper ones are fetched. */
const LOW = 20;

/** Most requests sent at once, and how often an error of the server's own is asked about again before a request is set aside. */
const MOST = 200;
const TRIES = 3;

/** Answers after which the same request may yet be taken: nobody there, too slow, too often, or a disk that is full for now. */
const PASSING = new Set([0, 401, 408, 429, 502, 503, 504, 507]);

/** What came of trying to change the piece: an edit's title, or why it was not made. */
export type Outcome = { title: string } | { refused: string };

type Stack = 'undo' | 'redo';

/** Keeps the app's side of one piece: applies edits at once, sends them, takes in what others did. Nothing unsent is lost when the page closes. */
export class PieceSync {
  private session: Session | null = null;
  private sending = false;
  /** The revision that the server told of while something was on its way; Infinity for any. */
  private behind = 0;
  private closed = false;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private readonly unsent: Unsent;
  /** How many entries of each stack lie deeper than those at hand, and the deepest that was ever at hand. */
  private readonly deeper = { undo: 0, redo: 0 };
  private readonly deepest: Record<Stack, number | null> = { undo: null, redo: null };
  /** Requests in the next batch: fewer after a batch that was not taken, until the one that is to blame is found. */
  private batch = MOST;
  private failures = 0;
  private roomSaid = false;

  constructor(
    readonly id: string,
    private readonly listener: {
      onChange: (session: Session) => void;
      /** A change could not be kept; it is set aside. */
      onLost: (sentence: string) => void;
      onGone: (sentence: string) => void;
      /** Something that the person should know of. */
      onTrouble: (sentence: string) => void;
    },
  ) {
    this.unsent = new Unsent(id);
  }

  /** Opens the piece and applies what an earlier page could not send. @throws CallFailed */
  async open(): Promise<void> {
    const { piece, revision, undo, redo, undoDepth, redoDepth } = await call('openPiece', { params: { id: this.id } });
    if (this.closed) return;
    let session = openSession({ piece, revision, undo, redo });
    Object.assign(this.deeper, { undo: undoDepth - undo.length, redo: redoDepth - redo.length });
    Object.assign(this.deepest, { undo: undo[0]?.seq ?? null, redo: redo[0]?.seq ?? null });
    const there = new Set([...undo, ...redo].map((entry) => entry.id));
    const lost: SessionStep['lost'] = [];
    for (const request of await this.unsent.takeOver()) {
      if (there.has(request.id)) continue;
      try {
        session = ask(session, request, new Date().toISOString());
      } catch (error) {
        if (!(error instanceof EditRefused)) throw error;
        lost.push({ request, sentence: error.message });
      }
    }
    if (this.closed) return;
    this.set(session);
    this.lose(lost);
    void this.send();
  }

  private set(session: Session): void {
    this.session = session;
    if (!this.unsent.keep(session.pending)) {
      if (!this.roomSaid)
        this.listener.onTrouble('This device has no room left to keep what is not sent yet. Stay on this page until it says it is saved.');
      this.roomSaid = true;
    } else this.roomSaid = false;
    this.listener.onChange(session);
  }

  /** Sets aside what could not be kept, and says so. */
  private lose(lost: SessionStep['lost']): void {
    for (const { request, sentence } of lost) {
      if (request.kind === 'do') this.unsent.setAside({ request, title: this.titleOf(request), sentence, at: new Date().toISOString() });
      this.listener.onLost(sentence);
    }
  }

  private titleOf({ name, params }: Extract<EditRequest, { kind: 'do' }>): string {
    if (name === TOGETHER) return (params as { title?: string } | null)?.title ?? 'Several changes';
    try {
      return this.session && isEditName(name) ? EDITS[name].title(params as never, this.session.current.piece) : name;
    } catch {
      return name;
    }
  }

  /** What could not be kept, last first. */
  get aside(): Aside[] {
    return this.unsent.aside;
  }

  /** Asks for a change again that could not be kept. */
  tryAside(id: string): Outcome {
    const found = this.unsent.aside.find((one) => one.request.id === id);
    if (!found || found.request.kind !== 'do') return { refused: 'It is no longer there.' };
    const outcome = this.request({ ...found.request, id: uuid() }, found.title);
    if ('title' in outcome) this.unsent.takeBack(id);
    return outcome;
  }

  forgetAside(id: string): void {
    this.unsent.takeBack(id);
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
    const outcome = this.request(editRequest(uuid(), name, params), '');
    return 'refused' in outcome ? outcome : { title: this.session?.current.undo.at(-1)?.title ?? name };
  }

  /** Makes several edits as one. */
  together(title: string, edits: TogetherStep[]): Outcome {
    const outcome = this.request(togetherRequest(uuid(), title, edits), '');
    return 'refused' in outcome ? outcome : { title };
  }

  undo(): Outcome {
    const target = this.session?.current.undo.at(-1);
    if (!target) return { refused: 'There is nothing to undo.' };
    return this.request({ kind: 'undo', id: uuid(), target: target.id }, target.title);
  }

  redo(): Outcome {
    const target = this.session?.current.redo.at(-1);
    if (!target) return { refused: 'There is nothing to redo.' };
    return this.request({ kind: 'redo', id: uuid(), target: target.id }, target.title);
  }

  /** Asks for what others did, if there is anything after our revision. */
  catchUp(revision: number): void {
    if (!this.session || (revision !== 0 && revision <= this.session.confirmed.revision)) return;
    // What is on its way may have been answered before this was done: it is asked for once more.
    if (this.sending) this.behind = revision === 0 ? Infinity : Math.max(this.behind, revision);
    else void this.send(true);
  }

  /** How many edits can be taken back before those at hand. */
  get undoDeeper(): number {
    return this.deeper.undo;
  }

  /** Whether the server said meanwhile that it has more. */
  private get isBehind(): boolean {
    return this.session !== null && this.behind > this.session.confirmed.revision;
  }

  /** Sends all that is pending, until nothing is. */
  private async send(evenNothing = false): Promise<void> {
    if (this.sending || this.closed) return;
    this.sending = true;
    if (this.timer) clearTimeout(this.timer);
    let first = evenNothing;
    try {
      while (this.session && !this.closed && (first || this.isBehind || this.session.pending.length > 0)) {
        first = false;
        this.behind = 0;
        await this.sendSome(this.nextBatch());
      }
      for (const stack of ['undo', 'redo'] as const) await this.fetchDeeper(stack);
      this.sending = false;
      if (this.isBehind || (this.session && this.session.pending.length > 0)) void this.send(); // made while deeper entries were fetched
    } catch (error) {
      this.sending = false;
      if (!(error instanceof CallFailed)) throw error;
      if (error.status === 404) this.listener.onGone(error.message);
      else if (!this.closed) {
        if (error.status === 507) this.listener.onTrouble(error.message);
        this.timer = setTimeout(() => void this.send(true), AGAIN);
      }
    }
  }

  /** The first of what is pending, as much as may be asked for at once. */
  private nextBatch(): EditRequest[] {
    const some: EditRequest[] = [];
    let weight = 0;
    for (const request of this.session?.pending ?? []) {
      weight += weightOf(request);
      if (some.length > 0 && (some.length >= this.batch || weight > BATCH_WEIGHT)) break;
      some.push(request);
    }
    return some;
  }

  /** Sends a batch. One that is not taken is halved until it is one request, which is set aside: what comes after it must go on. */
  private async sendSome(requests: EditRequest[]): Promise<void> {
    if (!this.session) return;
    const body = { since: this.session.confirmed.revision, requests };
    try {
      const { entries, refused, known } = await call('editPiece', { params: { id: this.id }, body });
      this.failures = 0;
      this.batch = Math.min(MOST, this.batch * 2);
      this.settle(entries, refused, known);
    } catch (error) {
      if (!(error instanceof CallFailed) || PASSING.has(error.status) || error.status === 404) throw error;
      if (error.status >= 500 && (this.failures += 1) < TRIES) throw error;
      this.failures = 0;
      const [only] = requests;
      if (!only) throw error;
      if (requests.length > 1) this.batch = Math.ceil(requests.length / 2);
      else this.settle([], [{ id: only.id, sentence: error.message }], []);
    }
  }

  private settle(entries: readonly LogEntry[], refused: { id: string; sentence: string }[], known: readonly string[]): void {
    if (!this.session) return;
    if (entries.some((entry) => entry.kind === 'do')) this.deeper.redo = 0; // a new edit clears what could be done again
    const step = takeIn(this.session, entries, refused, known);
    this.set(step.session);
    this.lose(step.lost);
  }

  /** Undo and redo have no end: when the entries at hand run low, deeper ones are fetched. */
  private async fetchDeeper(stack: Stack): Promise<void> {
    const { session } = this;
    if (!session || session.confirmed[stack].length > LOW) return;
    await this.fetchBelow(stack);
  }

  /** Fetches what lies under the deepest entry at hand. */
  private async fetchBelow(stack: Stack): Promise<void> {
    const below = this.deepest[stack];
    if (below === null || this.deeper[stack] <= 0) return;
    const older: LogEntry[] = await call('olderEdits', { params: { id: this.id }, query: { stack, below } });
    this.deeper[stack] = older.length === 0 ? 0 : this.deeper[stack] - older.length;
    this.deepest[stack] = older[0]?.seq ?? below;
    const grow = <H extends Record<Stack, readonly LogEntry[]>>(head: H): H => {
      const there = new Set(head[stack].map((entry) => entry.id));
      return { ...head, [stack]: [...older.filter((entry) => !there.has(entry.id)), ...head[stack]] };
    };
    if (this.session) this.set({ ...this.session, confirmed: grow(this.session.confirmed), current: grow(this.session.current) });
  }

  /** Fetches older edits now, to be looked at. @throws CallFailed */
  showOlder(): Promise<void> {
    return this.fetchBelow('undo');
  }

  close(): void {
    this.closed = true;
    if (this.timer) clearTimeout(this.timer);
  }
}
