import { randomUUID } from 'node:crypto';
import { rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Delivery } from '@flimzy/contract';
import { fileName } from '@flimzy/core/deliver';
import type { Head } from '@flimzy/core/edits';
import { pieceLength } from '@flimzy/core/piece';
import { and, desc, eq, inArray, isNull } from 'drizzle-orm';
import type { Database } from '../db/open';
import { deliveries } from '../db/schema';
import type { EventHub } from '../events/hub';
import { ProblemError } from '../http/problem';
import type { Keeper } from '../keeping/keeper';
import type { DataFolder } from '../media/folders';
import { isDiskFull } from '../media/run';
import type { MediaStore } from '../media/store';
import type { SegmentCache } from './cache';
import { deliver } from './deliver';

type Row = typeof deliveries.$inferSelect;

/** Someone asked for the export to stop. */
class Cancelled extends Error {
  override name = 'Cancelled';
}

/** A running export: how to stop it, and what its estimate goes by. */
interface Running {
  stop: AbortController;
  startedAt: number;
  progress: number;
  toldAt: number;
}

/** Exports: queued, running, finished. */
export class DeliveryStore {
  private readonly running = new Map<string, Running>();

  constructor(
    private readonly db: Database,
    private readonly hub: EventHub,
    private readonly media: MediaStore,
    private readonly folder: DataFolder,
    private readonly cache: SegmentCache,
    private readonly keeper: Keeper,
  ) {}

  fileOf(id: string): string {
    return path.join(this.folder.deliveries(), `${id}.mp4`);
  }

  folderOfFiles(): string {
    return this.folder.deliveries();
  }

  async list(piece?: string): Promise<Delivery[]> {
    const rows = await this.db
      .select()
      .from(deliveries)
      .where(and(isNull(deliveries.deletedAt), piece ? eq(deliveries.piece, piece) : undefined))
      .orderBy(desc(deliveries.createdAt))
      .limit(100);
    return rows.map((row) => this.shown(row)).filter((delivery) => Delivery.safeParse(delivery).success);
  }

  /**
   * Queues the piece as it is now; one that is being made, or is there, is not made again. `fresh` says whether there is work to do.
   * @throws ProblemError when there is nothing in it
   */
  async create({ piece, revision }: Head): Promise<{ delivery: Delivery; fresh: boolean }> {
    const length = pieceLength(piece);
    if (length === 0) throw new ProblemError('bad-request', 'The piece is empty: add a clip first, then send it.');
    const same = await this.alike(piece.id, revision);
    if (same) return { delivery: await this.tell(same.id), fresh: false };
    const values = {
      id: randomUUID(),
      piece: piece.id,
      pieceName: piece.name,
      revision,
      document: piece,
      status: 'waiting' as const,
      fileName: fileName(piece.name, 'mp4'),
      length,
    };
    const [row] = await this.db.insert(deliveries).values(values).returning();
    if (row) await this.keeper.keep({ in: 'deliveries', put: row });
    return { delivery: await this.tell(values.id), fresh: true };
  }

  /** An export of the same revision that is not over, or whose file is there. */
  private async alike(piece: string, revision: number): Promise<Row | null> {
    const rows = await this.db
      .select()
      .from(deliveries)
      .where(
        and(
          eq(deliveries.piece, piece),
          eq(deliveries.revision, revision),
          isNull(deliveries.deletedAt),
          inArray(deliveries.status, ['waiting', 'rendering', 'done']),
        ),
      )
      .orderBy(desc(deliveries.createdAt));
    for (const row of rows) if (row.status !== 'done' || (await stat(this.fileOf(row.id)).catch(() => null))) return row;
    return null;
  }

  /** Changes a row; resolves when that is on the disk. */
  private async change(id: string, set: Partial<Row>): Promise<void> {
    await this.db.update(deliveries).set(set).where(eq(deliveries.id, id));
    await this.keeper.keep({ in: 'deliveries', id, set });
  }

  /**
   * Moves an export on that is not over, and says whether it did: one that was cancelled meanwhile stays so, whoever was about to say
   * something else of it. Resolves when that is on the disk.
   */
  private async moveOn(id: string, set: Partial<Row>): Promise<boolean> {
    const moved = await this.db
      .update(deliveries)
      .set(set)
      .where(and(eq(deliveries.id, id), inArray(deliveries.status, ['waiting', 'rendering'])))
      .returning({ id: deliveries.id });
    if (moved.length > 0) await this.keeper.keep({ in: 'deliveries', id, set });
    return moved.length > 0;
  }

  /** Takes one off the list, stopping it if it runs, or puts it back. */
  async setDeleted(id: string, deleted: boolean): Promise<Delivery> {
    if (deleted) await this.cancel(id);
    const row = await this.get(id);
    if (!deleted && row.status === 'done' && !(await stat(this.fileOf(id)).catch(() => null)))
      throw new ProblemError('not-found', 'That export was removed for good, to free its space. Send again: what is rendered is kept.');
    await this.change(id, { deletedAt: deleted ? new Date() : null });
    return this.tell(id);
  }

  /** Removes the file of one for good, to free its space. */
  async purge(id: string): Promise<void> {
    await this.change(id, { deletedAt: (await this.get(id)).deletedAt ?? new Date() });
    await rm(this.fileOf(id), { force: true });
    await this.tell(id);
  }

  /** Every export whose file may be there. */
  async finished(): Promise<Row[]> {
    return this.db.select().from(deliveries).where(eq(deliveries.status, 'done'));
  }

  async get(id: string): Promise<Row> {
    const [row] = await this.db.select().from(deliveries).where(eq(deliveries.id, id));
    if (!row) throw new ProblemError('not-found', 'That export does not exist.');
    return row;
  }

  async cancel(id: string): Promise<Delivery> {
    await this.moveOn(id, { status: 'cancelled', finishedAt: new Date() });
    this.running.get(id)?.stop.abort(new Cancelled());
    return this.tell(id);
  }

  /** Exports that were asked for and are not over: after a start, work goes on with these. */
  async unfinished(): Promise<string[]> {
    const rows = await this.db
      .select({ id: deliveries.id })
      .from(deliveries)
      .where(inArray(deliveries.status, ['waiting', 'rendering']))
      .orderBy(deliveries.createdAt);
    return rows.map((row) => row.id);
  }

  /** Stops what runs, to be gone on with at the next start. */
  stopAll(): void {
    for (const { stop } of this.running.values()) stop.abort(new Cancelled());
  }

  /** Does the work of one export. */
  async work(id: string): Promise<void> {
    const row = await this.get(id);
    if (row.status !== 'waiting' && row.status !== 'rendering') return;
    const running: Running = { stop: new AbortController(), startedAt: Date.now(), progress: 0, toldAt: 0 };
    this.running.set(id, running);
    try {
      if (!(await this.moveOn(id, { status: 'rendering' }))) return;
      const { size } = await deliver(this.media, this.folder, this.cache, {
        piece: row.document,
        target: this.fileOf(id),
        signal: running.stop.signal,
        onPlan: (segments, segmentsKept) => this.moveOn(id, { segments, segmentsKept }).then(() => void this.tell(id)),
        onProgress: (progress) => {
          running.progress = progress;
          if (Date.now() - running.toldAt < 250) return;
          running.toldAt = Date.now();
          this.tell(id).catch(() => undefined);
        },
      });
      const finished = await this.moveOn(id, { status: 'done', progress: 1, size, finishedAt: new Date() });
      if (!finished) await rm(this.fileOf(id), { force: true });
      await this.cache.prune();
    } catch (error) {
      if (error instanceof Cancelled) return;
      const full = isDiskFull(error);
      const sentence =
        error instanceof ProblemError
          ? error.message
          : full
            ? 'The disk of the server is full. Free some space and send again: what is rendered is kept.'
            : 'The export stopped with an error of the server’s own. Send again: what is rendered is kept.';
      await this.moveOn(id, { status: 'failed', error: sentence, finishedAt: new Date() });
      if (!(error instanceof ProblemError)) throw error;
    } finally {
      this.running.delete(id);
      await this.tell(id).catch(() => undefined);
    }
  }

  private async tell(id: string): Promise<Delivery> {
    const delivery = this.shown(await this.get(id));
    this.hub.tell({ type: 'delivery', delivery });
    return delivery;
  }

  private shown({ document, createdAt, finishedAt, deletedAt, ...row }: Row): Delivery {
    const running = this.running.get(row.id);
    const progress = running && row.status === 'rendering' ? running.progress : row.progress;
    const spent = running ? (Date.now() - running.startedAt) / 1000 : 0;
    return {
      ...row,
      progress,
      secondsLeft: running && progress > 0.02 && spent > 1 ? (spent * (1 - progress)) / progress : null,
      width: document.format.width,
      height: document.format.height,
      createdAt: createdAt.toISOString(),
      finishedAt: finishedAt?.toISOString() ?? null,
      deletedAt: deletedAt?.toISOString() ?? null,
    };
  }
}
