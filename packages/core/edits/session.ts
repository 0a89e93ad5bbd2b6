import type { EditRequest, LogEntry } from './apply';
import { applyEntries } from './apply';
import { EditRefused } from './edit';
import { carryOut, pushEntry, type Head, type Stacks } from './history';

/** The app's side of a piece: what the server has confirmed, and what was asked for since. */
export interface Session {
  confirmed: Head;
  /** Asked for and applied here, not yet confirmed; in order. */
  pending: readonly EditRequest[];
  /** The confirmed piece with everything pending applied: what is shown. */
  current: Head;
}

/** What came of a request or an answer: the session after it, and sentences for what could not be kept. */
export interface SessionStep {
  session: Session;
  lost: string[];
}

export function openSession(head: Head): Session {
  return { confirmed: head, pending: [], current: head };
}

/** Applies a request here, at once. @throws EditRefused, and nothing has changed. */
export function ask(session: Session, request: EditRequest, at: string): Session {
  const { head } = carryOut(session.current, request, at);
  return { ...session, pending: [...session.pending, request], current: head };
}

/**
 * Takes in what the server answered: the entries after our confirmed revision (others' and our own), and the requests it
 * refused. What is still pending is applied again on top; what no longer can be is dropped and named.
 */
export function takeIn(session: Session, entries: readonly LogEntry[], refused: readonly { id: string; sentence: string }[]): SessionStep {
  const fresh = entries.filter((entry) => entry.seq > session.confirmed.revision);
  const lost = refused.filter((r) => session.pending.some((p) => p.id === r.id)).map((r) => r.sentence);
  const settled = new Set([...fresh.map((entry) => entry.id), ...refused.map((r) => r.id)]);
  const last = fresh.at(-1);
  const confirmed: Head = last
    ? { ...fresh.reduce<Stacks>(pushEntry, session.confirmed), piece: applyEntries(session.confirmed.piece, fresh), revision: last.seq }
    : session.confirmed;
  let current = confirmed;
  const pending: EditRequest[] = [];
  for (const request of session.pending) {
    if (settled.has(request.id)) continue;
    try {
      current = carryOut(current, request, new Date(0).toISOString()).head;
      pending.push(request);
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
      lost.push(error.message);
    }
  }
  return { session: { confirmed, pending, current }, lost };
}
