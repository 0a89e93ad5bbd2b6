import { FrameTimes } from '@flimzy/core/frame';
import { Input, MP4, UrlSource, VideoSampleSink } from 'mediabunny';

/** The proxy of a video: opened once, shared by all clips that show it. */
export class VideoSource {
  private readonly opened: Promise<{ frames: FrameTimes; sink: VideoSampleSink }>;
  private input: Input | null = null;

  constructor(urls: { proxy: string; frames: string }) {
    this.opened = this.open(urls);
    this.opened.catch(() => undefined); // told where a frame is asked for
  }

  private async open(urls: { proxy: string; frames: string }): Promise<{ frames: FrameTimes; sink: VideoSampleSink }> {
    this.input = new Input({ source: new UrlSource(urls.proxy), formats: [MP4] });
    const [frames, track] = await Promise.all([framesAt(urls.frames), this.input.getPrimaryVideoTrack()]);
    if (!track) throw new Error('the proxy has no picture');
    return { frames, sink: new VideoSampleSink(track) };
  }

  async ready(): Promise<{ frames: FrameTimes; sink: VideoSampleSink }> {
    return this.opened;
  }

  close(): void {
    void this.opened.catch(() => undefined).then(() => this.input?.dispose());
  }
}

async function framesAt(url: string): Promise<FrameTimes> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('not there');
  return FrameTimes.parse(await response.json());
}

/** A photo as it is drawn. It is closed when it is let go and nobody looks at it any more. */
export class PhotoSource {
  private readonly bitmap: Promise<ImageBitmap>;
  private lookers = 0;
  private gone = false;

  constructor(url: string) {
    this.bitmap = fetch(url)
      .then((response) => (response.ok ? response.blob() : Promise.reject(new Error('not there'))))
      .then((blob) => createImageBitmap(blob));
    this.bitmap.catch(() => undefined); // told where it is asked for
  }

  /** The picture, until `done` is called. @throws when it cannot be had */
  async look(): Promise<{ image: ImageBitmap; done: () => void }> {
    this.lookers += 1;
    const done = () => {
      this.lookers -= 1;
      this.closeWhenFree();
    };
    try {
      return { image: await this.bitmap, done };
    } catch (error) {
      done();
      throw error;
    }
  }

  close(): void {
    this.gone = true;
    this.closeWhenFree();
  }

  private closeWhenFree(): void {
    if (this.gone && this.lookers === 0) void this.bitmap.then((bitmap) => bitmap.close()).catch(() => undefined);
  }
}
