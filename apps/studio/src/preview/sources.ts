import { FrameTimes, frameTime, sourceFrameAt } from '@flimzy/core/frame';
import { toSeconds, type Flicks } from '@flimzy/core/time';
import { Input, MP4, UrlSource, VideoSampleSink, type VideoSample } from 'mediabunny';

/** Half a millisecond: a frame is asked for just after its own begin, so that no rounding gives the one before. */
const JUST_AFTER = 0.0005;

/** Past this many frames ahead it is quicker to seek than to decode on. */
const RUN_ON = 14;

/** The proxy of a video: opened once, shared by all clips that show it. */
export class VideoSource {
  private readonly opened: Promise<{ frames: FrameTimes; sink: VideoSampleSink }>;
  private input: Input | null = null;

  constructor(urls: { proxy: string; frames: string }) {
    this.opened = this.open(urls);
    this.opened.catch(() => undefined); // told where a frame is asked for
  }

  private async open(urls: { proxy: string; frames: string }): Promise<{ frames: FrameTimes; sink: VideoSampleSink }> {
    const response = await fetch(urls.frames);
    if (!response.ok) throw new Error('not there');
    const frames = FrameTimes.parse(await response.json());
    this.input = new Input({ source: new UrlSource(urls.proxy), formats: [MP4] });
    const track = await this.input.getPrimaryVideoTrack();
    if (!track) throw new Error('the proxy has no picture');
    return { frames, sink: new VideoSampleSink(track) };
  }

  async ready(): Promise<{ frames: FrameTimes; sink: VideoSampleSink }> {
    return this.opened;
  }

  close(): void {
    void this.opened.then(() => this.input?.dispose()).catch(() => undefined);
  }
}

/** What one clip shows: holds the frame last asked for, and reads on from it while playing. */
export class ClipReader {
  /** Set while a frame is held. */
  held: { frame: number; sample: VideoSample } | null = null;
  private run: { iterator: AsyncGenerator<VideoSample, void, unknown>; next: VideoSample | null } | null = null;

  constructor(private readonly source: VideoSource) {}

  /**
   * The frame that shows at a time of the material, or null when the source is gone.
   * @param onward true while playing: frames are decoded in a row instead of sought
   */
  async frameAt(time: Flicks, onward: boolean): Promise<{ frame: number; sample: VideoSample } | null> {
    const { frames, sink } = await this.source.ready();
    const frame = sourceFrameAt(frames, time);
    if (this.held?.frame === frame) return this.held;
    const at = toSeconds(frameTime(frames, frame)) + JUST_AFTER;
    const ahead = this.held ? frame - this.held.frame : Infinity;
    const sample = onward ? await this.readOn(sink, at, ahead) : await this.seek(sink, at);
    if (!sample) return this.held;
    this.held?.sample.close();
    this.held = { frame, sample };
    return this.held;
  }

  private async seek(sink: VideoSampleSink, at: number): Promise<VideoSample | null> {
    await this.stopRun();
    return sink.getSample(at);
  }

  private async readOn(sink: VideoSampleSink, at: number, ahead: number): Promise<VideoSample | null> {
    if (!this.run || ahead <= 0 || ahead > RUN_ON) {
      await this.stopRun();
      this.run = { iterator: sink.samples(at), next: null };
    }
    const { run } = this;
    let best: VideoSample | null = null;
    for (;;) {
      const next = run.next ?? (await run.iterator.next()).value ?? null;
      run.next = null;
      if (!next) return best;
      if (next.timestamp > at) {
        run.next = next;
        return best;
      }
      best?.close();
      best = next;
    }
  }

  private async stopRun(): Promise<void> {
    const { run } = this;
    this.run = null;
    run?.next?.close();
    await run?.iterator.return();
  }

  close(): void {
    this.held?.sample.close();
    this.held = null;
    void this.stopRun();
  }
}
