import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { ffmpeg } from '../media/run';
import { output, type SegmentWork } from './work';

/**
 * Encodes frames that are made here, one after the other, as planes (yuv420p) of the size of the piece. When encoding or making them fails, `stop` is
 * aborted, so that whatever else makes them ends too.
 */
export async function encodeFrames(
  work: SegmentWork,
  file: string,
  stop: AbortController,
  frame: (n: number) => Promise<Uint8Array>,
): Promise<void> {
  const { piece, segment, onFrames } = work;
  const { width, height, rate } = piece.format;
  const signal = AbortSignal.any([work.signal, stop.signal]);
  let encoder: ChildProcess | null = null;
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${width}x${height}`, '-r', `${rate.num}/${rate.den}`, '-i', 'pipe:0'];
  const encoding = ffmpeg([...raw, ...output(work, file)], { signal, onStart: (child) => (encoder = child) });
  encoding.catch(() => stop.abort());
  try {
    for (let n = 0; n < segment.frames; n += 1) {
      const planes = await frame(n);
      signal.throwIfAborted();
      const stdin = (encoder as ChildProcess | null)?.stdin;
      if (stdin && !stdin.write(planes)) await Promise.race([once(stdin, 'drain'), encoding]);
      onFrames(n + 1);
    }
    (encoder as ChildProcess | null)?.stdin?.end();
    await encoding;
  } catch (error) {
    stop.abort();
    throw work.signal.aborted ? work.signal.reason : error;
  }
}
