import { renderSegment } from './segment';
import type { SegmentWork } from './work';

/** What the process is given: the work, with its files named instead of found. */
export interface SegmentTask extends Pick<SegmentWork, 'piece' | 'segment' | 'encoding' | 'target' | 'threads'> {
  files: Record<string, ReturnType<SegmentWork['fileOf']>>;
}

/** What it tells: frames done, that all are, or that it could not go on. */
export type SegmentReport = { frames: number } | { done: true } | { failed: string };

const stop = new AbortController();
process.once('disconnect', () => stop.abort(new Error('stopped')));

// Whoever has stopped it may not listen any more.
const report = (message: SegmentReport) => void process.send?.(message, undefined, undefined, () => undefined);

/** Draws the segments that it is given, one after the other, until nobody is connected any more. Started by rendering.ts. */
process.on('message', ({ files, ...task }: SegmentTask) => {
  let told = 0;
  renderSegment({
    ...task,
    signal: stop.signal,
    fileOf: (id) => {
      const file = files[id];
      if (!file) throw new Error(`no file for ${id}`);
      return file;
    },
    onFrames: (frames) => {
      if (Date.now() - told < 200) return;
      told = Date.now();
      report({ frames });
    },
  }).then(
    () => report({ done: true }),
    (error: unknown) => report({ failed: String(error) }),
  );
});
