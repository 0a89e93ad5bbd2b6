import { randomUUID } from 'node:crypto';
import { rm, stat } from 'node:fs/promises';
import path from 'node:path';
import PQueue from 'p-queue';
import { isDeepStrictEqual } from 'node:util';
import { Delivery } from '@flimzy/contract';
import { asItIs, cuesBeside, USUAL_PATTERN, type DeliverySettings } from '@flimzy/core/deliver';
import type { Head } from '@flimzy/core/edits';
import { pieceLength, type Piece } from '@flimzy/core/piece';
import { and, desc, eq, inArray, isNull, min } from 'drizzle-orm';
import type { Database } from '../db/open';
import { deliveries } from '../db/schema';
import type { EventHub } from '../events/hub';
import { ProblemError } from '../http/problem';
import type { Keeper } from '../keeping/keeper';
import type { DataFolder } from '../media/folders';
import type { MediaStore } from '../media/store';
import type { SegmentCache } from './cache';
import { deliver } from './deliver';
import { estimate, type Estimated } from './estimate';
import { whyItFailed } from './failure';
import { described, kindOf } from './sent';

type Row = typeof deliveries.$inferSelect;

/** How an export is made. */
export const settingsOf = ({ settings, document }: Pick<Row, 'settings' | 'document'>): DeliverySettings => settings ?? asItIs(document);

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
  /** Resolves when its work is over, however. */
  ended: Promise<void>;
}

/** The longest that is worth waiting for an estimate, in ms. */
const ESTIMATING = 60_000;

/** Exports: queued, running, finished. */
export class DeliveryStore {
  private readonly running = new Map<string, Running>();
  private readonly estimating = new PQueue({ concurrency: 1 });

  constructor(
    private readonly db: Database,
    private readonly hub: EventHub,
    private readonly media: MediaStore,
    private readonly folder: DataFolder,
    private readonly cache: SegmentCache,
    private readonly keeper: Keeper,
  ) {}

  fileOf(row: Pick<Row, 'id' | 'settings'>): string {
    return path.join(this.folder.deliveries(), `${row.id}.${kindOf(row.settings).extension}`);
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
   * @param pattern of the name of its file
   * @throws ProblemError when there is nothing in it, or it cannot be made so
   */
  async create(
    { piece, revision }: Head,
    settings = asItIs(piece),
    pattern = USUAL_PATTERN,
  ): Promise<{ delivery: Delivery; fresh: boolean }> {
    if (pieceLength(piece) === 0) throw new ProblemError('bad-request', 'The piece is empty: add a clip first, then send it.');
    const { length, name } = described(piece, settings, pattern);
    const same = await this.alike(piece, revision, settings);
    if (same) return { delivery: await this.tell(same.id), fresh: false };
    const values = {
      id: randomUUID(),
      piece: piece.id,
      pieceName: piece.name,
      revision,
      document: piece,
      settings,
      status: 'waiting' as const,
      fileName: name,
      length,
    };
    const [row] = await this.db.insert(deliveries).values(values).returning();
    if (row) await this.keeper.keep({ in: 'deliveries', put: row });
    return { delivery: await this.tell(values.id), fresh: true };
  }

  /** What a file will take. @throws ProblemError when it cannot be made so */
  async estimate({ piece }: Head, settings: DeliverySettings): Promise<Estimated> {
    const nothing = { bytes: null, seconds: null, most: null };
    if (pieceLength(piece) === 0) return nothing;
    described(piece, settings, USUAL_PATTERN);
    const signal = AbortSignal.timeout(ESTIMATING);
    const work = () => estimate(this.media, this.folder, this.cache, piece, settings, signal);
    return this.estimating.add(work).then(
      (known) => known ?? nothing,
      (error: unknown) => {
        throw signal.aborted
          ? new ProblemError('not-ready', 'Trying it out took too long just now. Ask again when less is going on.')
          : error;
      },
    );
  }

  /** An export of the same revision, made alike, that is not over, or whose file is there. */
  private async alike(piece: Piece, revision: number, settings: DeliverySettings): Promise<Row | null> {
    const rows = await this.db
      .select()
      .from(deliveries)
      .where(
        and(
          eq(deliveries.piece, piece.id),
          eq(deliveries.revision, revision),
          isNull(deliveries.deletedAt),
          inArray(deliveries.status, ['waiting', 'rendering', 'paused', 'done']),
        ),
      )
      .orderBy(desc(deliveries.createdAt));
    const same = rows.filter((row) => isDeepStrictEqual(settingsOf(row), settings));
    for (const row of same) if (row.status !== 'done' || (await stat(this.fileOf(row)).catch(() => null))) return row;
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
  private async moveOn(id: string, set: Partial<Row>, from: Row['status'][] = ['waiting', 'rendering']): Promise<boolean> {
    const moved = await this.db
      .update(deliveries)
      .set(set)
      .where(and(eq(deliveries.id, id), inArray(deliveries.status, from)))
      .returning({ id: deliveries.id });
    if (moved.length > 0) await this.keeper.keep({ in: 'deliveries', id, set });
    return moved.length > 0;
  }

  /** Takes one off the list, stopping it if it runs, or puts it back. */
  async setDeleted(id: string, deleted: boolean): Promise<Delivery> {
    if (deleted) await this.cancel(id);
    const row = await this.get(id);
    if (!deleted && row.status === 'done' && !(await stat(this.fileOf(row)).catch(() => null)))
      throw new ProblemError('not-found', 'That export was removed for good, to free its space. Send again: what is rendered is kept.');
    await this.change(id, { deletedAt: deleted ? new Date() : null });
    return this.tell(id);
  }

  /** Removes the file of one for good, to free its space. */
  async purge(id: string): Promise<void> {
    const row = await this.get(id);
    await this.change(id, { deletedAt: row.deletedAt ?? new Date() });
    await rm(this.fileOf(row), { force: true });
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
    await this.moveOn(id, { status: 'cancelled', finishedAt: new Date() }, ['waiting', 'rendering', 'paused']);
    this.running.get(id)?.stop.abort(new Cancelled());
    return this.tell(id);
  }

  /** Stops one for now. What is rendered is kept, and it is not gone on with before someone says so, after a start neither. */
  async pause(id: string): Promise<Delivery> {
    await this.moveOn(id, { status: 'paused', progress: this.running.get(id)?.progress ?? 0 });
    this.running.get(id)?.stop.abort(new Cancelled());
    return this.tell(id);
  }

  /** Has one that was paused, cancelled, or failed wait its turn again; `fresh` says whether there is work to do. */
  async resume(id: string): Promise<{ delivery: Delivery; fresh: boolean }> {
    await this.get(id);
    // Its work must have ended before it begins again; one that nobody stopped goes on.
    if (this.running.get(id)?.stop.signal.aborted) await this.running.get(id)?.ended;
    const fresh = await this.moveOn(id, { status: 'waiting', error: null, finishedAt: null }, ['paused', 'cancelled', 'failed']);
    return { delivery: await this.tell(id), fresh };
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

  /** Has one that waits begin before all others that do. */
  async first(id: string): Promise<Delivery> {
    const [lowest] = await this.db
      .select({ rank: min(deliveries.rank) })
      .from(deliveries)
      .where(eq(deliveries.status, 'waiting'));
    await this.moveOn(id, { rank: (lowest?.rank ?? 0) - 1 }, ['waiting']);
    return this.tell(id);
  }

  /** Does the work of the export whose turn it is; one that was cut off by an end of the server goes on before any other begins. */
  async workNext(): Promise<void> {
    const rows = await this.db
      .select({ id: deliveries.id })
      .from(deliveries)
      .where(inArray(deliveries.status, ['waiting', 'rendering']))
      .orderBy(desc(eq(deliveries.status, 'rendering')), deliveries.rank, deliveries.createdAt);
    const next = rows.find(({ id }) => !this.running.has(id));
    if (next) await this.work(next.id);
  }

  private async work(id: string): Promise<void> {
    const row = await this.get(id);
    let end: () => void = () => undefined;
    const ended = new Promise<void>((resolve) => (end = resolve));
    const running: Running = { stop: new AbortController(), startedAt: Date.now(), progress: 0, toldAt: 0, ended };
    this.running.set(id, running);
    try {
      if (!(await this.moveOn(id, { status: 'rendering' }))) return;
      const made = await deliver(this.media, this.folder, this.cache, {
        piece: row.document,
        settings: settingsOf(row),
        target: this.fileOf(row),
        signal: running.stop.signal,
        onPlan: (segments, segmentsKept) => this.moveOn(id, { segments, segmentsKept }).then(() => void this.tell(id)),
        onProgress: (progress) => {
          running.progress = progress;
          if (Date.now() - running.toldAt < 250) return;
          running.toldAt = Date.now();
          this.tell(id).catch(() => undefined);
        },
      });
      const finished = await this.moveOn(id, { status: 'done', progress: 1, ...made, finishedAt: new Date() });
      if (!finished) await rm(this.fileOf(row), { force: true });
      await this.cache.prune();
    } catch (error) {
      if (error instanceof Cancelled) return;
      await this.moveOn(id, { status: 'failed', error: whyItFailed(error), finishedAt: new Date() });
      if (!(error instanceof ProblemError)) throw error;
    } finally {
      this.running.delete(id);
      end();
      await this.tell(id).catch(() => undefined);
    }
  }

  private async tell(id: string): Promise<Delivery> {
    const delivery = this.shown(await this.get(id));
    this.hub.tell({ type: 'delivery', delivery });
    return delivery;
  }

  private shown({ document, createdAt, finishedAt, deletedAt, ...row }: Row): Delivery {
    const settings = settingsOf({ ...row, document });
    const running = this.running.get(row.id);
    const progress = running && row.status === 'rendering' ? running.progress : row.progress;
    const spent = running ? (Date.now() - running.startedAt) / 1000 : 0;
    return {
      ...row,
      progress,
      secondsLeft: running && progress > 0.02 && spent > 1 ? (spent * (1 - progress)) / progress : null,
      settings,
      captions: row.status === 'done' ? cuesBeside(document, settings).length : 0,
      createdAt: createdAt.toISOString(),
      finishedAt: finishedAt?.toISOString() ?? null,
      deletedAt: deletedAt?.toISOString() ?? null,
    };
  }
}
