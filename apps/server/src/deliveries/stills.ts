import { LRUCache } from 'lru-cache';
import PQueue from 'p-queue';

/** Frames drawn at the same time, and bytes of drawn ones kept for whoever asks again. */
const AT_ONCE = 2;
const KEPT_BYTES = 64 * 1024 ** 2;

/** Nobody waits for it any more. */
class NotWanted extends Error {
  override name = 'NotWanted';
}

interface Drawing {
  picture: Promise<Buffer>;
  stop: AbortController;
  askers: number;
}

/** Draws single frames for whoever asks: a few at a time, each once for all who ask for it, and not at all for those who have left. */
export class Stills {
  private readonly queue = new PQueue({ concurrency: AT_ONCE });
  private readonly drawn = new LRUCache<string, Buffer>({ maxSize: KEPT_BYTES, sizeCalculation: (bytes) => bytes.length + 1 });
  private readonly drawing = new Map<string, Drawing>();

  /**
   * @param key what is drawn, all that decides it
   * @param left aborted when the one who asks leaves
   */
  async get(key: string, draw: (signal: AbortSignal) => Promise<Buffer>, left?: AbortSignal): Promise<Buffer> {
    const there = this.drawn.get(key);
    if (there) return there;
    const one = this.drawing.get(key) ?? this.begin(key, draw);
    one.askers += 1;
    const leave = () => {
      one.askers -= 1;
      if (one.askers === 0) one.stop.abort(new NotWanted());
    };
    left?.addEventListener('abort', leave, { once: true });
    try {
      return await one.picture;
    } finally {
      left?.removeEventListener('abort', leave);
    }
  }

  private begin(key: string, draw: (signal: AbortSignal) => Promise<Buffer>): Drawing {
    const stop = new AbortController();
    const picture = this.queue.add(
      async () => {
        stop.signal.throwIfAborted();
        const bytes = await draw(stop.signal);
        this.drawn.set(key, bytes);
        return bytes;
      },
      { throwOnTimeout: true },
    );
    const one: Drawing = { picture, stop, askers: 0 };
    picture.catch(() => undefined).finally(() => this.drawing.get(key) === one && this.drawing.delete(key));
    stop.signal.addEventListener('abort', () => this.drawing.get(key) === one && this.drawing.delete(key));
    this.drawing.set(key, one);
    return one;
  }

  /** Stops what is drawn, when the server closes. */
  close(): void {
    for (const { stop } of this.drawing.values()) stop.abort(new NotWanted());
  }
}
