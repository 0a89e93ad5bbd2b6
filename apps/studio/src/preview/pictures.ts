import type { PictureRef } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import { LRUCache } from 'lru-cache';
import { ClipReader } from './reader';
import { PhotoSource, VideoSource } from './sources';

/**
 * What is kept open, however many clips a piece has; what was used longest ago goes first. A reader holds at most two decoded frames and
 * what its decoder holds (540 × 960: 0.8 MB each), a photo 2 MB, an open file its index and the parts just read.
 */
const READERS_KEPT = 8;
const VIDEOS_KEPT = 24; // more than readers: none is closed under one
const PHOTOS_KEPT = 24;

/** A picture to be drawn; whoever asked calls `done`. */
export interface Picture {
  image: CanvasImageSource;
  /** Its size in pixels. */
  width: number;
  height: number;
  /** The frame of the source; null for a photo. */
  frame: number | null;
  done: () => void;
}

/** Gets pictures for whoever draws: opens files and decoders, keeps a few, closes the rest. */
export class Pictures {
  private readonly videos = new LRUCache<string, VideoSource>({ max: VIDEOS_KEPT, dispose: (video) => video.close() });
  private readonly readers = new LRUCache<string, ClipReader>({ max: READERS_KEPT, dispose: (reader) => reader.close() });
  private readonly photos = new LRUCache<string, PhotoSource>({ max: PHOTOS_KEPT, dispose: (photo) => photo.close() });

  constructor(private readonly address: (what: 'mediaProxy' | 'mediaFrames', media: string) => string) {}

  /**
   * The picture of a reference; null where there is none. @throws when it cannot be had just now; asked again, it is tried again
   * @param whose keeps decoders apart that are asked for different times at once
   */
  async get(picture: PictureRef, facts: Piece['media'][string] | undefined, onward: boolean, whose = ''): Promise<Picture | null> {
    const { media } = picture;
    if (facts?.kind === 'photo') {
      const photo = this.photo(media);
      try {
        const { image, done } = await photo.look();
        return { image, width: image.width, height: image.height, frame: null, done };
      } catch (error) {
        if (this.photos.peek(media) === photo) this.photos.delete(media);
        throw error;
      }
    }
    const name = readerName(picture, whose);
    const [reader, video] = [this.reader(name, media), this.video(media)];
    try {
      const got = await reader.frameAt(picture.time, onward, (picture.pace ?? 1) < 0);
      if (!got) return null;
      const { image, frame } = got;
      return { image, width: image.displayWidth, height: image.displayHeight, frame, done: () => image.close() };
    } catch (error) {
      if (this.readers.peek(name) === reader) this.readers.delete(name);
      if (this.videos.peek(media) === video) this.videos.delete(media);
      throw error;
    }
  }

  /** Opens what will be wanted soon. */
  openAhead(picture: PictureRef, facts: Piece['media'][string] | undefined): void {
    if (facts?.kind === 'photo' ? this.photos.has(picture.media) : this.readers.has(readerName(picture, ''))) return;
    void this.get(picture, facts, true).then(
      (got) => got?.done(),
      () => undefined,
    );
  }

  private reader(name: string, media: string): ClipReader {
    const reader = this.readers.get(name) ?? new ClipReader(this.video(media));
    this.readers.set(name, reader);
    return reader;
  }

  private video(media: string): VideoSource {
    const video =
      this.videos.get(media) ?? new VideoSource({ proxy: this.address('mediaProxy', media), frames: this.address('mediaFrames', media) });
    this.videos.set(media, video);
    return video;
  }

  private photo(media: string): PhotoSource {
    const photo = this.photos.get(media) ?? new PhotoSource(this.address('mediaProxy', media));
    this.photos.set(media, photo);
    return photo;
  }
}

const readerName = ({ clip, media }: PictureRef, whose: string) => `${whose}${clip} ${media}`;
