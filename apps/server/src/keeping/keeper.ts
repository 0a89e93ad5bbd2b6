import type { Database } from '../db/open';
import type { DataFolder } from '../media/folders';
import { listDumps, thinDumps, writeDump } from './dumps';
import { Journal } from './journal';
import type { Line } from './lines';

/** How often a dump is made while there is work, in ms, and after how much of it at the latest, in bytes of the journal. */
const EVERY = 15 * 60_000;
const AFTER_BYTES = 64 * 1024 ** 2;

/** Writes down what was done, and now and then everything. */
export class Keeper {
  private dumping: Promise<void> | null = null;
  private readonly timer: ReturnType<typeof setInterval>;

  private constructor(
    private readonly db: Database,
    private readonly folder: DataFolder,
    private readonly journal: Journal,
    private readonly onFailure: (error: unknown) => void,
  ) {
    this.timer = setInterval(() => void this.dump(), EVERY);
    this.timer.unref();
  }

  /** Goes on keeping. Where there is no dump yet, or `anew`, one is made first: what is there now is not in the journal. */
  static async open(db: Database, folder: DataFolder, anew: boolean, onFailure: (error: unknown) => void): Promise<Keeper> {
    const keeper = new Keeper(db, folder, await Journal.open(folder.journal()), onFailure);
    if (anew || (await listDumps(folder.dumps())).length === 0) await keeper.dump(true);
    return keeper;
  }

  /** Resolves when it is on the disk: only then may anyone be told that it is done. */
  async keep(...lines: Line[]): Promise<void> {
    await this.journal.append(lines);
    if (this.journal.bytes > AFTER_BYTES) void this.dump();
  }

  /** Makes a dump if there is anything new. One that fails is told of and tried again later: the journal has it all. */
  dump(always = false): Promise<void> {
    if (!always && this.journal.bytes === 0) return Promise.resolve();
    return (this.dumping ??= this.makeDump()
      .catch(this.onFailure)
      .finally(() => (this.dumping = null)));
  }

  private async makeDump(): Promise<void> {
    const from = await this.journal.rotate();
    await writeDump(this.db, this.folder.dumps(), from);
    await this.journal.forget(await thinDumps(this.folder.dumps()));
  }

  async close(): Promise<void> {
    clearInterval(this.timer);
    await this.dumping;
    await this.dump();
    await this.journal.close();
  }
}
