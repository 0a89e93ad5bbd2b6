import { frameTime, sourceFrameAt, type FrameTimes } from '@flimzy/core/frame';
import { fromSeconds, toSeconds, type Flicks } from '@flimzy/core/time';
import type { VideoSample } from 'mediabunny';
import PQueue from 'p-queue';
import type { OpenVideo, VideoSource } from './sources';

/** Half a millisecond: a frame is asked for just after its own begin, so that no rounding gives the one before. */
const JUST_AFTER = 0.0005;
const justAfter = (frames: FrameTimes, n: number) => toSeconds(frameTime(frames, n)) + JUST_AFTER;

/** Past this many frames ahead it is quicker to seek than to decode on. */
const RUN_ON = 14;

/** Going backwards, so many frames are decoded in a row and held, to be given one by one: as many as a proxy has from one key frame to the next. */
const BACK = 15;

/** A frame of a source, for whoever asked: they close the image. */
export interface Frame {
  frame: number;
  image: VideoFrame | ImageBitmap;
}

/** Frames that are read in a row, and the one that was taken too early. */
interface Run {
  row: ReturnType<OpenVideo['rowFrom']>;
  next: VideoSample | null;
}

/** A decoded frame as it is seen; one that is stored lying, as phones do, is turned. */
function upright(sample: VideoSample): Frame['image'] {
  if (sample.rotation === 0) return sample.toVideoFrame();
  const canvas = new OffscreenCanvas(sample.displayWidth, sample.displayHeight);
  const context = canvas.getContext('2d', { alpha: false });
  if (!context) throw new Error('no 2D canvas');
  sample.draw(context, 0, 0);
  return canvas.transferToImageBitmap();
}

/**
 * What one clip shows: holds the frame last asked for, and reads on from it while playing. What is asked of it is done one after the
 * other, closing too, so that no sample is closed while it is looked at, and none is left open.
 */
export class ClipReader {
  private held: { frame: number; sample: VideoSample } | null = null;
  private run: Run | null = null;
  /** Frames before the one held, by number, while one goes backwards. */
  private readonly behind = new Map<number, VideoSample>();
  private readonly turns = new PQueue({ concurrency: 1 });
  private closed = false;

  constructor(private readonly source: VideoSource) {}

  /**
   * The frame that shows at a time of the material, or null when there is none. @throws when it cannot be decoded
   * @param onward true while playing: frames are decoded in a row instead of sought
   * @param backwards whether that row runs backwards
   */
  frameAt(time: Flicks, onward: boolean, backwards = false): Promise<Frame | null> {
    return this.turns.add(() => this.find(time, onward, backwards), { throwOnTimeout: true });
  }

  /** Begins to read on from a time, so that the first frames that are played need not wait for it; what is held stays. */
  getReady(time: Flicks): Promise<void> {
    return this.turns.add(
      async () => {
        if (this.closed || this.run || !this.held) return;
        const { frames, rowFrom } = await this.source.ready();
        const row = rowFrom(justAfter(frames, sourceFrameAt(frames, time)));
        const next = await row.next();
        this.run = { row, next }; // only now: of one that fails nothing is left
      },
      { throwOnTimeout: true },
    );
  }

  private async find(time: Flicks, onward: boolean, backwards: boolean): Promise<Frame | null> {
    if (this.closed) return null;
    const video = await this.source.ready();
    const { frames } = video;
    const frame = sourceFrameAt(frames, time);
    if (this.held?.frame !== frame) {
      const at = justAfter(frames, frame);
      const ahead = this.held ? frame - this.held.frame : Infinity;
      const sample = !onward
        ? await this.seek(video, at)
        : backwards
          ? await this.readBack(video, frame)
          : await this.readOn(video, at, ahead);
      if (sample) {
        this.held?.sample.close();
        this.held = { frame, sample };
      }
    }
    return this.held && { frame: this.held.frame, image: upright(this.held.sample) };
  }

  private async seek({ sink }: OpenVideo, at: number): Promise<VideoSample | null> {
    await this.stopRun();
    return sink.getSample(at);
  }

  private async readOn(video: OpenVideo, at: number, ahead: number): Promise<VideoSample | null> {
    const standing = ahead > 0 && ahead <= RUN_ON ? this.run : null;
    if (standing) {
      // A decoder that stood idle may have been taken away, as browsers do to pages that nobody looks at: then another is asked.
      const found = await this.onTo(standing, at).catch(() => 'lost' as const);
      if (found !== 'lost') return found;
    }
    await this.stopRun();
    this.run = { row: video.rowFrom(at), next: null };
    return this.onTo(this.run, at);
  }

  /** Takes frames of a row up to the one that shows at a time. */
  private async onTo(run: Run, at: number): Promise<VideoSample | null> {
    let best: VideoSample | null = null;
    try {
      for (;;) {
        const next = run.next ?? (await run.row.next());
        run.next = null;
        if (!next) return best;
        if (next.timestamp > at) {
          run.next = next;
          return best;
        }
        best?.close();
        best = next;
      }
    } catch (error) {
      best?.close();
      this.run = null;
      throw error;
    }
  }

  /** The frame of a number, going backwards: those before it are decoded with it. */
  private async readBack({ frames, rowFrom }: OpenVideo, frame: number): Promise<VideoSample | null> {
    if (!this.behind.has(frame)) {
      await this.stopRun();
      const first = Math.max(0, frame - BACK + 1);
      const row = rowFrom(justAfter(frames, first));
      try {
        for (let n = first; n < frame;) {
          const sample = await row.next();
          if (!sample) break;
          n = sourceFrameAt(frames, fromSeconds(sample.timestamp));
          if (n < first || n > frame || this.behind.has(n)) sample.close();
          else this.behind.set(n, sample);
        }
      } finally {
        await row.close();
      }
    }
    const sample = this.behind.get(frame) ?? null;
    this.behind.delete(frame);
    return sample;
  }

  private async stopRun(): Promise<void> {
    for (const sample of this.behind.values()) sample.close();
    this.behind.clear();
    const { run } = this;
    this.run = null;
    run?.next?.close();
    await run?.row.close();
  }

  /** Closes all it holds, once what is being asked of it is done. */
  close(): void {
    this.closed = true;
    void this.turns.add(async () => {
      this.held?.sample.close();
      this.held = null;
      await this.stopRun().catch(() => undefined);
    });
  }
}
