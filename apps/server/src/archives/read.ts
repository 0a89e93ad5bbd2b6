import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { Transform, Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { wellFormed } from '@flimzy/contract';
import { isShipped } from '@flimzy/core/deliver';
import { Piece } from '@flimzy/core/piece';
import { hashFile } from '../files/hash';
import { jsonOrNull } from '../files/json';
import type { Space } from '../files/space';
import { toDisk, whole } from '../files/whole';
import { ProblemError } from '../http/problem';
import { isDiskFull } from '../media/run';
import type { MediaRow } from '../media/store';
import type { WholePiece } from '../pieces/store';
import { openEntries, type Entries } from './entries';
import { Manifest, MANIFEST, MANIFEST_LONGEST, originalName, TEXT_LONGEST, type TextName } from './layout';
import { pieceFrom } from './texts';
import type { Stores } from './write';

/** What came of an archive. */
export interface BroughtIn {
  piece: string | null;
  name: string;
  missing: string[];
  /** Items whose files are to be made. */
  fresh: string[];
}

export interface ReadWork extends Stores {
  space: Space;
  /** The id that the piece gets here: read twice, an archive makes one piece. */
  pieceId: string;
  onProgress: (progress: number) => void;
  signal: AbortSignal;
}

type Item = Manifest['media'][number];

/** More came out of an entry than it may hold. */
class TooLong extends Error {
  override name = 'TooLong';
}

/** What came out of an entry is not what the archive says it is. */
class Damaged extends Error {
  override name = 'Damaged';
}

/** Lets through no more than so many bytes, and says what went through. */
function counted(most: number, onBytes: (bytes: Buffer) => void): Transform {
  let sum = 0;
  return new Transform({
    transform(bytes: Buffer, _encoding, done) {
      sum += bytes.length;
      if (sum > most) return done(new TooLong());
      onBytes(bytes);
      done(null, bytes);
    },
  });
}

/** The bytes of an entry; null when it is not there, is longer than it may be, or cannot be read. */
async function bytesOf({ found }: Entries, name: string, most: number): Promise<Buffer | null> {
  const parts: Buffer[] = [];
  try {
    const stream = await found.get(name)?.read();
    if (!stream) return null;
    // What goes wrong anywhere on the way ends all of it.
    await pipeline(
      stream,
      counted(most, (part) => parts.push(part)),
      new Writable({ write: (_bytes, _encoding, done) => done() }),
    );
    return Buffer.concat(parts);
  } catch {
    return null;
  }
}

async function manifestOf(entries: Entries): Promise<Manifest> {
  const bytes = await bytesOf(entries, MANIFEST, MANIFEST_LONGEST);
  if (!bytes)
    throw new ProblemError('bad-request', 'This file is no archive of a piece, or its beginning is missing. Nothing was brought in.');
  const value = jsonOrNull(bytes.toString());
  const newer = typeof value === 'object' && value !== null && 'flimzy' in value && Number(value.flimzy) > 1;
  if (newer) throw new ProblemError('bad-request', 'This archive was made by a newer Flimzy. Bring this one up to date first.');
  const { data } = Manifest.safeParse(value);
  if (!data || !wellFormed(JSON.stringify(data)))
    throw new ProblemError('bad-request', 'What this archive says of its contents makes no sense. Nothing was brought in.');
  return data;
}

/** Brings an archive in: its media onto the shelf, and its piece. @throws ProblemError with a sentence when nothing can come of it */
export async function readArchive(file: string, work: ReadWork): Promise<BroughtIn> {
  const entries = await openEntries(file);
  try {
    const manifest = await manifestOf(entries);
    const missing: string[] = [];
    if (!entries.whole) missing.push('The end of the file is missing: it did not arrive whole, or was cut off.');
    if (entries.strange > 0)
      missing.push(
        `${entries.strange === 1 ? 'One entry' : `${entries.strange} entries`} that no archive has ${entries.strange === 1 ? 'was' : 'were'} left out.`,
      );
    const texts = new Map<string, string>();
    for (const { name, size, sha256 } of manifest.texts) {
      const bytes = await bytesOf(entries, name, Math.min(size, TEXT_LONGEST));
      if (bytes && createHash('sha256').update(bytes).digest('hex') === sha256) texts.set(name, bytes.toString());
    }
    const read = pieceFrom((name: TextName) => texts.get(name) ?? null);
    const media = await bringMedia(entries, manifest, work);
    const known = new Set((await work.formats.list()).map(({ id }) => id));
    for (const format of read.formats) if (!isShipped(format) && !known.has(format.id)) await work.formats.save(format);
    const { name } = manifest.piece;
    if (read.piece && !(await work.pieces.exists(work.pieceId))) await work.pieces.bringIn(renamed(read.piece, media.ids, work.pieceId));
    return {
      piece: read.piece ? work.pieceId : null,
      name: read.piece?.document.name ?? name,
      missing: [...missing, ...read.missing, ...media.missing],
      fresh: media.fresh,
    };
  } finally {
    entries.close();
  }
}

/** The piece with the ids that things have here. */
function renamed(piece: WholePiece, ids: ReadonlyMap<string, string>, id: string): WholePiece {
  const changed = [...ids].filter(([from, to]) => from !== to);
  const over = <T>(value: T): T => {
    if (changed.length === 0) return value;
    let text = JSON.stringify(value);
    for (const [from, to] of changed) text = text.replaceAll(JSON.stringify(from), JSON.stringify(to));
    return JSON.parse(text) as T;
  };
  const here = (document: Piece): Piece => Piece.parse({ ...over(document), id });
  return { ...piece, document: here(piece.document), first: here(piece.first), log: piece.log.map(over) };
}

/** Where an item of an archive goes. */
type Place = { id: string; how: 'there' | 'fresh' | 'revived' };

/** The item here that an item of an archive is, or is to become. */
async function placeFor(item: Item, ours: readonly MediaRow[], theirs: ReadonlySet<string>, { folder }: Stores): Promise<Place> {
  const same = ours.find(({ id }) => id === item.id);
  if (same?.purgedAt) return { id: same.id, how: 'revived' };
  // One that the archive has not got is the one that is here.
  if (same && item.sha256 === null) return { id: same.id, how: 'there' };
  if (same) {
    const hash = same.sha256 ?? (await hashFile(folder.file(same.id, 'original')).catch(() => null));
    return hash === item.sha256 ? { id: same.id, how: 'there' } : { id: randomUUID(), how: 'fresh' };
  }
  const alike = ours.find(
    (row) => row.sha256 === item.sha256 && row.status === 'ready' && !row.purgedAt && !row.deletedAt && !theirs.has(row.id),
  );
  return alike ? { id: alike.id, how: 'there' } : { id: item.id, how: 'fresh' };
}

const megabytes = (bytes: number) => `${Math.max(0.1, bytes / 1e6).toFixed(1)} MB`;

/** Puts the originals of an archive in their places, and says which ids they have here. */
async function bringMedia(
  entries: Entries,
  { media }: Manifest,
  work: ReadWork,
): Promise<{ ids: Map<string, string>; missing: string[]; fresh: string[] }> {
  const ours = await work.media.every();
  const theirs = new Set(media.map(({ id }) => id));
  const places = new Map<Item, Place>();
  for (const item of media) places.set(item, await placeFor(item, ours, theirs, work));
  const wanted = [...places].filter(([{ sha256 }, { how }]) => sha256 !== null && how !== 'there');
  const sum = wanted.reduce((n, [{ size }]) => n + size, 0);
  await work.space.need(sum, 'the media of this archive');
  const missing: string[] = [];
  const fresh: string[] = [];
  let done = 0;
  for (const [item, { id, how }] of places) {
    work.signal.throwIfAborted();
    if (how === 'there') continue;
    const wrong = await original(entries, item, id, work, (bytes) => work.onProgress((done += bytes) / Math.max(1, sum)));
    if (wrong) missing.push(wrong);
    const row = { name: item.name, fileName: item.fileName, size: item.size, sha256: wrong ? null : item.sha256 };
    if (wrong && how === 'revived') continue;
    const now = new Date();
    // What is not there has a place all the same: the piece says so where it is used, and something else can be put there.
    const state = wrong
      ? { status: 'failed' as const, complete: true, error: wrong, purgedAt: now, deletedAt: now }
      : { status: 'preparing' as const, complete: false, error: null, purgedAt: null, deletedAt: null };
    if (how === 'revived') await work.media.update(id, { ...row, ...state, made: null });
    else await work.media.insert({ id, ...row, ...state });
    if (!wrong) fresh.push(id);
  }
  return { ids: new Map([...places].map(([item, { id }]) => [item.id, id])), missing, fresh };
}

/** Brings one original to its place; what is wrong with it, as a sentence, or null. */
async function original(
  entries: Entries,
  { name, size, sha256 }: Item,
  id: string,
  { folder, signal }: ReadWork,
  onBytes: (bytes: number) => void,
): Promise<string | null> {
  if (sha256 === null) return `“${name}” was not there when the archive was made.`;
  const entry = entries.found.get(originalName(sha256));
  if (!entry) return `“${name}” (${megabytes(size)}) is not in the archive.`;
  await mkdir(folder.medium(id), { recursive: true, mode: 0o700 });
  await toDisk(folder.media());
  try {
    await whole(folder.file(id, 'original'), async (to) => {
      const hash = createHash('sha256');
      const through = counted(size, (bytes) => {
        hash.update(bytes);
        onBytes(bytes.length);
      });
      await pipeline(await entry.read(), through, createWriteStream(to), { signal });
      if (hash.digest('hex') !== sha256) throw new Damaged();
    });
    return null;
  } catch (error) {
    await rm(folder.medium(id), { recursive: true, force: true });
    const ours = ['EDQUOT', 'EMFILE', 'EACCES', 'EROFS'].includes((error as NodeJS.ErrnoException).code ?? '');
    if (signal.aborted || ours || isDiskFull(error)) throw error;
    return `“${name}” (${megabytes(size)}) is damaged in the archive.`;
  }
}
