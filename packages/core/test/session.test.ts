import fc from 'fast-check';
import { ask, carryOut, EditRefused, openSession, takeIn, type EditRequest, type Head, type LogEntry, type Session } from '../edits';
import { emptyPiece, paramsFor, uuid, wishes, type Wish } from './making';

/** A server as the real one works: carries requests out in order, once each, and answers with all since. */
class Server {
  head: Head = { piece: emptyPiece(), revision: 0, undo: [], redo: [] };
  log: LogEntry[] = [];

  edit(since: number, requests: readonly EditRequest[]) {
    const refused: { id: string; sentence: string }[] = [];
    for (const request of requests) {
      if (this.log.some((entry) => entry.id === request.id)) continue;
      try {
        const { head, entry } = carryOut(this.head, request, '2026-01-01T00:00:00.000Z');
        this.head = head;
        this.log.push(entry);
      } catch (error) {
        if (!(error instanceof EditRefused)) throw error;
        refused.push({ id: request.id, sentence: error.message });
      }
    }
    return { entries: JSON.parse(JSON.stringify(this.log.filter((e) => e.seq > since))) as LogEntry[], refused };
  }
}

const tryTo = (session: Session, request: EditRequest): Session => {
  try {
    return ask(session, request, '2026-01-01T00:00:00.000Z');
  } catch (error) {
    if (error instanceof EditRefused) return session;
    throw error;
  }
};

const doing = (session: Session, wish: Wish): EditRequest => ({
  kind: 'do',
  id: uuid(),
  name: wish.name,
  params: paramsFor(session.current.piece, wish),
});
const open = (server: Server) => openSession(JSON.parse(JSON.stringify(server.head)) as Head);

/** What one of two apps does next: an edit, undo, redo, or an exchange with the server whose answer may get lost. */
const acts = fc.array(
  fc.record({
    who: fc.nat(1),
    what: fc.constantFrom('edit', 'edit', 'edit', 'undo', 'redo', 'send', 'lose'),
    wish: wishes(1).filter((w) => w.length === 1),
  }),
  { maxLength: 60 },
);

describe('two apps and a server', () => {
  it('end with the same piece, whatever each did and whichever answers were lost', () => {
    fc.assert(
      fc.property(acts, (list) => {
        const server = new Server();
        const apps = [open(server), open(server)];
        const exchange = (who: number, lose: boolean) => {
          const app = apps[who]!;
          const answer = server.edit(app.confirmed.revision, app.pending);
          if (!lose) apps[who] = takeIn(app, answer.entries, answer.refused).session;
        };
        for (const { who, what, wish } of list) {
          const app = apps[who]!;
          const top = (what === 'undo' ? app.current.undo : app.current.redo).at(-1);
          if (what === 'send' || what === 'lose') exchange(who, what === 'lose');
          else if (what === 'edit') apps[who] = tryTo(app, doing(app, wish[0]!));
          else if (top && (what === 'undo' || what === 'redo')) apps[who] = tryTo(app, { kind: what, id: uuid(), target: top.id });
        }
        for (const who of [0, 1, 0]) exchange(who, false);
        for (const app of apps) {
          expect(app.pending).toEqual([]);
          expect(app.current.piece).toEqual(server.head.piece);
          expect(app.current.undo.map((e) => e.id)).toEqual(server.head.undo.map((e) => e.id));
        }
      }),
      { numRuns: 120 },
    );
  });

  it('shows one’s own edit at once and keeps it when the answer comes', () => {
    const server = new Server();
    let app = open(server);
    app = tryTo(app, { kind: 'do', id: uuid(), name: 'rename', params: { clip: null, name: 'Kites' } });
    expect(app.current.piece.name).toBe('Kites');
    const { entries, refused } = server.edit(0, app.pending);
    const step = takeIn(app, entries, refused);
    expect(step.session.pending).toEqual([]);
    expect(step.session.current.piece.name).toBe('Kites');
  });
});

describe('undo', () => {
  it('goes back through every edit to the first document, and forward again to the last', () => {
    fc.assert(
      fc.property(wishes(30), (list) => {
        let head: Head = { piece: emptyPiece(), revision: 0, undo: [], redo: [] };
        const start = JSON.stringify(head.piece);
        for (const wish of list)
          try {
            head = carryOut(head, { kind: 'do', id: uuid(), name: wish.name, params: paramsFor(head.piece, wish) }, '').head;
          } catch (error) {
            if (!(error instanceof EditRefused)) throw error;
          }
        const end = head.piece;
        const made = head.undo.length;
        while (head.undo.length > 0) head = carryOut(head, { kind: 'undo', id: uuid(), target: head.undo.at(-1)!.id }, '').head;
        expect(JSON.stringify(head.piece)).toBe(start);
        while (head.redo.length > 0) head = carryOut(head, { kind: 'redo', id: uuid(), target: head.redo.at(-1)!.id }, '').head;
        expect(head.piece).toEqual(end);
        expect(head.undo.length).toBe(made);
      }),
      { numRuns: 60 },
    );
  });

  it('refuses to take back an edit that is not the last one any more', () => {
    const server = new Server();
    const first = uuid();
    server.edit(0, [
      { kind: 'do', id: first, name: 'rename', params: { clip: null, name: 'A' } },
      { kind: 'do', id: uuid(), name: 'rename', params: { clip: null, name: 'B' } },
    ]);
    expect(server.edit(0, [{ kind: 'undo', id: uuid(), target: first }]).refused[0]?.sentence).toMatch(/came in between/);
    expect(server.head.piece.name).toBe('B');
  });
});
