import { MediaItem } from '@flimzy/contract';
import { desc, eq, isNull } from 'drizzle-orm';
import type { Database } from '../db/open';
import { media } from '../db/schema';
import type { EventHub } from '../events/hub';
import { ProblemError } from '../http/problem';
import type { Keeper } from '../keeping/keeper';
import { HEARING } from './hearing';

export type MediaRow = typeof media.$inferSelect;

/** Media items in the database, and what is being done to them just now. */
export class MediaStore {
  private readonly work = new Map<string, NonNullable<MediaItem['work']>>();
  /** Items that can be used before all of their files are made; after a start they are begun with anew. */
  private readonly early = new Set<string>();

  constructor(
    private readonly db: Database,
    private readonly hub: EventHub,
    private readonly keeper: Keeper,
  ) {}

  /** @throws ProblemError `not-found` */
  async row(id: string): Promise<MediaRow> {
    const [row] = await this.db.select().from(media).where(eq(media.id, id));
    if (!row) throw new ProblemError('not-found', 'That media item is not on the shelf.');
    return row;
  }

  async exists(id: string): Promise<boolean> {
    return (await this.db.select({ id: media.id }).from(media).where(eq(media.id, id))).length > 0;
  }

  async list(): Promise<MediaItem[]> {
    const rows = await this.db.select().from(media).where(isNull(media.deletedAt)).orderBy(desc(media.createdAt), media.id);
    // One row that makes no sense must not take the others along.
    return rows.map((row) => this.item(row)).filter((item) => MediaItem.safeParse(item).success);
  }

  /** Every item whose files are there, deleted ones that can be taken back too. */
  kept(): Promise<MediaRow[]> {
    return this.db.select().from(media).where(isNull(media.purgedAt)).orderBy(media.createdAt);
  }

  /** Every item there ever was, oldest first. */
  every(): Promise<MediaRow[]> {
    return this.db.select().from(media).orderBy(media.createdAt);
  }

  async get(id: string): Promise<MediaItem> {
    return this.item(await this.row(id));
  }

  /** Resolves when it is on the disk. Done twice, it does nothing the second time. */
  async insert(row: typeof media.$inferInsert): Promise<void> {
    const [made] = await this.db.insert(media).values(row).onConflictDoNothing().returning();
    if (made) await this.keeper.keep({ in: 'media', put: made });
    await this.tell(row.id);
  }

  /** Resolves when it is on the disk. */
  async update(id: string, change: Partial<MediaRow>): Promise<MediaItem> {
    await this.db.update(media).set(change).where(eq(media.id, id));
    await this.keeper.keep({ in: 'media', id, set: change });
    return this.tell(id);
  }

  /** Notes how far the work on an item is (null: it is over), and tells of it with the row. */
  setWork(id: string, work: MediaItem['work'], row?: MediaRow): void {
    if (work) this.work.set(id, work);
    else this.work.delete(id);
    if (row) this.hub.tell({ type: 'media', item: this.item(row) });
  }

  /** Notes whether an item can be used while its files are made. */
  setUsable(id: string, usable: boolean): void {
    if (usable) this.early.add(id);
    else this.early.delete(id);
  }

  /** Whether an item can be shown, heard and sent. */
  isUsable = ({ id, status }: Pick<MediaRow, 'id' | 'status'>): boolean =>
    status === 'ready' || (status === 'preparing' && this.early.has(id));

  private async tell(id: string): Promise<MediaItem> {
    const item = await this.get(id);
    this.hub.tell({ type: 'media', item });
    return item;
  }

  private item(row: MediaRow): MediaItem {
    const waiting = row.complete ? null : ({ step: 'waiting', progress: 0 } as const);
    return {
      id: row.id,
      name: row.name,
      fileName: row.fileName,
      size: row.size,
      status: row.status,
      usable: this.isUsable(row),
      work: this.work.get(row.id) ?? waiting,
      error: row.error,
      note: row.note,
      originalKept: row.purgedAt === null,
      facts: row.facts,
      variableRate: row.frames !== null && 'times' in row.frames,
      hdr: row.source?.transfer ?? null,
      filmstrip: row.filmstrip,
      hasPeaks: this.isUsable(row) && (row.facts?.hasSound ?? false),
      heard: row.made !== null && HEARING in row.made,
      createdAt: row.createdAt.toISOString(),
      deletedAt: row.deletedAt?.toISOString() ?? null,
    };
  }
}
