import { renderSegment } from './segment';
import type { SegmentWork } from './work';

/** What the process is given: the work, with its files named instead of found. */
export interface SegmentTask extends Pick<SegmentWork, 'piece' | 'segment' | 'encoding' | 'target' | 'threads'> {
  files: Record<string, ReturnType<SegmentWork['fileOf']>>;
}

/** What it tells: frames done, or that it stopped. */
export type SegmentReport = { frames: number } | { failed: string };

/** Draws one segment in a process of its own, then ends. Started by rendering.ts. */
process.once('message', ({ files, ...task }: SegmentTask) => {
  const stop = new AbortController();
  process.once('disconnect', () => stop.abort(new Error('stopped')));
  // Whoever has stopped it may not listen any more.
  const report = (message: SegmentReport) => void process.send?.(message, undefined, undefined, () => undefined);
  let told = 0;
  void renderSegment({
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
  })
    .catch((error: unknown) => report({ failed: String(error) }))
    .finally(() => process.disconnect?.());
});
