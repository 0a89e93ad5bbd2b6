import { execFile } from 'node:child_process';
import { cp, mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { promisify } from 'node:util';
import { setFlagsFromString } from 'node:v8';
import { PGlite } from '@electric-sql/pglite';
import { drizzle, type PgliteDatabase } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import * as schema from './schema';

export type Database = PgliteDatabase<typeof schema>;

/** The open database: the handle for queries, and raw SQL for the job queue. */
export interface OpenDatabase {
  db: Database;
  executeSql(text: string, values?: unknown[]): Promise<{ rows: unknown[] }>;
  close(): Promise<void>;
}

/**
 * What the database keeps of its files in memory, which it takes whole at its start (128 MB if nothing is said). All that is there is
 * small, and the system keeps files besides; the less this process holds, the sooner each ffmpeg is started, which the system makes as
 * a copy of it first.
 */
const BUFFERS = ['-c', 'shared_buffers=32MB'];

/**
 * How much a function of the database may do, in about so many bytes of its code, before V8 compiles it anew to be faster. V8's own figure
 * lets hundreds of functions be compiled during a start, for which most of them are never used again.
 */
const [PATIENT, USUAL] = [1_000_000_000, 1_800_000];

async function started(folder: string): Promise<PGlite> {
  setFlagsFromString(`--wasm-tiering-budget=${PATIENT}`);
  try {
    return await PGlite.create({ dataDir: folder, startParams: [...PGlite.defaultStartParams, ...BUFFERS] });
  } finally {
    setFlagsFromString(`--wasm-tiering-budget=${USUAL}`);
  }
}

/** Opens the database in a folder as it is there, brought to today's tables. */
export async function openAt(folder: string, migrations: string): Promise<OpenDatabase> {
  const client = await started(folder);
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder: migrations });
  return {
    db,
    executeSql: async (text, values) => {
      // Several statements at once only work without parameters.
      if (values && values.length > 0) return client.query(text, values);
      const results = await client.exec(text);
      return { rows: results.flatMap((r) => r.rows) };
    },
    close: () => client.close(),
  };
}

/** Copies what is in a folder into another: a thousand small files, which the system's own program does in a third of the time. */
async function copyFolder(from: string, into: string): Promise<void> {
  if (process.platform === 'win32') await cp(from, into, { recursive: true });
  else await promisify(execFile)('cp', ['-R', `${from}/.`, into]);
}

/** Opens the database in a folder, made from the template when there is none yet. The folder is for its owner only. */
export async function openDatabase(folder: string, template: string, migrations: string): Promise<OpenDatabase> {
  const there = await stat(folder).then(
    () => readdir(folder),
    () => [],
  );
  if (there.length === 0) {
    const unfinished = `${folder}.new`;
    await rm(unfinished, { recursive: true, force: true });
    await mkdir(unfinished, { mode: 0o700, recursive: true });
    await copyFolder(template, unfinished);
    await rm(folder, { recursive: true, force: true });
    await rename(unfinished, folder);
  }
  return openAt(folder, migrations);
}
