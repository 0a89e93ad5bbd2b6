import { existsSync, readdirSync } from 'node:fs';
import { readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { sql } from 'drizzle-orm';
import { openDatabase, type OpenDatabase } from '../db/open';
import { toDisk, whole } from '../files/whole';
import type { DataFolder } from '../media/folders';
import { listDumps, newestWhole, readDump } from './dumps';
import { journalNumbers, readJournal } from './journal';
import { KEPT, replay } from './lines';

/** Where and since when a server works on a folder; there from its start to its end, so that the next one knows how it ended. */
interface Marker {
  /** Linux' name for the time since the computer was switched on; a power cut ends it, a killed process does not. */
  boot: string;
  /** Which folder of which disk: a copy of the folder, or of its disk, is another. */
  place: string;
}

async function markerOf(folder: DataFolder): Promise<Marker> {
  const { dev, ino } = await stat(folder.root, { bigint: true });
  const boot = await readFile('/proc/sys/kernel/random/boot_id', 'utf8').catch(() => '');
  return { boot: boot.trim(), place: `${dev}:${ino}` };
}

/** Whether the database may lack what it had taken: its server did not end by itself, and the computer has been off since, or this is a copy. */
async function mayBeTorn(folder: DataFolder): Promise<boolean> {
  const left = await readFile(folder.marker(), 'utf8').catch(() => null);
  if (left === null) return false;
  const now = await markerOf(folder);
  try {
    const then = JSON.parse(left) as Partial<Marker>;
    return then.boot !== now.boot || then.boot === '' || then.place !== now.place;
  } catch {
    return true;
  }
}

/** Every table can be read to its end. @throws what the database says when not */
async function readThrough({ db }: OpenDatabase): Promise<void> {
  for (const table of Object.values(KEPT)) await db.execute(sql`select count(*), max(length(t::text)) from ${table} t`);
}

export interface Opened {
  database: OpenDatabase;
  /** What was done to it, as a sentence for the person; null when nothing had to be. */
  mended: string | null;
}

/**
 * Opens the database, and makes sure that it is what was acknowledged: one that is damaged, or may have lost something in a power cut,
 * is set aside and made again from the newest good dump and the journal since.
 */
export async function openKept(folder: DataFolder, template: string, migrations: string): Promise<Opened> {
  const torn = await mayBeTorn(folder);
  const gone =
    !existsSync(folder.database()) && ((await listDumps(folder.dumps())).length > 0 || (await journalNumbers(folder.journal())).length > 0);
  const opened =
    torn || gone ? null : await openDatabase(folder.database(), template, migrations).catch((error: unknown) => error as Error);
  if (opened && !(opened instanceof Error)) {
    try {
      await readThrough(opened);
      return { database: opened, mended: null };
    } catch {
      await opened.close().catch(() => undefined);
    }
  }
  return rebuild(
    folder,
    template,
    migrations,
    gone ? 'was gone' : torn ? 'may have lost its last changes when the computer went off' : 'was damaged',
  );
}

/** Sets the database aside and makes it again from what is kept beside it. */
async function rebuild(folder: DataFolder, template: string, migrations: string, why: string): Promise<Opened> {
  const aside = `${folder.database()}.damaged-${new Date().toISOString().replace(/[:.]/g, '-')}`;
  const there = existsSync(folder.database());
  if (there) await rename(folder.database(), aside);
  const database = await openDatabase(folder.database(), template, migrations);
  const from = await putBack(folder, database);
  const mended =
    `The database ${why}. It was made again from ${from ? `the backup of ${from.toLocaleString('en-GB')}` : 'its journal'} and everything written down since.` +
    (there ? ` The old one stands in ${path.basename(aside)}.` : '');
  return { database, mended };
}

/** Fills an empty database from the newest dump that is whole, and the journal since. Gives the time of that dump. */
export async function putBack(folder: DataFolder, { db }: OpenDatabase): Promise<Date | null> {
  const used = await newestWhole(folder.dumps());
  if (used) for await (const line of readDump(used.file)) await replay(db, line);
  for await (const line of readJournal(folder.journal(), used?.journal ?? 0))
    await replay(db, line).catch((error: unknown) => {
      // A line whose piece is not there: the dump before it was lost with more than itself. The rest is worth having.
      if (!/foreign key/i.test(String((error as { cause?: unknown }).cause ?? error))) throw error;
    });
  return used?.at ?? null;
}

/** From now on a server works on the folder. */
export async function markOpen(folder: DataFolder): Promise<void> {
  const marker = await markerOf(folder);
  await whole(folder.marker(), (to) => writeFile(to, JSON.stringify(marker)));
}

/** The server ends by itself: the database's files are brought to the disk first, since the database itself never does. */
export async function markClosed(folder: DataFolder): Promise<void> {
  for (const entry of readdirSync(folder.database(), { withFileTypes: true, recursive: true }))
    await toDisk(path.join(entry.parentPath, entry.name)).catch(() => undefined);
  await toDisk(folder.database());
  await rm(folder.marker(), { force: true });
  await toDisk(folder.root);
}
