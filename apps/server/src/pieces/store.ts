import { randomUUID } from 'node:crypto';
import type { EditAnswer, NewPiece, OpenedPiece, PieceSummary, Version } from '@flimzy/contract';
import { applyEntries, carryOut, EditRefused, foldLog, type EditRequest, type Head, type LogEntry } from '@flimzy/core/edits';
import { newPiece, Piece, pieceLength, timelines } from '@flimzy/core/piece';
import { and, asc, desc, eq, gt, isNull, lte } from 'drizzle-orm';
import type { Database } from '../db/open';
import { edits, pieces, snapshots, versions } from '../db/schema';
import type { EventHub } from '../events/hub';
import { ProblemError } from '../http/problem';

/** A whole document is kept every so many edits. */
const SNAPSHOT_EVERY = 50;

/** Undo entries sent when a piece is opened; older ones are fetched when they are reached. */
const UNDO_SENT = 200;

/** Open pieces kept in memory. */
const HEADS_KEPT = 24;

type Row = typeof pieces.$inferSelect;
type VersionRow = typeof versions.$inferSelect;

/** Pieces, their edit logs and snapshots: the authority on what a piece is. */
export class PieceStore {
  private readonly heads = new Map<string, Head>();
  private readonly turns = new Map<string, Promise<unknown>>();

  constructor(
    private readonly db: Database,
    private readonly hub: EventHub,
  ) {}

  async list(): Promise<PieceSummary[]> {
    const rows = await this.db.select().from(pieces).where(isNull(pieces.deletedAt)).orderBy(desc(pieces.changedAt), pieces.id);
    return rows.map(summary);
  }

  async create({ name, format, rateChosen }: NewPiece): Promise<PieceSummary> {
    return this.insert(newPiece(randomUUID(), name, format, rateChosen));
  }

  /** Stores a document as a new piece at revision 0. */
  async insert(document: Piece): Promise<PieceSummary> {
    return this.db.transaction(async (tx) => {
      const [row] = await tx
        .insert(pieces)
        .values({ id: document.id, revision: 0, ...shown(document) })
        .returning();
      await tx.insert(snapshots).values({ piece: document.id, revision: 0, document });
      return summary(row as Row);
    });
  }

  async copy(id: string): Promise<PieceSummary> {
    const { piece } = await this.head(id);
    return this.insert({ ...piece, id: randomUUID(), name: `${piece.name} copy`.slice(0, 120) });
  }

  async versions(id: string): Promise<Version[]> {
    const rows = await this.db.select().from(versions).where(eq(versions.piece, id)).orderBy(desc(versions.at), desc(versions.revision));
    return rows.map(shownVersion);
  }

  /** Names the piece as it is now. */
  async saveVersion(id: string, name: string): Promise<Version> {
    const { revision } = await this.head(id);
    const [row] = await this.db.insert(versions).values({ id: randomUUID(), piece: id, name, revision }).returning();
    return shownVersion(row as VersionRow);
  }

  /** A piece of its own from a named version. @throws ProblemError `not-found` */
  async copyVersion(id: string, version: string): Promise<PieceSummary> {
    const row = await this.version(id, version);
    const piece = await this.documentAt(id, row.revision);
    return this.insert({ ...piece, id: randomUUID(), name: `${piece.name} (${row.name})`.slice(0, 120) });
  }

  async deleteVersion(id: string, version: string): Promise<Version> {
    const row = await this.version(id, version);
    await this.db.delete(versions).where(eq(versions.id, row.id));
    return shownVersion(row);
  }

  private async version(id: string, version: string): Promise<VersionRow> {
    const [row] = await this.db
      .select()
      .from(versions)
      .where(and(eq(versions.piece, id), eq(versions.id, version)));
    if (!row) throw new ProblemError('not-found', 'That version does not exist.');
    return row;
  }

  /** The document as it was at a revision: the last snapshot before it and the edits from there. */
  private async documentAt(id: string, revision: number): Promise<Piece> {
    const [snapshot] = await this.db
      .select()
      .from(snapshots)
      .where(and(eq(snapshots.piece, id), lte(snapshots.revision, revision)))
      .orderBy(desc(snapshots.revision))
      .limit(1);
    if (!snapshot) throw missing();
    const log = await this.db
      .select()
      .from(edits)
      .where(and(eq(edits.piece, id), gt(edits.seq, snapshot.revision), lte(edits.seq, revision)))
      .orderBy(asc(edits.seq));
    return applyEntries(Piece.parse(snapshot.document), log.map(entryOf));
  }

  /** The pieces whose clips use a media item, within nests too. */
  async usesOf(media: string): Promise<{ piece: string; name: string; clips: number }[]> {
    const uses = [];
    for (const { id, name } of await this.list()) {
      const { piece } = await this.head(id);
      const clips = timelines(piece).flatMap(([, t]) => t.tracks.flatMap((track) => track.clips.filter((c) => c.media === media))).length;
      if (clips > 0) uses.push({ piece: id, name, clips });
    }
    return uses;
  }

  async setDeleted(id: string, deleted: boolean): Promise<PieceSummary> {
    const [row] = await this.db
      .update(pieces)
      .set({ deletedAt: deleted ? new Date() : null })
      .where(eq(pieces.id, id))
      .returning();
    if (!row) throw missing();
    this.hub.tell({ type: 'piece', id, revision: row.revision });
    return summary(row);
  }

  /** The document with the ends of its stacks. */
  async open(id: string): Promise<OpenedPiece> {
    const head = await this.head(id);
    return {
      piece: head.piece,
      revision: head.revision,
      undo: head.undo.slice(-UNDO_SENT),
      redo: [...head.redo],
      undoDepth: head.undo.length,
    };
  }

  async olderUndo(id: string, before: number): Promise<LogEntry[]> {
    return (await this.head(id)).undo.filter((entry) => entry.seq < before).slice(-UNDO_SENT);
  }

  /** The piece as it is now. @throws ProblemError `not-found` */
  async head(id: string): Promise<Head> {
    const kept = this.heads.get(id);
    if (kept) return kept;
    const [snapshot] = await this.db.select().from(snapshots).where(eq(snapshots.piece, id)).orderBy(desc(snapshots.revision)).limit(1);
    if (!snapshot) throw missing();
    const log = (await this.db.select().from(edits).where(eq(edits.piece, id)).orderBy(asc(edits.seq))).map(entryOf);
    const piece = applyEntries(
      Piece.parse(snapshot.document),
      log.filter((entry) => entry.seq > snapshot.revision),
    );
    return this.keep(id, { ...foldLog(log), piece, revision: log.at(-1)?.seq ?? 0 });
  }

  /** Carries out requests one after the other; a request already in the log is not done again. */
  edit(id: string, since: number, requests: readonly EditRequest[]): Promise<EditAnswer> {
    return this.inTurn(id, async () => {
      let head = await this.head(id);
      const before = head.revision;
      const refused: EditAnswer['refused'] = [];
      const fresh: LogEntry[] = [];
      const known = requests.length > 0 ? await this.knownIds(id, since) : new Set<string>();
      for (const request of requests) {
        if (known.has(request.id)) continue;
        try {
          const step = carryOut(head, request, new Date().toISOString());
          head = step.head;
          fresh.push(step.entry);
        } catch (error) {
          if (!(error instanceof EditRefused)) throw error;
          refused.push({ id: request.id, sentence: error.message });
        }
      }
      if (fresh.length > 0) {
        await this.write(id, head, fresh);
        this.keep(id, head);
        this.hub.tell({ type: 'piece', id, revision: head.revision });
      }
      const missed =
        since < before
          ? (
              await this.db
                .select()
                .from(edits)
                .where(and(eq(edits.piece, id), gt(edits.seq, since)))
                .orderBy(asc(edits.seq))
            ).map(entryOf)
          : fresh;
      return { entries: missed, refused };
    });
  }

  private async write(id: string, head: Head, fresh: readonly LogEntry[]): Promise<void> {
    await this.db.transaction(async (tx) => {
      await tx.insert(edits).values(fresh.map(({ at, ...entry }) => ({ ...entry, piece: id, at: new Date(at) })));
      await tx
        .update(pieces)
        .set({ ...shown(head.piece), revision: head.revision, changedAt: new Date() })
        .where(eq(pieces.id, id));
      const last = head.revision - (head.revision % SNAPSHOT_EVERY);
      if (last > head.revision - fresh.length)
        await tx.insert(snapshots).values({ piece: id, revision: head.revision, document: head.piece });
    });
  }

  private async knownIds(id: string, since: number): Promise<Set<string>> {
    const rows = await this.db
      .select({ id: edits.id })
      .from(edits)
      .where(and(eq(edits.piece, id), gt(edits.seq, since)));
    return new Set(rows.map((row) => row.id));
  }

  private keep(id: string, head: Head): Head {
    this.heads.delete(id);
    this.heads.set(id, head);
    const oldest = this.heads.keys().next().value;
    if (this.heads.size > HEADS_KEPT && oldest !== undefined) this.heads.delete(oldest);
    return head;
  }

  /** Lets the changes to one piece happen one at a time, in the order they were asked for. */
  private inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
    const turn = (this.turns.get(id) ?? Promise.resolve()).then(work, work);
    const settled = turn.catch(() => undefined);
    this.turns.set(id, settled);
    void settled.then(() => {
      if (this.turns.get(id) === settled) this.turns.delete(id);
    });
    return turn;
  }
}

function missing(): ProblemError {
  return new ProblemError('not-found', 'That piece does not exist.');
}

/** What the list shows of a document. */
function shown(piece: Piece): { name: string; format: Piece['format']; length: number; clips: number } {
  return {
    name: piece.name,
    format: piece.format,
    length: pieceLength(piece),
    clips: piece.tracks.reduce((n, track) => n + track.clips.length, 0),
  };
}

function summary(row: Row): PieceSummary {
  const { createdAt, changedAt, deletedAt, ...rest } = row;
  return { ...rest, createdAt: createdAt.toISOString(), changedAt: changedAt.toISOString(), deletedAt: deletedAt?.toISOString() ?? null };
}

function shownVersion({ at, ...row }: VersionRow): Version {
  return { ...row, at: at.toISOString() };
}

function entryOf(row: typeof edits.$inferSelect): LogEntry {
  const { piece: _piece, at, ...entry } = row;
  return { ...entry, at: at.toISOString() };
}
