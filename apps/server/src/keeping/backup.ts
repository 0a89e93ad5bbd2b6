import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { MediaId } from '@flimzy/core/piece';
import { z } from 'zod';
import { hashFile } from '../files/hash';
import { whole } from '../files/whole';
import { DataFolder } from '../media/folders';
import { newestWhole, readDump } from './dumps';
import { journalNumbers, readJournal } from './journal';

const Manifest = z.object({
  at: z.string(),
  /** Files beside it. */
  dump: z.string(),
  journal: z.array(z.string()),
  /** Every original by its item: the name of its bytes under `originals`, and how many. */
  originals: z.record(MediaId, z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/), size: z.number() })),
});
type Manifest = z.infer<typeof Manifest>;

const MANIFEST = 'manifest.json';

/** Copies a file, giving the hash of its bytes. */
async function copyHashed(from: string, to: string): Promise<string> {
  const hash = createHash('sha256');
  const through = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      hash.update(chunk);
      done(null, chunk);
    },
  });
  await pipeline(createReadStream(from), through, createWriteStream(to, { mode: 0o600 }));
  return hash.digest('hex');
}

/** Items whose originals are to be there, with the hash of each where it is known. */
async function itemsOf(folder: DataFolder, dump: { file: string; journal: number }): Promise<Map<string, string | null>> {
  const items = new Map<string, string | null>();
  const take = (id: unknown, row: Record<string, unknown>) => {
    if (typeof id !== 'string') return;
    if (row.purgedAt) return void items.delete(id);
    if (typeof row.sha256 === 'string') items.set(id, row.sha256);
    else if (!items.has(id)) items.set(id, null);
  };
  for await (const line of readDump(dump.file)) if (line.in === 'media' && 'put' in line) take(line.put.id, line.put);
  for await (const line of readJournal(folder.journal(), dump.journal))
    if (line.in === 'media') {
      if ('put' in line) take(line.put.id, line.put);
      else if ('set' in line && items.has(line.id)) take(line.id, line.set);
    }
  return items;
}

/**
 * Copies everything that cannot be made again to a folder: the newest dump with the journal since, and the originals by their hash,
 * those only that are not there yet. May be done while the server works. Gives what was copied.
 * @throws Error with a sentence for people
 */
export async function backUp(
  data: string,
  to: string,
  say: (line: string) => void,
): Promise<{ place: string; copied: number; there: number }> {
  const folder = new DataFolder(data);
  const dump = await newestWhole(folder.dumps());
  if (!dump) throw new Error(`There is nothing to back up in ${data}: no Flimzy server has worked there yet.`);
  const at = new Date().toISOString();
  const place = path.join(to, at.replace(/[:.]/g, '-'));
  const pool = path.join(to, 'originals');
  await mkdir(place, { recursive: true, mode: 0o700 });
  await mkdir(pool, { recursive: true, mode: 0o700 });
  const originals: Manifest['originals'] = {};
  let [copied, there] = [0, 0];
  for (const [id, known] of await itemsOf(folder, dump)) {
    const file = folder.file(id, 'original');
    const found = await stat(file).catch(() => null);
    if (!found) {
      say(`  the original of ${id} is not there, and so is not backed up`);
      continue;
    }
    const sha256 = known ?? (await hashFile(file));
    const target = path.join(pool, sha256);
    if ((await stat(target).catch(() => null))?.size === found.size) there += 1;
    else {
      await whole(target, async (unfinished) => {
        if ((await copyHashed(file, unfinished)) !== sha256)
          throw new Error(`The original of ${id} is damaged on the disk: its bytes are not those that arrived.`);
      });
      copied += 1;
    }
    originals[id] = { sha256, size: found.size };
  }
  await copyFile(dump.file, path.join(place, path.basename(dump.file)));
  const journal: string[] = [];
  for (const name of await readdir(folder.journal()))
    if (Number.parseInt(name, 10) >= dump.journal) {
      await copyFile(path.join(folder.journal(), name), path.join(place, name));
      journal.push(name);
    }
  const manifest: Manifest = { at, dump: path.basename(dump.file), journal, originals };
  await whole(path.join(place, MANIFEST), (file) => writeFile(file, JSON.stringify(manifest, null, 1)));
  return { place, copied, there };
}

/** The newest backup in a folder that was finished. */
async function newest(from: string): Promise<{ place: string; manifest: Manifest } | null> {
  const names = (await readdir(from).catch(() => [])).sort().reverse();
  for (const place of [from, ...names.map((name) => path.join(from, name))]) {
    const text = await readFile(path.join(place, MANIFEST), 'utf8').catch(() => null);
    if (text) return { place, manifest: Manifest.parse(JSON.parse(text)) };
  }
  return null;
}

/**
 * Makes a data folder from a backup: the next start builds the database and everything that is made from originals. Every original is
 * checked against its hash.
 *
 * @param from the folder backups were made to, or one of them
 * @throws Error with a sentence for people; an existing data folder is never touched
 */
export async function restore(from: string, data: string): Promise<{ at: string; originals: number }> {
  const backup = await newest(from);
  if (!backup) throw new Error(`There is no finished backup in ${from}.`);
  if ((await readdir(data).catch(() => [])).length > 0)
    throw new Error(`${data} is not empty. Restore to a new folder, then start with it: npm start -- --data DIR`);
  const folder = new DataFolder(data);
  await folder.make();
  const pool = path.join(path.dirname(backup.place), 'originals');
  for (const [id, { sha256 }] of Object.entries(backup.manifest.originals)) {
    await mkdir(folder.medium(id), { recursive: true, mode: 0o700 });
    await whole(folder.file(id, 'original'), async (unfinished) => {
      if ((await copyHashed(path.join(pool, sha256), unfinished)) !== sha256)
        throw new Error(`The backup of ${id} is damaged: its bytes are not those that were backed up.`);
    });
  }
  for (const name of backup.manifest.journal)
    await whole(path.join(folder.journal(), name), (to) => copyFile(path.join(backup.place, name), to));
  const { dump } = backup.manifest;
  await whole(path.join(folder.dumps(), dump), (to) => copyFile(path.join(backup.place, dump), to));
  if ((await journalNumbers(folder.journal())).length < backup.manifest.journal.length)
    throw new Error('The journal of the backup is not whole.');
  return { at: backup.manifest.at, originals: Object.keys(backup.manifest.originals).length };
}
