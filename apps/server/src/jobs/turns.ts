import PQueue from 'p-queue';

/** Lets what is done to one subject happen one at a time, in the order it was asked for; what is done to others goes on beside it. */
export class OneAtATime {
  private readonly queues = new Map<string, PQueue>();

  async of<T>(subject: string, work: () => Promise<T>): Promise<T> {
    const queue = this.queues.get(subject) ?? new PQueue({ concurrency: 1 });
    this.queues.set(subject, queue);
    try {
      return await queue.add(work, { throwOnTimeout: true });
    } finally {
      if (queue.size + queue.pending === 0 && this.queues.get(subject) === queue) this.queues.delete(subject);
    }
  }
}
