import { EventEmitter, once } from 'node:events';
import PgBoss from 'pg-boss';
import type { OpenDatabase } from '../db/open';

/** The kinds of long work. */
export const JOBS = ['prepare', 'finish', 'listen', 'deliver', 'arrive', 'post'] as const;
export type JobName = (typeof JOBS)[number];

/** How often workers look for work that nobody told them of, in seconds: there is none, so far as is known. */
const LOOK_EVERY = 30;

/** Queues long work in the database, so that it goes on after the page, or the server, is closed. */
export class JobQueue {
  private readonly running = new Set<Promise<void>>();
  private readonly workers = new Map<JobName, string[]>();
  /** How much of each kind waits or is worked on, and who waits until there is none. */
  private readonly open = new Map<JobName, number>(JOBS.map((name) => [name, 0]));
  private readonly rest = new EventEmitter<Record<JobName, []>>().setMaxListeners(0);

  private constructor(private readonly boss: PgBoss) {}

  /** Opens the queue over the same database. Only one server works on an embedded database, so whatever is still marked as running was cut off. */
  static async open(database: OpenDatabase, onError: (error: unknown) => void): Promise<JobQueue> {
    const boss = new PgBoss({ db: { executeSql: database.executeSql }, supervise: true, schedule: false, maintenanceIntervalSeconds: 300 });
    boss.on('error', onError);
    await boss.start();
    for (const name of JOBS) await boss.createQueue(name);
    await database.executeSql(
      `delete from pgboss.job where name in (${JOBS.map((name) => `'${name}'`).join(', ')}) and state in ('created', 'retry', 'active')`,
      [],
    );
    return new JobQueue(boss);
  }

  /**
   * Queues work on one subject. Asked for twice it is done twice, perhaps at the same time: whoever works looks what is left to do. What
   * is `urgent` comes before what waits already.
   */
  async send(name: JobName, subject: string, urgent = false): Promise<void> {
    this.count(name, 1);
    // What is to begin this very moment is not found by who looks in the same one, and would lie until the next look.
    const startAfter = new Date(Date.now() - 60_000);
    const options = { expireInHours: 23, retryLimit: 0, startAfter, priority: urgent ? 1 : 0 };
    await this.boss.send(name, { subject }, options).catch((error: unknown) => {
      this.count(name, -1);
      throw error;
    });
    this.wake(name);
  }

  private count(name: JobName, by: 1 | -1): void {
    const open = (this.open.get(name) ?? 0) + by;
    this.open.set(name, open);
    if (open === 0) this.rest.emit(name);
  }

  /** Waits until no work of a kind waits or is done, but so long at most (ms): one that hangs holds nothing up. @throws when the signal ends it */
  async idle(name: JobName, most: number, signal: AbortSignal): Promise<void> {
    if (this.open.get(name) === 0) return;
    const end = AbortSignal.any([signal, AbortSignal.timeout(most)]);
    await once(this.rest, name, { signal: end }).catch(() => signal.throwIfAborted());
  }

  private wake(name: JobName): void {
    for (const worker of this.workers.get(name) ?? []) this.boss.notifyWorker(worker);
  }

  /** Does the work of a kind, at most `atOnce` at the same time. */
  async work(name: JobName, atOnce: number, worker: (subject: string) => Promise<void>): Promise<void> {
    for (let i = 0; i < atOnce; i += 1) {
      const id = await this.boss.work<{ subject: string }>(name, { pollingIntervalSeconds: LOOK_EVERY, batchSize: 1 }, async ([job]) => {
        if (!job) return;
        const work = worker(job.data.subject);
        this.running.add(work);
        await work.finally(() => {
          this.running.delete(work);
          this.count(name, -1);
          this.wake(name);
        });
      });
      this.workers.set(name, [...(this.workers.get(name) ?? []), id]);
    }
  }

  /** Takes on nothing more, and waits for what runs: whoever closes has told it to stop. */
  async close(): Promise<void> {
    await this.boss.stop({ graceful: false, wait: true });
    await Promise.allSettled(this.running);
  }
}
