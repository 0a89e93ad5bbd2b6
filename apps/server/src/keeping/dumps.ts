import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { createInterface } from 'node:readline';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import type { Database } from '../db/open';
import { whole } from '../files/whole';
import { KEPT, Line, rowsOf, type KeptTable } from './lines';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const NAME = /^(\d{4}-\d\d-\d\dT\d\d-\d\d-\d\d-\d{3}Z)\.from-(\d+)\.jsonl\.gz$/;

/** A dump: all that is kept of the database, as it was at a time. With the journal from `journal` on it is as it is now. */
export interface Dump {
  file: string;
  at: Date;
  journal: number;
}

/** The dumps of a folder, newest first. */
export async function listDumps(folder: string): Promise<Dump[]> {
  const names = await readdir(folder).catch(() => []);
  return names
    .flatMap((name) => {
      const [, stamp, journal] = NAME.exec(name) ?? [];
      const iso = stamp?.replace(/T(\d\d)-(\d\d)-(\d\d)-(\d{3})Z/, 'T$1:$2:$3.$4Z');
      return iso ? [{ file: path.join(folder, name), at: new Date(iso), journal: Number(journal) }] : [];
    })
    .sort((a, b) => b.at.getTime() - a.at.getTime());
}

async function* linesOf(db: Database): AsyncGenerator<string> {
  let rows = 0;
  for (const name of Object.keys(KEPT) as KeptTable[])
    for await (const row of rowsOf(db, name)) {
      rows += 1;
      yield `${JSON.stringify({ in: name, put: row } satisfies Line)}\n`;
    }
  yield `${JSON.stringify({ end: rows })}\n`;
}

/**
 * Writes a dump. It may hold some of what is changed meanwhile; the journal begun just before it says the rest, and saying it twice
 * does no harm.
 *
 * @param journal the number of the file that the journal went on in just before
 */
export async function writeDump(db: Database, folder: string, journal: number, at = new Date()): Promise<Dump> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const file = path.join(folder, `${at.toISOString().replace(/[:.]/g, '-')}.from-${journal}.jsonl.gz`);
  await whole(file, (to) => pipeline(Readable.from(linesOf(db)), createGzip({ level: 3 }), createWriteStream(to, { mode: 0o600 })));
  return { file, at, journal };
}

/** Reads a dump whole. @throws Error when it is damaged: cut off, or not what was written */
export async function* readDump(file: string): AsyncGenerator<Line> {
  let rows = 0;
  let ended = false;
  const unpacked = createReadStream(file).pipe(createGunzip());
  const failed = new Promise<never>((_, reject) => unpacked.once('error', reject));
  failed.catch(() => undefined);
  const lines = createInterface({ input: unpacked, crlfDelay: Infinity })[Symbol.asyncIterator]();
  for (;;) {
    const step = await Promise.race([lines.next(), failed]);
    if (step.done) break;
    const value = JSON.parse(step.value) as unknown;
    if (typeof value === 'object' && value !== null && 'end' in value) ended = value.end === rows;
    else {
      rows += 1;
      yield Line.parse(value);
    }
  }
  if (!ended) throw new Error(`${path.basename(file)} is not whole`);
}

/** Whether a dump can be read to its end. */
async function isWhole({ file }: Dump): Promise<boolean> {
  try {
    for await (const line of readDump(file)) void line;
    return true;
  } catch {
    return false;
  }
}

/** The newest dump of a folder that can be read to its end; null when there is none. */
export async function newestWhole(folder: string): Promise<Dump | null> {
  for (const dump of await listDumps(folder)) if (await isWhole(dump)) return dump;
  return null;
}

/** Which dumps to keep: the last two, one for each of the last six hours, seven days and four weeks. Newest first in and out. */
export function dumpsToKeep<T extends { at: Date }>(dumps: readonly T[], now: Date): T[] {
  const kept = new Set(dumps.slice(0, 2));
  for (const [step, count] of [
    [HOUR, 6],
    [DAY, 7],
    [7 * DAY, 4],
  ] as const) {
    const seen = new Set<number>();
    for (const dump of dumps) {
      const slot = Math.floor((now.getTime() - dump.at.getTime()) / step);
      if (slot >= count || seen.has(slot)) continue;
      seen.add(slot);
      kept.add(dump);
    }
  }
  return dumps.filter((dump) => kept.has(dump));
}

/** Removes the dumps that are not to be kept. Gives the journal's number from which the two newest need it. */
export async function thinDumps(folder: string, now = new Date()): Promise<number> {
  const dumps = await listDumps(folder);
  const kept = new Set(dumpsToKeep(dumps, now));
  for (const dump of dumps) if (!kept.has(dump)) await rm(dump.file, { force: true });
  return Math.min(...dumps.slice(0, 2).map((dump) => dump.journal));
}
