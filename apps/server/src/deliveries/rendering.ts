import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { TIED } from '../media/run';
import type { SegmentWork } from './work';
import type { SegmentReport, SegmentTask } from './segment.process';

/** How long a renderer without work stays, in ms: to start one and load what it draws with takes longer than drawing a short title. */
const STAYS = 30_000;

/** After so many segments it makes way for a fresh one. */
const MOST = 50;

/** A process that draws segments, one after the other. */
interface Renderer {
  child: ChildProcess;
  /** Segments that it may still draw. */
  left: number;
  /** Ends its waiting for work. */
  wake: () => void;
}

const idle = new Set<Renderer>();

function start(): Renderer {
  const [tie, ...ties] = [...TIED, process.execPath];
  const child = fork(fileURLToPath(new URL('./segment.process.mjs', import.meta.url)), {
    serialization: 'advanced',
    detached: true,
    ...(tie ? { execPath: tie, execArgv: ties } : {}),
  });
  return { child, left: MOST, wake: () => undefined };
}

/** One that waits for work, or another. */
function take(): Renderer {
  const [waiting] = idle;
  if (!waiting) return start();
  waiting.wake();
  if (!waiting.child.connected) return take(); // it is about to be told that it has ended
  waiting.child.ref();
  waiting.child.channel?.ref();
  return waiting;
}

/** Lets it wait for more work; this process may end meanwhile, and it ends then too. */
function rest(renderer: Renderer): void {
  const { child } = renderer;
  renderer.left -= 1;
  if (renderer.left <= 0) return child.disconnect();
  const end = () => {
    renderer.wake();
    if (child.connected) child.disconnect();
  };
  const timer = setTimeout(end, STAYS).unref();
  child.once('exit', end);
  renderer.wake = () => {
    idle.delete(renderer);
    clearTimeout(timer);
    child.off('exit', end);
  };
  child.unref();
  child.channel?.unref();
  idle.add(renderer);
}

/**
 * Draws a segment in a process of its own: drawing keeps no request waiting, and uses a core of its own. (A thread would do, but
 * the canvas brings the whole process down with it when its thread ends.) Stopping it stops its programs too.
 */
export function renderApart(work: SegmentTask & Pick<SegmentWork, 'signal' | 'onFrames'>): Promise<void> {
  const { signal, onFrames, ...task } = work;
  return new Promise((resolve, reject) => {
    if (signal.aborted) return reject(signal.reason as Error);
    const renderer = take();
    const { child } = renderer;
    let failed: Error | null = null;
    const stop = () => child.connected && child.disconnect();
    const heard = (message: SegmentReport) => {
      if ('frames' in message) return onFrames(message.frames);
      if ('failed' in message) {
        failed = new Error(message.failed);
        return stop();
      }
      leave();
      rest(renderer);
      resolve();
    };
    const broken = (error: Error) => (failed = error);
    const ended = (code: number | null) => {
      leave();
      reject(signal.aborted ? (signal.reason as Error) : (failed ?? new Error(`the renderer ended with ${code}`)));
    };
    const leave = () => {
      signal.removeEventListener('abort', stop);
      child.off('message', heard).off('error', broken).off('exit', ended);
    };
    signal.addEventListener('abort', stop, { once: true });
    child.on('message', heard).on('error', broken).once('exit', ended);
    child.send(task satisfies SegmentTask);
  });
}
