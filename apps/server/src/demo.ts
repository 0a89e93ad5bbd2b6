import { copyFile, mkdir, stat } from 'node:fs/promises';
import path from 'node:path';
import type { MediaItem } from '@flimzy/contract';
import { editRequest, type EditRequest } from '@flimzy/core/edits';
import { newPiece } from '@flimzy/core/piece';
import { frameStart } from '@flimzy/core/time';
import { formatOf, MEDIA, PIECES, type DemoPiece } from '@flimzy/demo/scenario';
import { eq } from 'drizzle-orm';
import type { Running } from './app';
import { notes } from './db/schema';
import { idFrom } from './files/hash';
import { toDisk, whole } from './files/whole';

const LOADED = 'demo-loaded';

/**
 * Puts the demo's media and pieces into a new data folder, once: what is deleted later stays deleted. Interrupted, it goes on at the
 * next start with what is missing.
 */
export async function loadDemo(running: Running, from: string, say: (line: string) => void): Promise<void> {
  const { database, folder, media, queue, keeper } = running;
  const { db } = database;
  if ((await db.select().from(notes).where(eq(notes.key, LOADED))).length > 0) return;
  if (!(await stat(from).catch(() => null))) return say(`The demo is left out: ${from} is not there.`);
  say('Loading the demo: the kite workshop’s clips, music and pieces (some seconds, once) …');
  const fresh = new Set<string>();
  for (const { id, file, name } of [...MEDIA].reverse()) {
    if (await media.exists(id)) continue; // what is left to do of it is queued since the server began
    await mkdir(folder.medium(id), { recursive: true, mode: 0o700 });
    await toDisk(folder.media());
    await whole(folder.file(id, 'original'), (to) => copyFile(path.join(from, file), to));
    const { size } = await stat(path.join(from, file));
    await media.insert({ id, name, fileName: file, size, status: 'preparing' });
    fresh.add(id);
  }
  for (const { id } of MEDIA) if (fresh.has(id)) await queue.send('prepare', id);
  const items = await allReady(running, say);
  for (const recipe of PIECES) await makePiece(running, recipe, items);
  const note = { key: LOADED, value: new Date().toISOString() };
  await db.insert(notes).values(note);
  await keeper.keep({ in: 'notes', put: note });
  say('The demo is loaded.');
}

async function makePiece({ pieces }: Running, recipe: DemoPiece, items: ReadonlyMap<string, MediaItem>): Promise<void> {
  const format = formatOf(recipe);
  const time = (n: number) => frameStart(n, format.rate);
  if (!(await pieces.exists(recipe.id))) await pieces.insert(newPiece(recipe.id, recipe.name, format));
  const make = async (request: EditRequest, what: string) => {
    const { refused } = await pieces.edit(recipe.id, 0, [request]);
    if (refused[0]) throw new Error(`The demo piece “${recipe.name}”, ${what}: ${refused[0].sentence}`);
  };
  for (const [n, { media, track = 'main', at, from, frames, fit = 'fill', level = 0 }] of recipe.clips.entries()) {
    const facts = items.get(media)?.facts;
    if (!facts) continue;
    const place = { track, at: at === undefined ? null : time(at), from: time(from), length: time(frames) };
    await make(editRequest(idFrom(`${recipe.id} clip ${n}`), 'add', { ...place, media: facts, fit, level }), `clip ${n}`);
  }
  for (const [n, step] of (recipe.then ?? []).entries()) {
    const id = idFrom(`${recipe.id} then ${n}`);
    if (await pieces.holds(recipe.id, id)) continue;
    const { name, params } = step((await pieces.head(recipe.id)).piece);
    await make({ kind: 'do', id, name, params }, name);
  }
}

/** Waits until every demo item can be used, or could not be prepared. */
async function allReady({ media, closing }: Running, say: (line: string) => void): Promise<Map<string, MediaItem>> {
  for (let told = -1; ; await new Promise((resolve) => setTimeout(resolve, 400))) {
    closing.throwIfAborted();
    const items = await Promise.all(MEDIA.map(({ id }) => media.get(id)));
    const ready = items.filter((item) => item.usable || item.status === 'failed').length;
    if (ready >= told + 6 || ready === items.length) say(`  ${(told = ready)} of ${items.length} media items can be used`);
    if (ready < items.length) continue;
    for (const { name, error } of items) if (error) say(`  ${name}: ${error}`);
    return new Map(items.map((item) => [item.id, item]));
  }
}
