import { isShipped, PlatformFormat } from '@flimzy/core/deliver';
import { eq } from 'drizzle-orm';
import type { Database } from '../db/open';
import { formats } from '../db/schema';
import { ProblemError } from '../http/problem';
import type { Keeper } from '../keeping/keeper';

/** The formats that people made themselves; those that ship are data of the core. */
export class FormatStore {
  constructor(
    private readonly db: Database,
    private readonly keeper: Keeper,
  ) {}

  async list(): Promise<PlatformFormat[]> {
    const rows = await this.db.select().from(formats).orderBy(formats.id);
    return rows.flatMap(({ format }) => PlatformFormat.safeParse(format).data ?? []);
  }

  /** Keeps a format, in place of the one with its id. @throws ProblemError for the id of one that ships */
  async save(format: PlatformFormat): Promise<PlatformFormat> {
    if (isShipped(format))
      throw new ProblemError('bad-request', `“${format.name}” has the id of a format that ships: give the copy one of its own.`);
    const row = { id: format.id, format };
    await this.db.insert(formats).values(row).onConflictDoUpdate({ target: formats.id, set: { format } });
    await this.keeper.keep({ in: 'formats', put: row });
    return format;
  }

  async remove(id: string): Promise<PlatformFormat> {
    const [row] = await this.db.delete(formats).where(eq(formats.id, id)).returning();
    if (!row) throw new ProblemError('not-found', 'There is no such format.');
    await this.keeper.keep({ in: 'formats', gone: id });
    return row.format;
  }
}
