import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { MediaFacts } from '@flimzy/core/piece';
import { ProblemError } from '../http/problem';
import { proxyOf } from '../deliveries/pictures';
import { makeFilmstrip } from './filmstrip';
import type { DataFolder } from './folders';
import { HEARING, listenTo } from './hearing';
import { prepare } from './prepare';
import { isDiskFull } from './run';
import type { MediaRow, MediaStore } from './store';

/** The server is closing: what runs is stopped, and goes on at the next start. */
export class Stopped extends Error {
  override name = 'Stopped';
}

/** Bytes of every file of an item but its original. */
async function sizes(folder: DataFolder, id: string): Promise<Record<string, number>> {
  const found: Record<string, number> = {};
  for (const entry of await readdir(folder.medium(id), { withFileTypes: true }))
    if (entry.isFile() && entry.name !== 'original') found[entry.name] = (await stat(path.join(folder.medium(id), entry.name))).size;
  return found;
}

/**
 * Does all the work on a new item, or what is left of it. Whatever goes wrong, the original stays: of a file that is no media it can be
 * taken back for a while, of any other the work can be tried again. What has sound is then to be listened to: `listen`, as work of its
 * own, which nothing else has to wait for. Never throws but {@link Stopped}.
 */
export async function workOnMedia(
  store: MediaStore,
  folder: DataFolder,
  id: string,
  signal: AbortSignal,
  onFailure: (error: unknown) => void,
  listen: (id: string) => Promise<void>,
): Promise<void> {
  let row = await store.row(id);
  if (row.complete) return;
  // What is made again has its filmstrip already, which one picture must not take the place of.
  const usedBefore = row.made !== null;
  const madeNow = row.status === 'preparing';
  let told = 0;
  const onStep = (step: 'reading' | 'proxy', progress: number) => {
    if (Date.now() - told < 250 && progress > 0) return;
    told = Date.now();
    store.setWork(id, { step, progress }, row);
  };
  try {
    if (row.status === 'preparing') {
      const { name } = row;
      const show = async (facts: Omit<MediaFacts, 'id' | 'name'>, filmstrip: MediaRow['filmstrip']) => {
        await store.update(id, { facts: { ...facts, id, name }, filmstrip });
        row = await store.row(id); // what is told of the work from now on says it too
      };
      const first = usedBefore ? {} : { onFound: show };
      const { facts, ...found } = await prepare({ folder, id, fileName: row.fileName, onStep, ...first, signal });
      store.setWork(id, { step: 'filmstrip', progress: 0 }, row);
      const made = await sizes(folder, id);
      await store.update(id, { status: 'ready', error: null, facts: { ...facts, id, name: row.name }, ...found, made });
      row = await store.row(id);
    }
    const { facts } = row;
    if (!facts) return;
    const there = !madeNow && row.filmstrip?.sharp ? row.filmstrip : null;
    const make = () => makeFilmstrip(folder, id, facts, folder.file(id, proxyOf(row)), signal);
    const filmstrip = facts.kind === 'sound' ? null : (there ?? (await make()));
    store.setWork(id, facts.hasSound ? { step: 'listening', progress: 0 } : null);
    await store.update(id, { filmstrip, complete: !facts.hasSound, error: null, made: await sizes(folder, id) });
    if (facts.hasSound) await listen(id);
  } catch (error) {
    store.setWork(id, null);
    if (signal.aborted) throw new Stopped('the server is closing');
    const said = sentenceFor(error, row);
    // What was shown at first of a file that then could not be used goes again.
    const nothing = said.status === 'failed' && !usedBefore;
    if (nothing) await rm(folder.file(id, 'filmstrip.jpg'), { force: true });
    await store.update(id, { ...said, ...(nothing ? { facts: null, filmstrip: null } : {}), complete: true });
    if (!(error instanceof ProblemError)) onFailure(error);
  }
}

/** Listens to an item that can be used already: how loud it is, and where someone speaks. Never throws but {@link Stopped}. */
export async function listenToMedia(
  store: MediaStore,
  folder: DataFolder,
  id: string,
  signal: AbortSignal,
  onFailure: (error: unknown) => void,
): Promise<void> {
  const row = await store.row(id);
  if (row.complete || row.status !== 'ready') return;
  try {
    await listenTo(folder, id, signal, (progress) => store.setWork(id, { step: 'listening', progress }, row));
    store.setWork(id, null);
    await store.update(id, { complete: true, made: await sizes(folder, id) });
  } catch (error) {
    store.setWork(id, null);
    if (signal.aborted) throw new Stopped('the server is closing');
    await store.update(id, { ...sentenceFor(error, row, 'What is heard in '), complete: true });
    onFailure(error);
  }
}

/** What is said of an item whose work failed. One that could be used already stays so. */
function sentenceFor(error: unknown, row: MediaRow, part = 'The filmstrip of '): Pick<MediaRow, 'status' | 'error'> {
  const status = row.status === 'ready' ? 'ready' : 'failed';
  if (error instanceof ProblemError) return { status, error: error.message };
  if (isDiskFull(error))
    return {
      status,
      error: `The disk of the server is full, so “${row.fileName}” could not be prepared. Free some space, then try again.`,
    };
  const what = status === 'ready' ? part : '';
  return { status, error: `${what}“${row.fileName}” could not be prepared: the server ran into an error of its own. Try again.` };
}

/**
 * After a start: items whose files are damaged or gone, or were made by an older version, are made again from their originals; one
 * without its original is said to be without it. Gives the ids to work on.
 */
export async function checkMade(store: MediaStore, folder: DataFolder): Promise<string[]> {
  const again: string[] = [];
  for (const row of await store.kept()) {
    if (!(await stat(folder.file(row.id, 'original')).catch(() => null))) {
      if (row.status !== 'failed')
        await store.update(row.id, {
          status: 'failed',
          complete: true,
          error: `The file of “${row.name}” is gone from the server’s disk.`,
        });
      continue;
    }
    if (row.status === 'failed') continue;
    const there = await sizes(folder, row.id);
    const whole = row.status === 'ready' && row.made && Object.entries(row.made).every(([name, size]) => there[name] === size);
    if (!whole && row.status === 'ready') await store.update(row.id, { status: 'preparing', complete: false });
    const blurred = row.status === 'ready' && row.facts?.kind !== 'sound' && row.error === null && !row.filmstrip?.sharp;
    const unheard = row.status === 'ready' && Boolean(row.facts?.hasSound) && row.error === null && !there[HEARING];
    if (whole && row.complete && (blurred || unheard)) await store.update(row.id, { complete: false });
    if (!whole || !row.complete || blurred || unheard) again.push(row.id);
  }
  return again;
}
