import { randomUUID } from 'node:crypto';
import { copyFile, mkdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { editRequest } from '@flimzy/core/edits';
import { newPiece } from '@flimzy/core/piece';
import { frameStart } from '@flimzy/core/time';
import { formatOf, MEDIA, PIECES } from '@flimzy/demo/scenario';
import { eq } from 'drizzle-orm';
import type { Running } from './app';
import { notes } from './db/schema';

const LOADED = 'demo-loaded';

/** Puts the demo's media and pieces into a new data folder, once: what is deleted later stays deleted. */
export async function loadDemo(
  { database, folder, media, queue, pieces }: Running,
  from: string,
  say: (line: string) => void,
): Promise<void> {
  const { db } = database;
  if ((await db.select().from(notes).where(eq(notes.key, LOADED))).length > 0) return;
  if (!(await stat(from).catch(() => null))) return say(`The demo is left out: ${from} is not there.`);
  say('Loading the demo: the kite workshop’s clips, music and pieces (about a minute, once) …');
  for (const { id, file, name } of [...MEDIA].reverse()) {
    if (await media.exists(id)) continue;
    await mkdir(folder.medium(id), { recursive: true, mode: 0o700 });
    await copyFile(path.join(from, file), folder.file(id, 'original'));
    const { size } = await stat(path.join(from, file));
    await media.insert({ id, name, fileName: file, size, status: 'preparing' });
  }
  for (const { id } of MEDIA) await queue.send('prepare', id);
  const items = await allReady(media, say);
  for (const recipe of PIECES) {
    const format = formatOf(recipe);
    await pieces.insert(newPiece(recipe.id, recipe.name, format));
    const requests = recipe.clips.flatMap(({ media: id, track = 'main', at, from: first, frames, fit = 'fill', level = 0 }) => {
      const facts = items.get(id)?.facts;
      const time = (n: number) => frameStart(n, format.rate);
      return facts
        ? [
            editRequest(randomUUID(), 'add', {
              track,
              media: facts,
              at: at === undefined ? null : time(at),
              from: time(first),
              length: time(frames),
              fit,
              level,
            }),
          ]
        : [];
    });
    const { refused } = await pieces.edit(recipe.id, 0, requests);
    if (refused[0]) throw new Error(`The demo piece “${recipe.name}” does not fit together: ${refused[0].sentence}`);
    for (const step of recipe.then ?? []) {
      const { piece, revision } = await pieces.head(recipe.id);
      const { name, params } = step(piece);
      const answer = await pieces.edit(recipe.id, revision, [{ kind: 'do', id: randomUUID(), name, params }]);
      if (answer.refused[0]) throw new Error(`The demo piece “${recipe.name}”, ${name}: ${answer.refused[0].sentence}`);
    }
  }
  await db.insert(notes).values({ key: LOADED, value: new Date().toISOString() });
  say('The demo is loaded.');
}

/** Waits until every demo item is ready to be used. */
async function allReady(
  media: Running['media'],
  say: (line: string) => void,
): Promise<Map<string, Awaited<ReturnType<Running['media']['get']>>>> {
  for (let told = -1; ; await new Promise((resolve) => setTimeout(resolve, 400))) {
    const items = await Promise.all(MEDIA.map(({ id }) => media.get(id)));
    const ready = items.filter((item) => item.status !== 'preparing').length;
    if (ready >= told + 6 || ready === items.length) say(`  ${(told = ready)} of ${items.length} media items prepared`);
    const failed = items.find((item) => item.status === 'failed');
    if (failed) throw new Error(failed.error ?? failed.name);
    if (ready === items.length) return new Map(items.map((item) => [item.id, item]));
  }
}
