import { randomUUID } from 'node:crypto';
import { open, rename, rm } from 'node:fs/promises';
import path from 'node:path';

/** What a half-made file's name ends in, until it is whole. */
export const UNFINISHED = '.new';

/** Brings a file, or the names in a folder, to the disk: after this a power cut cannot take it. */
export async function toDisk(place: string): Promise<void> {
  const handle = await open(place, 'r');
  try {
    await handle.sync();
  } catch (error) {
    // Windows syncs no folders, and needs to sync none.
    if (process.platform !== 'win32') throw error;
  } finally {
    await handle.close();
  }
}

/** Moves a file to its place for good: its bytes and its name are on the disk when this resolves. */
export async function putInPlace(from: string, target: string): Promise<void> {
  await toDisk(from);
  await rename(from, target);
  await toDisk(path.dirname(target));
}

/**
 * Makes a file that is there whole or not at all: written beside its place under a name of its own, brought to the disk, then
 * renamed. What fails leaves nothing.
 */
export async function whole<T>(target: string, make: (unfinished: string) => Promise<T>): Promise<T> {
  const unfinished = `${target}.${randomUUID()}${UNFINISHED}`;
  try {
    const made = await make(unfinished);
    await putInPlace(unfinished, target);
    return made;
  } finally {
    await rm(unfinished, { force: true });
  }
}
