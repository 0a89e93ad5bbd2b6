import { frameCount, FrameTimes, frameTime } from '@flimzy/core/frame';
import type { MediaFacts } from '@flimzy/core/piece';
import { toSeconds } from '@flimzy/core/time';
import {
  ALL_FORMATS,
  EncodedPacketSink,
  Input,
  MP4,
  UrlSource,
  VideoSampleSink,
  WEBM,
  type InputFormat,
  type InputVideoTrack,
} from 'mediabunny';
import { Row } from './row';

/** How far the times of an original may be from those that the server found, in seconds. */
const TIME_OFF = 0.002;

export interface VideoUrls {
  proxy: string;
  frames: string;
  original: { url: string; facts: Pick<MediaFacts, 'width' | 'height'> };
}

export interface OpenVideo {
  frames: FrameTimes;
  /** Gives single frames. */
  sink: Pick<VideoSampleSink, 'getSample'>;
  /** Its frames from a moment on, in seconds. */
  rowFrom(time: number): Pick<Row, 'next' | 'close'>;
}

/** The proxy of a video, or its original: opened once, shared by all clips that show it. */
export class VideoSource {
  private readonly opened: Promise<OpenVideo>;
  private input: Input | null = null;

  /** @param from what is wanted; where that is not to be had, the other */
  constructor(urls: VideoUrls, from: 'proxy' | 'original') {
    this.opened = this.open(urls, from);
    this.opened.catch(() => undefined); // told where a frame is asked for
  }

  private async open({ proxy, frames: table, original }: VideoUrls, from: 'proxy' | 'original'): Promise<OpenVideo> {
    const frames = framesAt(table);
    const whole = () => this.original(original, frames);
    const light = () => this.trackOf(proxy, [MP4, WEBM]);
    const [first, second] = from === 'proxy' ? [light, whole] : [whole, light];
    const [times, track] = await Promise.all([frames, first().catch(second)]);
    return { frames: times, sink: new VideoSampleSink(track), rowFrom: (time) => new Row(track, time) };
  }

  private async trackOf(url: string, formats: InputFormat[]): Promise<InputVideoTrack> {
    this.input?.dispose();
    this.input = new Input({ source: new UrlSource(url), formats });
    const track = await this.input.getPrimaryVideoTrack();
    if (!track) throw new Error('there is no picture in it');
    return track;
  }

  /**
   * The track of an original, where what it shows is what the server makes of it: decodable here, of square pixels, no HDR, at most
   * turned, and with its frames at the times of the table. The proxy has all of that put right. @throws otherwise
   */
  private async original({ url, facts }: VideoUrls['original'], table: Promise<FrameTimes>): Promise<InputVideoTrack> {
    const track = await this.trackOf(url, ALL_FORMATS);
    const coded = [await track.getCodedWidth(), await track.getCodedHeight()];
    const upright = (await track.getRotation()) % 180 === 0 ? coded : coded.reverse();
    const square = [await track.getDisplayWidth(), await track.getDisplayHeight()].join() === upright.join();
    const alike = square && upright.join() === [facts.width, facts.height].join() && !(await track.getFlip());
    if (!alike || !(await track.canDecode()) || (await track.hasHighDynamicRange()))
      throw new Error('shown otherwise than the server does');
    const packets = new EncodedPacketSink(track);
    const frames = await table;
    const last = frameCount(frames) - 1;
    for (const n of new Set([0, last >> 1, last])) {
      const at = toSeconds(frameTime(frames, n));
      const packet = await packets.getPacket(at + TIME_OFF, { metadataOnly: true });
      if (!packet || Math.abs(packet.timestamp - at) > TIME_OFF) throw new Error('its frames come at other times than the server found');
    }
    return track;
  }

  async ready(): Promise<OpenVideo> {
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

  /** @param original where it is wanted as far as the browser shows it as it is */
  constructor(url: string, original: VideoUrls['original'] | null) {
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
