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

/** What came of an answer: the session after it, and what could not be kept, each with a sentence that says why. */
export interface SessionStep {
  session: Session;
  lost: { request: EditRequest; sentence: string }[];
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
 * refused, or knew already from another time. What is still pending is applied again on top; what no longer can be is dropped and named.
 */
export function takeIn(
  session: Session,
  entries: readonly LogEntry[],
  refused: readonly { id: string; sentence: string }[],
  known: readonly string[] = [],
): SessionStep {
  const fresh = entries.filter((entry) => entry.seq > session.confirmed.revision);
  const lost = refused.flatMap(({ id, sentence }) => session.pending.filter((p) => p.id === id).map((request) => ({ request, sentence })));
  const settled = new Set([...fresh.map((entry) => entry.id), ...refused.map((r) => r.id), ...known]);
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
      lost.push({ request, sentence: error.message });
    }
  }
  return { session: { confirmed, pending, current }, lost };
}
