import type { MediaItem } from '@flimzy/contract';
import { desc, eq, isNull, and } from 'drizzle-orm';
import type { Database } from '../db/open';
import { media } from '../db/schema';
import type { EventHub } from '../events/hub';
import { ProblemError } from '../http/problem';

export type MediaRow = typeof media.$inferSelect;

/** Media items in the database, and what is being done to them just now. */
export class MediaStore {
  private readonly work = new Map<string, NonNullable<MediaItem['work']>>();

  constructor(
    private readonly db: Database,
    private readonly hub: EventHub,
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
    return rows.map((row) => this.item(row));
  }

  /** Items whose files are not all made: after a start, work goes on with these. */
  async unfinished(): Promise<MediaRow[]> {
    return this.db
      .select()
      .from(media)
      .where(and(eq(media.complete, false)));
  }

  async get(id: string): Promise<MediaItem> {
    return this.item(await this.row(id));
  }

  async insert(row: typeof media.$inferInsert): Promise<void> {
    await this.db.insert(media).values(row).onConflictDoNothing();
    await this.tell(row.id);
  }

  async update(id: string, change: Partial<MediaRow>): Promise<MediaItem> {
    await this.db.update(media).set(change).where(eq(media.id, id));
    return this.tell(id);
  }

  /** Tells how far the work on an item is; null when it is over. */
  async setWork(id: string, work: MediaItem['work'], row?: MediaRow): Promise<void> {
    if (work) this.work.set(id, work);
    else this.work.delete(id);
    if (row) this.hub.tell({ type: 'media', item: this.item(row) });
    else await this.tell(id);
  }

  private async tell(id: string): Promise<MediaItem> {
    const item = await this.get(id);
    this.hub.tell({ type: 'media', item });
    return item;
  }

  private item(row: MediaRow): MediaItem {
    const waiting = row.status === 'preparing' ? ({ step: 'waiting', progress: 0 } as const) : null;
    return {
      id: row.id,
      name: row.name,
      fileName: row.fileName,
      size: row.size,
      status: row.status,
      work: this.work.get(row.id) ?? waiting,
      error: row.error,
      facts: row.facts,
      variableRate: row.frames !== null && 'times' in row.frames,
      filmstrip: row.filmstrip,
      hasPeaks: row.complete && (row.facts?.hasSound ?? false),
      createdAt: row.createdAt.toISOString(),
      deletedAt: row.deletedAt?.toISOString() ?? null,
    };
  }
}
