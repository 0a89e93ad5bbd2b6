import { randomUUID } from 'node:crypto';
import { LAST_REVISION, PieceSummary, type EditAnswer, type NewPiece, type OpenedPiece, type Version } from '@flimzy/contract';
import { carryOutSteps, EditRefused, type EditRequest, type Head, type LogEntry } from '@flimzy/core/edits';
import { itemsOf, newPiece, Piece, pieceLength, timelines } from '@flimzy/core/piece';
import { and, desc, eq, isNull } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import type { Database } from '../db/open';
import { edits, pieces, snapshots, versions } from '../db/schema';
import type { EventHub } from '../events/hub';
import { ProblemError } from '../http/problem';
import { OneAtATime } from '../jobs/turns';
import type { Keeper } from '../keeping/keeper';
import { depths, noStacks, PieceLog, STACK_SENT, trimmed, wholeStack, type Held } from './log';
import { folded } from './runs';
import { Turns } from './slices';

/** A whole document is kept every so many edits. */
const SNAPSHOT_EVERY = 50;

/** Open pieces kept in memory. */
const HEADS_KEPT = 24;

/** Rows that are stored by one statement. */
const ROWS_AT_ONCE = 500;

/** A piece with its history. */
export interface WholePiece {
  document: Piece;
  /** What it was at revision 0. */
  first: Piece;
  log: readonly LogEntry[];
  versions: readonly Pick<Version, 'name' | 'revision' | 'at'>[];
}

type Row = typeof pieces.$inferSelect;
type VersionRow = typeof versions.$inferSelect;

/** Pieces, their edit logs and snapshots: the authority on what a piece is. */
export class PieceStore {
  private readonly heads = new LRUCache<string, Held>({ max: HEADS_KEPT });
  private readonly log: PieceLog;
  private readonly changes = new OneAtATime();

  constructor(
    private readonly db: Database,
    private readonly hub: EventHub,
    private readonly keeper: Keeper,
  ) {
    this.log = new PieceLog(db);
  }

  async list(): Promise<PieceSummary[]> {
    const rows = await this.db.select().from(pieces).where(isNull(pieces.deletedAt)).orderBy(desc(pieces.changedAt), pieces.id);
    // One row that makes no sense must not take the others along.
    return rows.map(summary).filter((row) => PieceSummary.safeParse(row).success);
  }

  async create({ name, format, rateChosen }: NewPiece): Promise<PieceSummary> {
    return this.insert(newPiece(randomUUID(), name, format, rateChosen));
  }

  /** Stores a document as a new piece at revision 0. */
  async insert(document: Piece): Promise<PieceSummary> {
    const first = { piece: document.id, revision: 0, document, undo: [], redo: [] };
    const row = await this.db.transaction(async (tx) => {
      const [made] = await tx
        .insert(pieces)
        .values({ id: document.id, revision: 0, ...shown(document) })
        .returning();
      await tx.insert(snapshots).values(first);
      return made as Row;
    });
    await this.keeper.keep({ in: 'pieces', put: row }, { in: 'snapshots', put: first });
    return summary(row);
  }

  /** All there is of a piece: what it is, what it was first, every edit since, and its named versions. @throws ProblemError `not-found` */
  async whole(id: string): Promise<WholePiece & { revision: number }> {
    const { piece: document, revision } = await this.head(id);
    const [first, log, named] = await Promise.all([this.log.documentAt(id, 0), this.log.between(id, 0, revision), this.versions(id)]);
    return { document, revision, first: first ?? document, log, versions: named };
  }

  /** Stores a piece with the history it had elsewhere: `log` leads from `first` to `document`. */
  async bringIn({ document, first, log, versions: named }: WholePiece): Promise<PieceSummary> {
    const { id } = document;
    const revision = log.length;
    const piece = { id, revision, ...shown(document) };
    const kept = [{ piece: id, revision: 0, document: first, ...noStacks }];
    if (revision > 0) kept.push({ piece: id, revision, document, ...log.reduce(folded, noStacks) });
    const rows = log.map(({ at, ...entry }) => ({ ...entry, piece: id, at: new Date(at) }));
    const names = named.map(({ name, revision: of, at }) => ({ id: randomUUID(), piece: id, name, revision: of, at: new Date(at) }));
    const row = await this.db.transaction(async (tx) => {
      const [made] = await tx.insert(pieces).values(piece).returning();
      for (let n = 0; n < rows.length; n += ROWS_AT_ONCE) await tx.insert(edits).values(rows.slice(n, n + ROWS_AT_ONCE));
      await tx.insert(snapshots).values(kept);
      if (names.length > 0) await tx.insert(versions).values(names);
      return made as Row;
    });
    await this.keeper.keep(
      { in: 'pieces', put: row },
      ...kept.map((put) => ({ in: 'snapshots' as const, put })),
      ...rows.map((put) => ({ in: 'edits' as const, put })),
      ...names.map((put) => ({ in: 'versions' as const, put })),
    );
    this.hub.tell({ type: 'piece', id, revision });
    return summary(row);
  }

  async exists(id: string): Promise<boolean> {
    return (await this.db.select({ id: pieces.id }).from(pieces).where(eq(pieces.id, id))).length > 0;
  }

  /** Whether the log of a piece holds an edit. */
  async holds(id: string, edit: string): Promise<boolean> {
    return (await this.log.known(id, [edit])).has(edit);
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
    await this.keeper.keep({ in: 'versions', put: row as VersionRow });
    return shownVersion(row as VersionRow);
  }

  /** A piece of its own from a named version. @throws ProblemError `not-found` */
  async copyVersion(id: string, version: string): Promise<PieceSummary> {
    const row = await this.version(id, version);
    const piece = await this.log.documentAt(id, row.revision);
    if (!piece) throw missing();
    return this.copyOf(piece, row.name);
  }

  /** A piece of its own with this document. @param what it is, for its name */
  copyOf(piece: Piece, what: string): Promise<PieceSummary> {
    return this.insert({ ...piece, id: randomUUID(), name: `${piece.name} (${what})`.slice(0, 120) });
  }

  async deleteVersion(id: string, version: string): Promise<Version> {
    const row = await this.version(id, version);
    await this.db.delete(versions).where(eq(versions.id, row.id));
    await this.keeper.keep({ in: 'versions', gone: row.id });
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

  /** The pieces whose clips use a media item, within nests too. */
  async usesOf(media: string): Promise<{ piece: string; name: string; clips: number }[]> {
    const uses = [];
    for (const { id, name } of await this.list()) {
      const { piece } = await this.head(id);
      const clips = timelines(piece).flatMap(([, t]) =>
        t.tracks.flatMap((track) => track.clips.filter((c) => itemsOf(c).includes(media))),
      ).length;
      if (clips > 0) uses.push({ piece: id, name, clips });
    }
    return uses;
  }

  /** Every media item that a piece uses or has on a shelf put in order, deleted pieces too: they can be taken back. */
  async allUsed(): Promise<Set<string>> {
    const used = new Set<string>();
    for (const { id } of await this.db.select({ id: pieces.id }).from(pieces)) {
      const piece = await this.log.documentAt(id, LAST_REVISION);
      if (!piece) continue;
      for (const [, timeline] of timelines(piece))
        for (const track of timeline.tracks) for (const clip of track.clips) for (const item of itemsOf(clip)) used.add(item);
      for (const entry of piece.shelf ?? []) used.add(entry.media.id);
    }
    return used;
  }

  async setDeleted(id: string, deleted: boolean): Promise<PieceSummary> {
    const [row] = await this.db
      .update(pieces)
      .set({ deletedAt: deleted ? new Date() : null })
      .where(eq(pieces.id, id))
      .returning();
    if (!row) throw missing();
    await this.keeper.keep({ in: 'pieces', id, set: { deletedAt: row.deletedAt } });
    this.hub.tell({ type: 'piece', id, revision: row.revision });
    return summary(row);
  }

  /** The document with the ends of its stacks. */
  async open(id: string): Promise<OpenedPiece> {
    const held = await this.held(id);
    const { piece, revision, undo, redo } = held.head;
    return { piece, revision, undo: undo.slice(-STACK_SENT), redo: redo.slice(-STACK_SENT), ...depths(held) };
  }

  async deeper(id: string, stack: 'undo' | 'redo', below: number): Promise<LogEntry[]> {
    return this.log.deeper(id, await this.held(id), stack, below);
  }

  /** The piece as it is now. @throws ProblemError `not-found` */
  async head(id: string): Promise<Head> {
    return (await this.held(id)).head;
  }

  private async held(id: string): Promise<Held> {
    const read = this.heads.has(id) ? null : await this.log.read(id);
    const there = this.heads.get(id) ?? read; // an edit may have come while it was read
    if (!there) throw missing();
    this.heads.set(id, there);
    return there;
  }

  /** Carries out requests one after the other; a request that the log holds already is not done again. */
  edit(id: string, since: number, requests: readonly EditRequest[]): Promise<EditAnswer> {
    return this.changes.of(id, async () => {
      let held = await this.held(id);
      const before = held.head.revision;
      const refused: EditAnswer['refused'] = [];
      const fresh: LogEntry[] = [];
      const ids = requests.map((request) => request.id);
      const done = await this.log.known(id, ids);
      const known = ids.filter((one) => done.has(one));
      // Known, but perhaps not written down: its server may have died between the one and the other, before anyone was told.
      if (known.length > 0) await this.keeper.keep(...(await this.log.rows(id, known)).map((put) => ({ in: 'edits' as const, put })));
      const turns = new Turns();
      for (const request of requests) {
        if (done.has(request.id)) continue;
        done.add(request.id);
        try {
          const step = await turns.through(carryOutSteps(held.head, request, new Date().toISOString()));
          held = await this.log.filled(id, { ...held, head: step.head, ...(step.entry.kind === 'do' ? { redo: [] } : {}) });
          fresh.push(step.entry);
        } catch (error) {
          if (!(error instanceof EditRefused)) throw error;
          refused.push({ id: request.id, sentence: error.message });
        }
        await turns.pause();
      }
      if (fresh.length > 0) {
        await this.write(id, held, fresh).catch((error: unknown) => {
          this.heads.delete(id); // what was stored of it is read again
          throw error;
        });
        this.heads.set(id, trimmed(held));
        this.hub.tell({ type: 'piece', id, revision: held.head.revision });
      }
      return { entries: since < before ? await this.log.between(id, since) : fresh, refused, known };
    });
  }

  /** Stores what edits made, and resolves when it is on the disk. */
  private async write(id: string, held: Held, fresh: readonly LogEntry[]): Promise<void> {
    const { piece, revision } = held.head;
    // Whatever an edit was asked for with: a document that could not be opened again is never stored.
    const sound = Piece.safeParse(piece);
    if (!sound.success)
      throw new ProblemError('bad-request', 'These edits would make a piece that cannot be opened again; none of them was made.');
    const change = { ...shown(piece), revision, changedAt: new Date() };
    const rows = fresh.map(({ at, ...entry }) => ({ ...entry, piece: id, at: new Date(at) }));
    const snapshotDue = revision - (revision % SNAPSHOT_EVERY) > revision - fresh.length;
    await this.db.transaction(async (tx) => {
      await tx.insert(edits).values(rows);
      await tx.update(pieces).set(change).where(eq(pieces.id, id));
      if (snapshotDue) await tx.insert(snapshots).values({ piece: id, revision, document: piece, ...wholeStack(held) });
    });
    await this.keeper.keep(...rows.map((put) => ({ in: 'edits' as const, put })), { in: 'pieces', id, set: change });
    if (snapshotDue) await this.log.thin(id);
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
