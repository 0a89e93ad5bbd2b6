import { frameCount, FrameTimes, frameTime } from '@flimzy/core/frame';
import type { MediaFacts } from '@flimzy/core/piece';
import { toSeconds } from '@flimzy/core/time';
import { ALL_FORMATS, EncodedPacketSink, Input, MP4, UrlSource, VideoSampleSink, WEBM, type InputVideoTrack } from 'mediabunny';

/** How far the times of an original may be from those that the server found, in seconds. */
const TIME_OFF = 0.002;

export interface VideoUrls {
  proxy: string;
  frames: string;
  /** The original, where it is wanted as far as it can be shown as it is. */
  original?: { url: string; facts: Pick<MediaFacts, 'width' | 'height'> } | undefined;
}

/** The proxy of a video, or its original: opened once, shared by all clips that show it. */
export class VideoSource {
  private readonly opened: Promise<{ frames: FrameTimes; sink: VideoSampleSink }>;
  private input: Input | null = null;

  constructor(urls: VideoUrls) {
    this.opened = this.open(urls);
    this.opened.catch(() => undefined); // told where a frame is asked for
  }

  private async open({ proxy, frames: table, original }: VideoUrls): Promise<{ frames: FrameTimes; sink: VideoSampleSink }> {
    const frames = await framesAt(table);
    const whole = original && (await this.original(original, frames).catch(() => null));
    if (whole) return { frames, sink: new VideoSampleSink(whole) };
    this.input?.dispose();
    this.input = new Input({ source: new UrlSource(proxy), formats: [MP4, WEBM] });
    const track = await this.input.getPrimaryVideoTrack();
    if (!track) throw new Error('the proxy has no picture');
    return { frames, sink: new VideoSampleSink(track) };
  }

  /**
   * The track of an original, where what it shows is what the server makes of it: decodable here, upright, of square pixels, no HDR, and
   * with its frames at the times of the table. Null otherwise: the proxy has all of that put right.
   */
  private async original({ url, facts }: NonNullable<VideoUrls['original']>, frames: FrameTimes): Promise<InputVideoTrack | null> {
    this.input = new Input({ source: new UrlSource(url), formats: ALL_FORMATS });
    const track = await this.input.getPrimaryVideoTrack();
    if (!track || !(await track.canDecode()) || (await track.hasHighDynamicRange())) return null;
    const seen = [await track.getRotation(), await track.getFlip(), await track.getSquarePixelWidth(), await track.getSquarePixelHeight()];
    const coded = [await track.getCodedWidth(), await track.getCodedHeight()];
    if (seen.join() !== [0, false, facts.width, facts.height].join() || coded.join() !== [facts.width, facts.height].join()) return null;
    const packets = new EncodedPacketSink(track);
    const last = frameCount(frames) - 1;
    for (const n of new Set([0, last >> 1, last])) {
      const at = toSeconds(frameTime(frames, n));
      const packet = await packets.getPacket(at + TIME_OFF, { metadataOnly: true });
      if (!packet || Math.abs(packet.timestamp - at) > TIME_OFF) return null;
    }
    return track;
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

async function bitmapAt(url: string, facts?: Pick<MediaFacts, 'width' | 'height'>): Promise<ImageBitmap> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('not there');
  const bitmap = await createImageBitmap(await response.blob(), { imageOrientation: 'from-image' });
  if (!facts || (bitmap.width === facts.width && bitmap.height === facts.height)) return bitmap;
  bitmap.close();
  throw new Error('shown otherwise than the server does');
}

/** A photo as it is drawn. It is closed when it is let go and nobody looks at it any more. */
export class PhotoSource {
  private readonly bitmap: Promise<ImageBitmap>;
  private lookers = 0;
  private gone = false;

  /** @param original with its size, where it is wanted as far as the browser shows it as it is */
  constructor(url: string, original?: VideoUrls['original']) {
    this.bitmap = original ? bitmapAt(original.url, original.facts).catch(() => bitmapAt(url)) : bitmapAt(url);
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
