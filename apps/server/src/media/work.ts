import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { UNFINISHED } from '../files/whole';
import { ProblemError } from '../http/problem';
import { proxyOf } from '../deliveries/pictures';
import { makeFilmstrip } from './filmstrip';
import type { DataFolder } from './folders';
import { HEARING, listenTo } from './hearing';
import { begin, finish, type Prepared, type PrepareWork } from './prepare';
import { isDiskFull } from './run';
import type { MediaRow, MediaStore } from './store';

/** The server is closing: what runs is stopped, and goes on at the next start. */
export class Stopped extends Error {
  override name = 'Stopped';
}

/** Bytes of every file of an item but its original. What is half made by someone who asked for more of it is not there yet. */
async function sizes(folder: DataFolder, id: string): Promise<Record<string, number>> {
  const found: Record<string, number> = {};
  for (const entry of await readdir(folder.medium(id), { withFileTypes: true }))
    if (entry.isFile() && entry.name !== 'original' && !entry.name.endsWith(UNFINISHED))
      found[entry.name] = (await stat(path.join(folder.medium(id), entry.name))).size;
  return found;
}

/** What work on items needs, and whom it asks for the next part of it. */
export interface Working {
  store: MediaStore;
  folder: DataFolder;
  signal: AbortSignal;
  onFailure: (error: unknown) => void;
  /** Puts work on an item off: making what takes long, and listening. Nothing else has to wait for it; `urgent`: someone does. */
  later: (what: 'finish' | 'listen', id: string, urgent?: boolean) => Promise<void>;
}

/** Work on an item. Whatever goes wrong, the original stays. Never throws but {@link Stopped}. */
type Work = (working: Working, id: string) => Promise<void>;

/**
 * Begins with a new item, or with what is left of it: what is quick comes first, so that none has to wait for the proxies of others.
 * A photo can be used then, a sound too, and a video that browsers show as it is, until its proxy is there.
 */
export const beginMedia: Work = async (working, id) => {
  const { store, folder, signal, later } = working;
  let row = await store.row(id);
  if (row.complete) return;
  if (row.status === 'ready') return later('finish', id);
  const { fileName, name } = row;
  const withName = (facts: Prepared['facts']) => ({ ...facts, id, name });
  const show = async (facts: Prepared['facts'], filmstrip: MediaRow['filmstrip']) => {
    await store.update(id, { facts: withName(facts), filmstrip });
    row = await store.row(id); // what is told of the work from now on says it too
  };
  const onStep: PrepareWork['onStep'] = (step, progress) => store.setWork(id, { step, progress }, row);
  await failing(working, id, async () => {
    // What is made again has its filmstrip already, which one picture must not take the place of.
    const { state, facts, ...found } = await begin({ folder, id, fileName, onStep, signal }, row.made === null ? show : undefined);
    if (state === 'whole') return made(working, id, { ...found, facts: withName(facts) });
    await store.update(id, { ...found, facts: withName(facts) });
    store.setUsable(id, state === 'usable');
    store.setWork(id, null, await store.row(id)); // which tells that it can be used
    await later('finish', id, state === 'waits');
  });
};

/** Makes what takes long of an item that was begun with: its proxy, its filmstrip. */
export const finishMedia: Work = async (working, id) => {
  const { store, folder, signal } = working;
  const row = await store.row(id);
  if (row.complete || !row.facts || !row.source) return;
  const { facts, source, fileName, name } = row;
  let told = 0;
  const onStep: PrepareWork['onStep'] = (step, progress) => {
    if (Date.now() - told < 250 && progress > 0) return;
    told = Date.now();
    store.setWork(id, { step, progress }, row);
  };
  await failing(working, id, async () => {
    if (row.status !== 'preparing') return rest(working, row, row.filmstrip?.sharp ? row.filmstrip : null);
    const found = await finish({ folder, id, fileName, onStep, signal }, { facts, source });
    await made(working, id, { ...found, facts: { ...found.facts, id, name } });
  });
};

/** Notes that everything is there that an item needs to be used, and goes on with the rest. */
async function made(working: Working, id: string, found: Partial<MediaRow>): Promise<void> {
  const { store, folder } = working;
  store.setWork(id, { step: 'filmstrip', progress: 0 });
  await store.update(id, { status: 'ready', error: null, ...found, made: await sizes(folder, id) });
  store.setUsable(id, false);
  await rest(working, await store.row(id), null);
}

/** @param there the filmstrip, when it is made already */
async function rest({ store, folder, signal, later }: Working, row: MediaRow, there: MediaRow['filmstrip']): Promise<void> {
  const { id, facts } = row;
  if (!facts) return;
  const make = () => makeFilmstrip(folder, id, facts, folder.file(id, proxyOf(row)), signal);
  const filmstrip = facts.kind === 'sound' ? null : (there ?? (await make()));
  store.setWork(id, facts.hasSound ? { step: 'listening', progress: 0 } : null);
  await store.update(id, { filmstrip, complete: !facts.hasSound, error: null, made: await sizes(folder, id) });
  if (facts.hasSound) await later('listen', id);
}

/**
 * Does work on an item, and says what went wrong. Of a file that is no media the original can be taken back for a while, of any other
 * the work can be tried again.
 */
async function failing({ store, folder, signal, onFailure }: Working, id: string, work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    store.setWork(id, null);
    if (signal.aborted) throw new Stopped('the server is closing');
    const row = await store.row(id);
    const said = sentenceFor(error, row);
    // What was shown at first of a file that then could not be used goes again.
    const nothing = said.status === 'failed' && row.made === null;
    if (nothing) await rm(folder.file(id, 'filmstrip.jpg'), { force: true });
    store.setUsable(id, false);
    await store.update(id, { ...said, ...(nothing ? { facts: null, filmstrip: null } : {}), complete: true });
    if (!(error instanceof ProblemError)) onFailure(error);
  }
}

/** Listens to an item that can be used already: how loud it is, and where someone speaks. */
export const listenToMedia: Work = async ({ store, folder, signal, onFailure }, id) => {
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
};

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
