import { readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Arrival } from '@flimzy/contract';
import type { EventHub } from '../events/hub';
import { jsonOrNull } from '../files/json';
import { putInPlace, whole } from '../files/whole';
import { ProblemError } from '../http/problem';
import type { DataFolder } from '../media/folders';
import { isDiskFull } from '../media/run';
import { readArchive, type ReadWork } from './read';

/** How long what came of an archive is told, in ms: a week. */
const TOLD = 7 * 86_400_000;

/** Archives on their way in. Each stands beside its file as a small file of its own, so that work on it goes on after any end of the server. */
export class Arrivals {
  private readonly all = new Map<string, Arrival>();

  private constructor(
    private readonly folder: DataFolder,
    private readonly hub: EventHub,
  ) {}

  static async open(folder: DataFolder, hub: EventHub): Promise<Arrivals> {
    const arrivals = new Arrivals(folder, hub);
    for (const name of await readdir(folder.archives())) {
      if (!name.endsWith('.json')) continue;
      const text = await readFile(path.join(folder.archives(), name), 'utf8').catch(() => 'null');
      const read = Arrival.safeParse(jsonOrNull(text));
      if (!read.success) continue;
      const over = read.data.status === 'done' || read.data.status === 'failed';
      if (over && Date.now() - Date.parse(read.data.at) > TOLD) await arrivals.drop(read.data.id);
      else arrivals.all.set(read.data.id, read.data);
    }
    return arrivals;
  }

  private readonly file = (id: string) => path.join(this.folder.archives(), `${id}.zip`);
  private readonly note = (id: string) => path.join(this.folder.archives(), `${id}.json`);

  list(): Arrival[] {
    return [...this.all.values()].sort((a, b) => (a.at < b.at ? 1 : -1));
  }

  /** Those that are not read yet. */
  unfinished(): string[] {
    return this.list()
      .filter(({ status }) => status === 'waiting' || status === 'reading')
      .map(({ id }) => id);
  }

  /** Whether a file arrived under this id already. */
  async has(id: string): Promise<boolean> {
    return this.all.has(id) || (await stat(this.file(id)).catch(() => null)) !== null;
  }

  /** Takes a file that has arrived. Done twice, it does nothing the second time. */
  async take(id: string, arrived: string, fileName: string, size: number): Promise<void> {
    if (await stat(arrived).catch(() => null)) await putInPlace(arrived, this.file(id));
    if (this.all.has(id)) return;
    const at = new Date().toISOString();
    await this.keep({ id, fileName, size, status: 'waiting', progress: 0, piece: null, name: null, missing: [], error: null, at });
  }

  private async keep(arrival: Arrival): Promise<Arrival> {
    await whole(this.note(arrival.id), (to) => writeFile(to, JSON.stringify(arrival)));
    return this.show(arrival);
  }

  private show(arrival: Arrival): Arrival {
    this.all.set(arrival.id, arrival);
    this.hub.tell({ type: 'arrival', arrival });
    return arrival;
  }

  /** @throws ProblemError `not-found` */
  private get(id: string): Arrival {
    const arrival = this.all.get(id);
    if (!arrival) throw new ProblemError('not-found', 'That archive is not on the list.');
    return arrival;
  }

  /** Has one that failed wait its turn again. */
  async again(id: string): Promise<Arrival> {
    const arrival = this.get(id);
    if (arrival.status !== 'failed') return arrival;
    if (!(await stat(this.file(id)).catch(() => null)))
      throw new ProblemError('not-found', 'Its file is no longer there: choose it again.');
    return this.keep({ ...arrival, status: 'waiting', progress: 0, error: null });
  }

  /** Takes one off the list. */
  async remove(id: string): Promise<Arrival> {
    const arrival = this.get(id);
    if (arrival.status === 'waiting' || arrival.status === 'reading')
      throw new ProblemError('in-use', 'It is being brought in just now; wait until that is over.');
    await this.drop(id);
    this.hub.tell({ type: 'arrival-gone', id });
    return arrival;
  }

  private async drop(id: string): Promise<void> {
    this.all.delete(id);
    await rm(this.note(id), { force: true });
    await rm(this.file(id), { force: true });
  }

  /** Reads one. @param prepare has the files of new items made */
  async work(id: string, stores: Omit<ReadWork, 'pieceId' | 'onProgress'>, prepare: (item: string) => Promise<void>): Promise<void> {
    const arrival = this.all.get(id);
    if (!arrival || (arrival.status !== 'waiting' && arrival.status !== 'reading')) return;
    let told = 0;
    this.show({ ...arrival, status: 'reading' });
    const onProgress = (progress: number) => {
      if (Date.now() - told < 250) return;
      told = Date.now();
      this.show({ ...arrival, status: 'reading', progress: Math.min(1, progress) });
    };
    try {
      const { fresh, ...made } = await readArchive(this.file(id), { ...stores, pieceId: id, onProgress });
      for (const item of fresh) await prepare(item);
      await this.keep({ ...arrival, status: 'done', progress: 1, ...made });
      await rm(this.file(id), { force: true });
    } catch (error) {
      if (stores.signal.aborted) return; // it goes on at the next start
      const sentence =
        error instanceof ProblemError
          ? error.message
          : isDiskFull(error)
            ? 'The disk of the server is full. Free some space, then try again: the archive is kept.'
            : 'The server ran into an error of its own. Try again: the archive is kept.';
      await this.keep({ ...arrival, status: 'failed', error: sentence });
      if (!(error instanceof ProblemError)) throw error;
    }
  }
}
