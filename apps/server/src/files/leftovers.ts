import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { DataFolder } from '../media/folders';
import { UNFINISHED } from './whole';

/** How long an upload that nobody goes on with is kept, in ms: a week. */
const UPLOAD_KEPT = 7 * 86_400_000;

/** What a dead server left: half-made files, folders of work that stopped. Only before work begins, when nobody else writes here. */
export async function clearLeftovers(folder: DataFolder): Promise<void> {
  const media = (await readdir(folder.media(), { withFileTypes: true })).filter((entry) => entry.isDirectory());
  const places = [folder.root, folder.archives(), folder.segments(), folder.posters(), folder.deliveries(), folder.dumps()];
  for (const place of [...places, ...media.map((entry) => folder.medium(entry.name))])
    for (const name of await readdir(place))
      if (name.endsWith(UNFINISHED) || name.startsWith('work-')) await rm(path.join(place, name), { recursive: true, force: true });
}

/** Uploads that nobody went on with for a week. */
export async function clearOldUploads(folder: DataFolder, now = Date.now()): Promise<void> {
  const last = new Map<string, number>();
  for (const name of await readdir(folder.uploads())) {
    const { mtimeMs } = await stat(path.join(folder.uploads(), name)).catch(() => ({ mtimeMs: now }));
    const id = name.replace(/\.json$/, '');
    last.set(id, Math.max(last.get(id) ?? 0, mtimeMs));
  }
  for (const [id, time] of last)
    if (now - time > UPLOAD_KEPT) for (const end of ['', '.json']) await rm(path.join(folder.uploads(), id + end), { force: true });
}
