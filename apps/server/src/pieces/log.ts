import { LAST_REVISION } from '@flimzy/contract';
import { applyEntries, type Head, type LogEntry } from '@flimzy/core/edits';
import { Piece } from '@flimzy/core/piece';
import { and, asc, desc, eq, gt, inArray, lte, ne, notInArray } from 'drizzle-orm';
import type { Database } from '../db/open';
import { edits, snapshots } from '../db/schema';
import { folded, taken, under, height, pushed, type Runs } from './runs';

/** Entries of either stack that are at hand; deeper ones are read when they are reached. */
export const STACK_SENT = 200;
const STACK_HELD = 2 * STACK_SENT;

/** Snapshots of late that are all kept, and one for every so many edits before. */
const LATE_KEPT = 10;
const EARLY_EVERY = 1000;

/** A piece as it is now: its head with the tops of its stacks, and what is under them. */
export interface Held {
  head: Head;
  undo: Runs;
  redo: Runs;
}

export const noStacks = { undo: [] as Runs, redo: [] as Runs };

export function entryOf(row: typeof edits.$inferSelect): LogEntry {
  const { piece: _piece, at, ...entry } = row;
  return { ...entry, at: at.toISOString() };
}

/** Reads a piece from its log: a snapshot, the edits after it, and the tops of its stacks; never the whole log. */
export class PieceLog {
  constructor(private readonly db: Database) {}

  /** The piece as it is now; null when there is none. */
  async read(id: string): Promise<Held | null> {
    const [snapshot] = await this.db.select().from(snapshots).where(eq(snapshots.piece, id)).orderBy(desc(snapshots.revision)).limit(1);
    if (!snapshot) return null;
    const tail = await this.between(id, snapshot.revision);
    const start =
      snapshot.revision === 0
        ? noStacks
        : snapshot.undo && snapshot.redo
          ? { undo: snapshot.undo, redo: snapshot.redo }
          : await this.foldAll(id, snapshot.revision);
    const stacks = tail.reduce(folded, start);
    const piece = applyEntries(Piece.parse(snapshot.document), tail);
    const revision = tail.at(-1)?.seq ?? snapshot.revision;
    return this.filled(id, { head: { piece, revision, undo: [], redo: [] }, ...stacks });
  }

  /** The document as it was at a revision; null when the piece is not there. */
  async documentAt(id: string, revision: number): Promise<Piece | null> {
    const [snapshot] = await this.db
      .select()
      .from(snapshots)
      .where(and(eq(snapshots.piece, id), lte(snapshots.revision, revision)))
      .orderBy(desc(snapshots.revision))
      .limit(1);
    return snapshot ? applyEntries(Piece.parse(snapshot.document), await this.between(id, snapshot.revision, revision)) : null;
  }

  /** The entries after a revision, up to another. */
  async between(id: string, after: number, upTo = LAST_REVISION): Promise<LogEntry[]> {
    const rows = await this.db
      .select()
      .from(edits)
      .where(and(eq(edits.piece, id), gt(edits.seq, after), lte(edits.seq, upTo)))
      .orderBy(asc(edits.seq));
    return rows.map(entryOf);
  }

  /** Which of these ids the log holds, at any revision. */
  async known(id: string, ids: readonly string[]): Promise<Set<string>> {
    if (ids.length === 0) return new Set();
    const rows = await this.db
      .select({ id: edits.id })
      .from(edits)
      .where(and(eq(edits.piece, id), inArray(edits.id, [...ids])));
    return new Set(rows.map((row) => row.id));
  }

  /** The rows of the log with these ids. */
  async rows(id: string, ids: readonly string[]): Promise<(typeof edits.$inferSelect)[]> {
    return this.db
      .select()
      .from(edits)
      .where(and(eq(edits.piece, id), inArray(edits.id, [...ids])));
  }

  /** The stacks of a log from before they were kept with snapshots. */
  private async foldAll(id: string, upTo: number): Promise<{ undo: Runs; redo: Runs }> {
    const rows = await this.db
      .select({ seq: edits.seq, kind: edits.kind })
      .from(edits)
      .where(and(eq(edits.piece, id), lte(edits.seq, upTo)))
      .orderBy(asc(edits.seq));
    return rows.reduce(folded, noStacks);
  }

  private async entries(id: string, numbers: readonly number[]): Promise<LogEntry[]> {
    if (numbers.length === 0) return [];
    const rows = await this.db
      .select()
      .from(edits)
      .where(and(eq(edits.piece, id), inArray(edits.seq, [...numbers])));
    const found = new Map(rows.map((row) => [row.seq, entryOf(row)]));
    return numbers.flatMap((n) => found.get(n) ?? []);
  }

  /** With something at hand on both stacks, where there is anything under them. */
  async filled(id: string, held: Held): Promise<Held> {
    const { head } = held;
    let [undo, redo] = [held.undo, held.redo];
    let [undoTop, redoTop] = [head.undo, head.redo];
    if (undoTop.length === 0 && undo.length > 0) {
      const { top, rest } = taken(undo, STACK_SENT);
      [undoTop, undo] = [await this.entries(id, top), rest];
    }
    if (redoTop.length === 0 && redo.length > 0) {
      const { top, rest } = taken(redo, STACK_SENT);
      [redoTop, redo] = [await this.entries(id, top), rest];
    }
    return { head: { ...head, undo: undoTop, redo: redoTop }, undo, redo };
  }

  /** Entries of a stack under one of them, the nearest last. */
  async deeper(id: string, held: Held, stack: 'undo' | 'redo', below: number): Promise<LogEntry[]> {
    return this.entries(id, taken(under(wholeStack(held)[stack], below), STACK_SENT).top);
  }

  /** Removes snapshots that nobody needs: of the older ones, all but one for every thousand edits. */
  async thin(id: string): Promise<void> {
    const rows = await this.db
      .select({ revision: snapshots.revision })
      .from(snapshots)
      .where(eq(snapshots.piece, id))
      .orderBy(desc(snapshots.revision));
    const revisions = rows.map((row) => row.revision);
    const early = new Map(revisions.slice(LATE_KEPT).map((n) => [Math.floor(n / EARLY_EVERY), n])); // the last set is the lowest
    const keep = [...revisions.slice(0, LATE_KEPT), ...early.values()];
    if (keep.length === revisions.length) return;
    await this.db.delete(snapshots).where(and(eq(snapshots.piece, id), ne(snapshots.revision, 0), notInArray(snapshots.revision, keep)));
  }
}

/** Both stacks whole, as log numbers. */
export function wholeStack({ head, undo, redo }: Held): { undo: Runs; redo: Runs } {
  const on = (runs: Runs, top: readonly LogEntry[]) => top.reduce((all, entry) => pushed(all, entry.seq), runs);
  return { undo: on(undo, head.undo), redo: on(redo, head.redo) };
}

/** How many can be taken back, and done again. */
export function depths(held: Held): { undoDepth: number; redoDepth: number } {
  return { undoDepth: height(held.undo) + held.head.undo.length, redoDepth: height(held.redo) + held.head.redo.length };
}

/** The same, with no more of the stacks at hand than is used. */
export function trimmed(held: Held): Held {
  const { head } = held;
  if (head.undo.length <= STACK_HELD) return held;
  const under = head.undo.slice(0, -STACK_SENT).reduce((runs, entry) => pushed(runs, entry.seq), held.undo);
  return { ...held, head: { ...head, undo: head.undo.slice(-STACK_SENT) }, undo: under };
}
