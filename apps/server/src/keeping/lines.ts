import { eq, getTableColumns, sql, type SQL } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import { z } from 'zod';
import type { Database } from '../db/open';
import * as schema from '../db/schema';

/** The tables whose rows are kept outside the database too, in an order in which they can be put back. */
export const KEPT = {
  notes: schema.notes,
  media: schema.media,
  pieces: schema.pieces,
  snapshots: schema.snapshots,
  edits: schema.edits,
  versions: schema.versions,
  deliveries: schema.deliveries,
  formats: schema.formats,
  accounts: schema.accounts,
  posts: schema.posts,
} as const;
export type KeptTable = keyof typeof KEPT;

/** The columns that name a row. */
export const KEYS: Record<KeptTable, readonly string[]> = {
  notes: ['key'],
  media: ['id'],
  pieces: ['id'],
  snapshots: ['piece', 'revision'],
  edits: ['piece', 'seq'],
  versions: ['id'],
  deliveries: ['id'],
  formats: ['id'],
  accounts: ['id'],
  posts: ['id'],
};

/** One change, as a line of JSON: a row as it is after it, some of its columns, or that it is gone. */
export const Line = z.union([
  z.object({ in: z.enum(Object.keys(KEPT) as [KeptTable, ...KeptTable[]]), put: z.record(z.string(), z.unknown()) }),
  z.object({ in: z.enum(['media', 'pieces', 'deliveries', 'accounts', 'posts']), id: z.string(), set: z.record(z.string(), z.unknown()) }),
  z.object({ in: z.enum(['versions', 'formats', 'accounts', 'posts']), gone: z.string() }),
]);
export type Line = z.infer<typeof Line>;

/** Times come back as times; the rest of JSON is what the columns take. */
function revived(table: PgTable, row: Record<string, unknown>): Record<string, unknown> {
  const columns = getTableColumns(table);
  return Object.fromEntries(
    Object.entries(row).flatMap(([name, value]) => {
      const column = columns[name];
      if (!column) return []; // of a version that knew more
      return [[name, column.dataType === 'date' && typeof value === 'string' ? new Date(value) : value]];
    }),
  );
}

const columnsOf = (name: KeptTable) => {
  const columns = getTableColumns(KEPT[name] as PgTable);
  return KEYS[name].map((key) => {
    const column = columns[key];
    if (!column) throw new Error(`${name} has no column ${key}`);
    return column;
  });
};

/** Makes a change that is written down, on a database where it may have been made already. */
export async function replay(db: Database, line: Line): Promise<void> {
  const table = KEPT[line.in] as PgTable;
  if ('put' in line) {
    const row = revived(table, line.put);
    // An edit never changes; of everything else what is written later is right.
    const insert = db.insert(table).values(row as never);
    if (line.in === 'edits') await insert.onConflictDoNothing();
    else await insert.onConflictDoUpdate({ target: columnsOf(line.in), set: row as never });
  } else if ('set' in line) {
    const [id] = columnsOf(line.in);
    if (id)
      await db
        .update(table)
        .set(revived(table, line.set) as never)
        .where(eq(id, line.id));
  } else {
    const gone = schema[line.in];
    await db.delete(gone).where(eq(gone.id, line.gone));
  }
}

/** Rows of a table in the order of their keys, a page at a time, so that nobody else waits long. */
export async function* rowsOf(db: Database, name: KeptTable, page = 200): AsyncGenerator<Record<string, unknown>> {
  const table = KEPT[name] as PgTable;
  const columns = columnsOf(name);
  let after: SQL | undefined;
  for (;;) {
    const rows = (await db
      .select()
      .from(table)
      .where(after)
      .orderBy(...columns)
      .limit(page)) as Record<string, unknown>[];
    yield* rows;
    const last = rows.at(-1);
    if (!last || rows.length < page) return;
    const key = KEYS[name].map((column) => sql`${last[column]}`);
    after = sql`(${sql.join(columns, sql`, `)}) > (${sql.join(key, sql`, `)})`;
  }
}
