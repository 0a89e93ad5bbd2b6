import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { TIED } from '../media/run';
import type { SegmentWork } from './work';
import type { SegmentReport, SegmentTask } from './segment.process';

/**
 * Draws a segment in a process of its own: drawing keeps no request waiting, and uses a core of its own. (A thread would do, but
 * the canvas brings the whole process down with it when its thread ends.) Stopping it stops its programs too.
 */
export function renderApart(work: SegmentTask & Pick<SegmentWork, 'signal' | 'onFrames'>): Promise<void> {
  const { signal, onFrames, ...task } = work;
  return new Promise((resolve, reject) => {
    if (signal.aborted) return reject(signal.reason as Error);
    const [tie, ...ties] = [...TIED, process.execPath];
    const child = fork(fileURLToPath(new URL('./segment.process.mjs', import.meta.url)), {
      serialization: 'advanced',
      detached: true,
      ...(tie ? { execPath: tie, execArgv: ties } : {}),
    });
    let failed: Error | null = null;
    const stop = () => child.connected && child.disconnect();
    signal.addEventListener('abort', stop, { once: true });
    child.on('message', (message: SegmentReport) => {
      if ('frames' in message) onFrames(message.frames);
      else failed = new Error(message.failed);
    });
    child.once('error', (error) => (failed = error));
    child.once('exit', (code) => {
      signal.removeEventListener('abort', stop);
      if (signal.aborted) reject(signal.reason as Error);
      else if (failed) reject(failed);
      else if (code !== 0) reject(new Error(`the renderer ended with ${code}`));
      else resolve();
    });
    child.send(task satisfies SegmentTask);
  });
}
