import type { Piece } from '@flimzy/core/piece';
import { neededSound, WAV_HEADER, type Stereo } from '@flimzy/core/sound';
import { SAMPLE_RATE } from '@flimzy/core/time';
import { addressOf } from '../api/address';
import { fromBlocks } from './blocks';

/** Decoded sound comes in chunks of one second; so many are kept (384 kB each). */
const CHUNK = SAMPLE_RATE;
const CHUNKS_KEPT = 400;

async function readChunk(file: Blob, n: number): Promise<Stereo> {
  const first = WAV_HEADER + n * CHUNK * 4;
  const bytes = await file.slice(first, Math.min(first + CHUNK * 4, file.size)).arrayBuffer();
  const samples = new Float32Array(bytes, 0, bytes.byteLength >> 2);
  return { left: samples, right: samples };
}

/** Decoded sound of the material of a piece, fetched as it is wanted. */
export class Decoded {
  private readonly chunks = new Map<string, Promise<Stereo> | Stereo>();
  /** Files of this device that stand in for what the server has not got yet: mono, as `wavHeader` says. */
  private readonly lent = new Map<string, Blob>();

  /**
   * @param origin of the app, once it is known
   * @param onTrouble told, a sentence, of what could not be had
   */
  constructor(
    private readonly origin: () => string,
    private readonly onTrouble: (sentence: string) => void,
  ) {}

  lend(media: string, file: Blob | null): void {
    if (file) this.lent.set(media, file);
    else this.lent.delete(media);
  }

  private async fetchChunk(media: string, n: number): Promise<Stereo> {
    const file = this.lent.get(media);
    if (file) return readChunk(file, n);
    const response = await fetch(new URL(addressOf('mediaSound', { id: media }, { from: n * CHUNK, count: CHUNK }), this.origin()));
    if (!response.ok) throw new Error('not there');
    const pcm = new Float32Array(await response.arrayBuffer());
    const count = pcm.length / 2;
    const sound: Stereo = { left: new Float32Array(count), right: new Float32Array(count) };
    for (let i = 0; i < count; i += 1) {
      sound.left[i] = pcm[i * 2] as number;
      sound.right[i] = pcm[i * 2 + 1] as number;
    }
    return sound;
  }

  /** Has a chunk fetched; silence stands in for one that cannot be. */
  private want(media: string, n: number): Promise<Stereo> | Stereo {
    const { chunks } = this;
    const key = `${media} ${n}`;
    const there = chunks.get(key);
    if (there) return there;
    const coming = this.fetchChunk(media, n).then(
      (sound) => {
        chunks.set(key, sound);
        return sound;
      },
      () => {
        chunks.delete(key);
        this.onTrouble('Some sound could not be fetched; it plays as silence.');
        return { left: new Float32Array(0), right: new Float32Array(0) };
      },
    );
    chunks.set(key, coming);
    for (const old of chunks.keys()) {
      if (chunks.size <= CHUNKS_KEPT) break;
      chunks.delete(old);
    }
    return coming;
  }

  /** Fetches all that sounds in [from, to), in samples of the piece. */
  async gather(doc: Piece, from: number, to: number): Promise<void> {
    const needed: Promise<Stereo>[] = [];
    for (const stretch of neededSound(doc, from, to))
      for (let n = Math.floor(stretch.from / CHUNK); n * CHUNK < stretch.to; n += 1) {
        const got = this.want(stretch.media, n);
        if (got instanceof Promise) needed.push(got);
      }
    await Promise.all(needed);
  }

  /** Decoded sound as far as it is there: what could not be fetched ends it, so that nothing is found out of silence that stands in for it. */
  readonly read = (media: string, from: number, count: number): Stereo =>
    fromBlocks(CHUNK, from, from + count, (n) => {
      const chunk = this.chunks.get(`${media} ${n}`);
      return chunk && !(chunk instanceof Promise) ? chunk : null;
    });
}
