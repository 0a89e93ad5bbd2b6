import { randomBytes } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import type { DataFolder } from '../media/folders';
import { whole } from './whole';

/** The secret of a data folder, from which keys are made: made once and kept with the data, and in no backup or archive. */
export async function secretOf(folder: DataFolder): Promise<string> {
  const there = await readFile(folder.secret(), 'utf8').catch(() => null);
  if (there) return there;
  const made = randomBytes(32).toString('hex');
  await whole(folder.secret(), (to) => writeFile(to, made, { mode: 0o600 }));
  return made;
}
