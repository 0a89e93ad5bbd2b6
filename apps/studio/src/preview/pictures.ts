import { photoBytes, type PictureRef } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import { LRUCache } from 'lru-cache';
import { ClipReader } from './reader';
import { PhotoSource, VideoSource } from './sources';

/**
 * What is kept open, however many clips a piece has; what was used longest ago goes first. A reader holds at most two decoded frames and
 * what its decoder holds (540 × 960: 0.8 MB each), a photo up to 11 MB, its original up to hundreds, an open file its index and the parts
 * just read.
 */
const READERS_KEPT = 8;
const VIDEOS_KEPT = 24; // more than readers: none is closed under one
const PHOTOS_KEPT = 24;
/** Bytes of decoded photos that are kept, of proxies and of originals; and so many of them at least, whatever their size. */
const PHOTO_BYTES = { proxies: 128e6, originals: 512e6 };
const PHOTOS_AT_LEAST = 4;

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
  private readonly photos: LRUCache<string, PhotoSource>;

  /** @param originals whether originals are shown where the browser can, instead of proxies */
  constructor(
    private readonly address: (
      what: 'mediaProxy' | 'mediaFrames' | 'mediaOriginal',
      media: string,
      query?: Record<string, string>,
    ) => string,
    private readonly originals = false,
  ) {
    const maxSize = originals ? PHOTO_BYTES.originals : PHOTO_BYTES.proxies;
    this.photos = new LRUCache({ max: PHOTOS_KEPT, maxSize, dispose: (photo) => photo.close() });
  }

  /**
   * The picture of a reference; null where there is none. @throws when it cannot be had just now; asked again, it is tried again
   * @param whose keeps decoders apart that are asked for different times at once
   */
  async get(picture: PictureRef, facts: Piece['media'][string] | undefined, onward: boolean, whose = ''): Promise<Picture | null> {
    const { media } = picture;
    if (facts?.kind === 'photo') {
      const photo = this.photo(media, facts);
      try {
        const { image, done } = await photo.look();
        return { image, width: image.width, height: image.height, frame: null, done };
      } catch (error) {
        if (this.photos.peek(media) === photo) this.photos.delete(media);
        throw error;
      }
    }
    const name = readerName(picture, whose);
    const video = this.video(picture, facts);
    const reader = this.reader(name, video);
    try {
      const got = await reader.frameAt(picture.time, onward, (picture.pace ?? 1) < 0);
      if (!got) return null;
      const { image, frame } = got;
      return { image, ...sizeOf(image), frame, done: () => image.close() };
    } catch (error) {
      if (this.readers.peek(name) === reader) this.readers.delete(name);
      if (this.videos.peek(fileName(picture)) === video) this.videos.delete(fileName(picture));
      throw error;
    }
  }

  /**
   * Opens what will be wanted soon.
   * @param anew also where it is open, but stands elsewhere
   */
  openAhead(picture: PictureRef, facts: Piece['media'][string] | undefined, whose = '', anew = false): void {
    if (!anew && (facts?.kind === 'photo' ? this.photos.has(picture.media) : this.readers.has(readerName(picture, whose)))) return;
    void this.get(picture, facts, true, whose).then(
      (got) => got?.done(),
      () => undefined,
    );
  }

  /** Has the decoder of a picture that is shown stand ready to go on with it. */
  getReady(picture: PictureRef): void {
    if (picture.still || (picture.pace ?? 1) < 0) return;
    void this.readers
      .peek(readerName(picture, ''))
      ?.getReady(picture.time)
      .catch(() => undefined);
  }

  private reader(name: string, video: VideoSource): ClipReader {
    const reader = this.readers.get(name) ?? new ClipReader(video);
    this.readers.set(name, reader);
    return reader;
  }

  /** Opens an item anew when it is next shown: other files of it are there. */
  renew(media: string): void {
    for (const name of [fileName({ media }), fileName({ media, fields: true })]) {
      this.videos.delete(name);
      for (const reader of this.readers.keys()) if (reader.endsWith(` ${name}`)) this.readers.delete(reader);
    }
  }

  private video(picture: PictureRef, facts: Piece['media'][string] | undefined): VideoSource {
    const { media, fields } = picture;
    const proxy = this.address('mediaProxy', media, fields ? { fields: 'recorded' } : {});
    const original = { url: this.address('mediaOriginal', media), facts: facts ?? { width: 0, height: 0 } };
    // A browser shows an interlaced original with its fields as they are.
    const wanted = this.originals && (!facts?.interlaced || fields) ? 'original' : 'proxy';
    const name = fileName(picture);
    const video = this.videos.get(name) ?? new VideoSource({ proxy, frames: this.address('mediaFrames', media), original }, wanted);
    this.videos.set(name, video);
    return video;
  }

  private photo(media: string, facts: Piece['media'][string]): PhotoSource {
    const kept = this.photos.get(media);
    if (kept) return kept;
    const original = this.originals ? { url: this.address('mediaOriginal', media), facts } : null;
    const photo = new PhotoSource(this.address('mediaProxy', media), original);
    const size = Math.min(photoBytes(facts, this.originals), Math.floor(this.photos.maxSize / PHOTOS_AT_LEAST));
    this.photos.set(media, photo, { size });
    return photo;
  }
}

/** In pixels, as it is seen. */
const sizeOf = (image: VideoFrame | ImageBitmap) =>
  'displayWidth' in image ? { width: image.displayWidth, height: image.displayHeight } : { width: image.width, height: image.height };

/** A file of an item that is shown. */
const fileName = ({ media, fields }: Pick<PictureRef, 'media' | 'fields'>) => (fields ? `${media}*` : media);

const readerName = (picture: PictureRef, whose: string) => `${whose}${picture.clip} ${fileName(picture)}`;
