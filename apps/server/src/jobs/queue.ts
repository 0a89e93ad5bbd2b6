import PgBoss from 'pg-boss';
import type { OpenDatabase } from '../db/open';

/** The kinds of long work. */
export const JOBS = ['prepare', 'listen', 'deliver', 'arrive', 'post'] as const;
export type JobName = (typeof JOBS)[number];

/** Queues long work in the database, so that it goes on after the page, or the server, is closed. */
export class JobQueue {
  private readonly running = new Set<Promise<void>>();

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

  /** Queues work on one subject; asking twice for the same subject queues it once. */
  async send(name: JobName, subject: string): Promise<void> {
    await this.boss.send(name, { subject }, { singletonKey: subject, expireInHours: 23, retryLimit: 0 });
  }

  /** Does the work of a kind, at most `atOnce` at the same time. */
  async work(name: JobName, atOnce: number, worker: (subject: string) => Promise<void>): Promise<void> {
    for (let i = 0; i < atOnce; i += 1)
      await this.boss.work<{ subject: string }>(name, { pollingIntervalSeconds: 0.5, batchSize: 1 }, async ([job]) => {
        if (!job) return;
        const work = worker(job.data.subject);
        this.running.add(work);
        await work.finally(() => this.running.delete(work));
      });
  }

  /** Takes on nothing more, and waits for what runs: whoever closes has told it to stop. */
  async close(): Promise<void> {
    await this.boss.stop({ graceful: false, wait: true });
    await Promise.allSettled(this.running);
  }
}
