import { createHash } from 'node:crypto';
import { stat } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { isShipped } from '@flimzy/core/deliver';
import archiver from 'archiver';
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
 * names. The stream fails when an original cannot be read to its end. @throws ProblemError `not-found`
 */
export async function writeArchive(stores: Stores, id: string): Promise<{ name: string; bytes: Readable }> {
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
  const archive = archiver('zip', { store: true });
  archive.on('warning', (error) => archive.destroy(error));
  archive.append(Buffer.from(JSON.stringify(manifest, null, 1)), { name: MANIFEST });
  for (const { name, bytes } of parts) archive.append(bytes, { name });
  const put = new Set<string>();
  for (const { id: item, sha256 } of media) {
    if (sha256 === null || put.has(sha256)) continue; // one file brought in twice is there once
    put.add(sha256);
    archive.file(stores.folder.file(item, 'original'), { name: originalName(sha256) });
  }
  void archive.finalize().catch(() => undefined); // whoever reads it hears of it
  return { name: document.name, bytes: archive };
}
