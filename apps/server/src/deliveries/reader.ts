import type { ChildProcess } from 'node:child_process';
import { ffmpeg } from '../media/run';

/** Frames of one picture, read from a decoder one at a time. */
export class FrameReader {
  private readonly chunks: Buffer[] = [];
  private held = 0;
  private ended = false;
  private wake: () => void = () => undefined;
  private child: ChildProcess | null = null;
  readonly done: Promise<void>;

  constructor(
    args: readonly string[],
    private readonly bytes: number,
    signal: AbortSignal,
  ) {
    this.done = ffmpeg(args, {
      signal,
      onStart: (child) => (this.child = child),
      onOutput: (chunk) => {
        this.chunks.push(chunk);
        this.held += chunk.length;
        if (this.held > bytes * 4) this.child?.stdout?.pause();
        this.wake();
      },
    }).then(
      () => this.end(),
      (error: unknown) => {
        this.end();
        throw error;
      },
    );
    this.done.catch(() => undefined); // reported by whoever waits for it at the end
  }

  private end(): void {
    this.ended = true;
    this.wake();
  }

  /** The next frame, or null after the last. */
  async next(): Promise<Buffer | null> {
    while (this.held < this.bytes && !this.ended) {
      this.child?.stdout?.resume();
      await new Promise<void>((resolve) => (this.wake = resolve));
    }
    if (this.held < this.bytes) return null;
    const frame = Buffer.allocUnsafe(this.bytes);
    let filled = 0;
    while (filled < this.bytes) {
      const chunk = this.chunks[0] as Buffer;
      const take = Math.min(chunk.length, this.bytes - filled);
      chunk.copy(frame, filled, 0, take);
      if (take === chunk.length) this.chunks.shift();
      else this.chunks[0] = chunk.subarray(take);
      filled += take;
    }
    this.held -= this.bytes;
    return frame;
  }
}
