import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { PassThrough, Readable } from 'node:stream';
import { isShipped } from '@flimzy/core/deliver';
import { ZipFile } from 'yazl';
import type { FormatStore } from '../deliveries/formats';
import { hashFile } from '../files/hash';
import type { DataFolder } from '../media/folders';
import type { MediaStore } from '../media/store';
import type { PieceStore } from '../pieces/store';
import { MANIFEST, originalName, type Manifest, type TextName } from './layout';

/** Where a piece and its media come from, and go to. */
export interface Stores {
  pieces: PieceStore;
  media: MediaStore;
  formats: FormatStore;
  folder: DataFolder;
}

/** Originals of one item: null when the file is not there. */
async function originalOf({ folder }: Stores, id: string, known: string | null): Promise<{ size: number; sha256: string } | null> {
  const file = folder.file(id, 'original');
  const found = await stat(file).catch(() => null);
  return found ? { size: found.size, sha256: known ?? (await hashFile(file)) } : null;
}

/**
 * The archive of a piece, as it is being made: its document, its history, and the originals of every item that it or its history
 * names. Its `size` is in bytes. The stream fails when an original cannot be read to its end. @throws ProblemError `not-found`
 */
export async function writeArchive(stores: Stores, id: string): Promise<{ name: string; bytes: Readable; size: number }> {
  const { document, revision, first, log, versions } = await stores.pieces.whole(id);
  const used = (await stores.formats.list()).filter((format) => !isShipped(format) && document.formats?.includes(format.id));
  const texts: Record<TextName, string> = {
    'document.json': JSON.stringify(document),
    'first.json': JSON.stringify(first),
    'log.jsonl': log.map((entry) => JSON.stringify(entry)).join('\n'),
    'versions.json': JSON.stringify(versions.map(({ name, revision: at, at: when }) => ({ name, revision: at, at: when }))),
    'formats.json': JSON.stringify(used),
  };
  const media: Manifest['media'] = [];
  const named = texts['document.json'] + texts['first.json'] + texts['log.jsonl'];
  for (const row of await stores.media.every()) {
    if (!named.includes(`"${row.id}"`)) continue;
    const original = row.purgedAt ? null : await originalOf(stores, row.id, row.sha256);
    media.push({
      id: row.id,
      name: row.name,
      fileName: row.fileName,
      size: original?.size ?? row.size,
      sha256: original?.sha256 ?? null,
    });
  }
  const parts = Object.entries(texts).map(([name, text]) => ({ name: name as TextName, bytes: Buffer.from(text) }));
  const manifest: Manifest = {
    flimzy: 1,
    made: new Date().toISOString(),
    piece: { id: document.id, name: document.name, revision },
    texts: parts.map(({ name, bytes }) => ({ name, size: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') })),
    media,
  };
  const files: Stored[] = [];
  const put = new Set<string>();
  for (const { id: item, sha256, size } of media) {
    if (sha256 === null || put.has(sha256)) continue; // one file brought in twice is there once
    put.add(sha256);
    files.push({ name: originalName(sha256), file: stores.folder.file(item, 'original'), size });
  }
  const written = [{ name: MANIFEST, bytes: Buffer.from(JSON.stringify(manifest, null, 1)) }, ...parts];
  return { name: document.name, ...(await zipped(written, files)) };
}

/** A file that goes into an archive as it is. */
interface Stored {
  name: string;
  file: string;
  size: number;
}

/** A ZIP of texts and then files, none of them compressed, so that its size is known before it is read. */
async function zipped(
  texts: readonly { name: string; bytes: Buffer }[],
  files: readonly Stored[],
): Promise<{ bytes: Readable; size: number }> {
  const zip = new ZipFile();
  const bytes = zip.outputStream as PassThrough;
  let reading: Readable | null = null;
  const failed = (error: unknown) => bytes.destroy(error as Error);
  zip.on('error', failed);
  bytes.once('close', () => reading?.destroy());
  const compress = false;
  for (const { name, bytes: text } of texts) zip.addBuffer(text, name, { compress });
  for (const { name, file, size } of files)
    zip.addReadStreamLazy(name, { compress, size }, (done) => {
      reading = createReadStream(file).on('error', failed);
      done(null, reading);
    });
  // Its types leave out what the function is called with: the size.
  const end = zip.end.bind(zip) as (options: object, told: (size: number) => void) => void;
  const size = await new Promise<number>((resolve) => end({}, resolve));
  return { bytes, size };
}
