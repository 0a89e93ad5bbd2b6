import { createReadStream } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { open as openZip, type Entry, type ZipFile } from 'yauzl';
import { jsonOrNull } from '../files/json';
import { Manifest, MANIFEST, MANIFEST_LONGEST, originalName, TEXTS } from './layout';

/** Something in an archive whose bytes can be read. What it says of its size is not believed by whoever reads it. */
export interface Found {
  read: () => Promise<Readable>;
}

/** What an archive holds under the names that an archive can have, and how many other things are in it. */
export interface Entries {
  found: Map<string, Found>;
  strange: number;
  /** False when its list of contents was missing, as at the end of a file that did not arrive whole. */
  whole: boolean;
  close: () => void;
}

const OURS = new RegExp(`^(?:${[MANIFEST, ...TEXTS].map((name) => name.replace('.', '\\.')).join('|')}|media/[0-9a-f]{64})$`);

/** Bits of an entry's flags: it is encrypted; its sizes stand after it. */
const ENCRYPTED = 1;
const SIZES_AFTER = 8;

/** The list of contents of a ZIP, read by it. Names are compared with those that an archive has, never used as paths. */
async function listed(file: string): Promise<Entries> {
  const zip = await new Promise<ZipFile>((resolve, reject) => {
    const how = { lazyEntries: true, autoClose: false, decodeStrings: false, validateEntrySize: false } as const;
    openZip(file, how, (error, opened) => (error ? reject(error) : resolve(opened)));
  });
  const found = new Map<string, Found>();
  let strange = 0;
  const take = (entry: Entry) => {
    const name = (entry.fileName as unknown as Buffer).toString('latin1');
    const readable = (entry.generalPurposeBitFlag & ENCRYPTED) === 0 && [0, 8].includes(entry.compressionMethod);
    if (!OURS.test(name) || !readable || found.has(name)) {
      strange += 1;
      return;
    }
    const read = () =>
      new Promise<Readable>((resolve, reject) => zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))));
    found.set(name, { read });
  };
  try {
    await new Promise<void>((resolve, reject) => {
      zip.on('entry', (entry: Entry) => {
        take(entry);
        zip.readEntry();
      });
      zip.once('end', resolve);
      zip.once('error', reject);
      zip.readEntry();
    });
  } catch (error) {
    zip.close();
    throw error;
  }
  return { found, strange, whole: true, close: () => zip.close() };
}

const LOCAL = 0x04034b50;
const LOCAL_LENGTH = 30;
/** The most that can stand between an entry's bytes and the next entry: a mark, a checksum and two sizes. */
const AFTER_LONGEST = 24;

async function bytesAt(handle: FileHandle, at: number, length: number): Promise<Buffer> {
  const bytes = Buffer.alloc(length);
  const { bytesRead } = await handle.read(bytes, 0, length, at);
  return bytes.subarray(0, bytesRead);
}

/**
 * What a ZIP without its list of contents still holds, entry after entry from its beginning: an archive says first how long everything
 * in it is. What is not there to its end is left out.
 */
async function walked(file: string): Promise<Entries> {
  const found = new Map<string, Found>();
  const sizes = new Map<string, number>();
  const handle = await open(file, 'r');
  try {
    const { size: end } = await handle.stat();
    for (let at = 0; ;) {
      const head = await bytesAt(handle, at, LOCAL_LENGTH);
      if (head.length < LOCAL_LENGTH || head.readUInt32LE(0) !== LOCAL || head.readUInt16LE(8) !== 0) break;
      const named = head.readUInt16LE(26);
      const name = (await bytesAt(handle, at + LOCAL_LENGTH, named)).toString('latin1');
      const from = at + LOCAL_LENGTH + named + head.readUInt16LE(28);
      const after = (head.readUInt16LE(6) & SIZES_AFTER) !== 0;
      const size = after ? sizes.get(name) : head.readUInt32LE(22);
      if (size === undefined || from + size > end || !OURS.test(name)) break;
      if (name === MANIFEST) {
        if (size > MANIFEST_LONGEST) break;
        for (const [one, length] of sizesIn(await bytesAt(handle, from, size))) sizes.set(one, length);
      }
      // An empty range cannot be asked of a file.
      found.set(name, {
        read: async () => (size === 0 ? Readable.from([]) : createReadStream(file, { start: from, end: from + size - 1 })),
      });
      const next = await bytesAt(handle, from + size, AFTER_LONGEST + 4);
      const mark = Buffer.from('PK\u0003\u0004', 'latin1');
      const gap = next.indexOf(mark);
      if (gap < 0) break;
      at = from + size + gap;
    }
  } finally {
    await handle.close();
  }
  return { found, strange: 0, whole: false, close: () => undefined };
}

/** How long a manifest says that everything is; nothing when it makes no sense. */
function sizesIn(bytes: Buffer): [string, number][] {
  const { data } = Manifest.safeParse(jsonOrNull(bytes.toString()));
  if (!data) return [];
  return [
    ...data.texts.map(({ name, size }): [string, number] => [name, size]),
    ...data.media.flatMap(({ sha256, size }): [string, number][] => (sha256 ? [[originalName(sha256), size]] : [])),
  ];
}

/** Opens an archive, also one whose end is missing. Whoever opens it closes it. */
export async function openEntries(file: string): Promise<Entries> {
  try {
    return await listed(file);
  } catch {
    return walked(file);
  }
}
