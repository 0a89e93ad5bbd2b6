import { Worker } from 'node:worker_threads';

/** Runs one of our programs in a thread of its own until it ends; what it says on the way goes to `onMessage`. @throws the signal's reason, or what it threw */
export function thread<Task>(program: string, task: Task, signal?: AbortSignal, onMessage?: (message: unknown) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    if (signal?.aborted) return reject(signal.reason as Error);
    const worker = new Worker(new URL(`./${program}.worker.mjs`, import.meta.url), { workerData: task });
    const stop = () => void worker.terminate().then(() => reject(signal?.reason as Error));
    signal?.addEventListener('abort', stop, { once: true });
    if (onMessage) worker.on('message', onMessage);
    worker.once('error', reject);
    worker.once('exit', (code) => {
      signal?.removeEventListener('abort', stop);
      if (code === 0) resolve();
      else reject(new Error(`${program} ended with ${code}`));
    });
  });
}
