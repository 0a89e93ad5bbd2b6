import { Worker } from 'node:worker_threads';
import type { MixdownTask } from './mixdown.worker';

/** Mixes a whole piece to a file of interleaved 32-bit floats (48 kHz, stereo), in a thread of its own. */
export function mixdown(task: MixdownTask, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('./mixdown.worker.mjs', import.meta.url), { workerData: task });
    const stop = () => void worker.terminate().then(() => reject(signal.reason as Error));
    signal.addEventListener('abort', stop, { once: true });
    worker.once('error', reject);
    worker.once('exit', (code) => {
      signal.removeEventListener('abort', stop);
      if (code === 0) resolve();
      else reject(new Error(`the mixer ended with ${code}`));
    });
  });
}
