import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import type { NeededPicture } from '@flimzy/core/deliver';
import { ffmpeg } from '../media/run';
import { stretch, type PictureFile } from './pictures';
import { FrameReader } from './reader';
import { output, type SegmentWork } from './work';

/** How frames are made here of what decoders give. */
export interface Making {
  /** What the frames of a picture go through before they come here, and how many bytes each has then. */
  decoded(picture: PictureFile, needed: NeededPicture): { filters: readonly string[]; bytes: number };
  /** Frame `n` of the segment as planes (yuv420p) of the size of the piece; `fresh`: the pictures that have another frame now. */
  frame(n: number, fresh: readonly { needed: NeededPicture; bytes: Buffer }[]): Uint8Array;
}

/** Decoders to what makes frames of them here to the encoder, frame by frame. When one of them fails, all end. */
export async function makeFrames(work: SegmentWork, file: string, making: Making): Promise<void> {
  const { piece, segment, onFrames } = work;
  const { width, height, rate } = piece.format;
  const stop = new AbortController();
  const signal = AbortSignal.any([work.signal, stop.signal]);
  const threads = ['-threads', String(work.threads)];
  const pictures = segment.pictures.map((needed) => {
    const { picture: shown, first } = needed;
    const picture = work.fileOf(shown.media);
    const { input, map, filters } = stretch(picture, shown, rate, needed.frames);
    const { filters: more, bytes } = making.decoded(picture, needed);
    const count = shown.still ? 1 : needed.frames;
    const bare = ['-an', '-vf', [...filters, ...more].join(','), '-frames:v', String(count), '-f', 'rawvideo', 'pipe:1'];
    return { needed, first, end: first + count, reader: new FrameReader([...threads, ...input, ...map, ...bare], bytes, signal) };
  });
  let encoder: ChildProcess | null = null;
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${width}x${height}`, '-r', `${rate.num}/${rate.den}`, '-i', 'pipe:0'];
  const encoding = ffmpeg([...raw, ...output(work, file)], { signal, onStart: (child) => (encoder = child) });
  encoding.catch(() => stop.abort());
  try {
    for (let n = 0; n < segment.frames; n += 1) {
      const due = pictures.filter(({ first, end }) => n >= first && n < end);
      const read = await Promise.all(due.map(async ({ needed, reader }) => ({ needed, bytes: await reader.next() })));
      signal.throwIfAborted();
      const planes = making.frame(
        n,
        read.flatMap(({ needed, bytes }) => (bytes ? [{ needed, bytes }] : [])),
      );
      const stdin = (encoder as ChildProcess | null)?.stdin;
      if (stdin && !stdin.write(planes)) await Promise.race([once(stdin, 'drain'), encoding]);
      onFrames(n + 1);
    }
    (encoder as ChildProcess | null)?.stdin?.end();
    await encoding;
    await Promise.all(pictures.map(({ reader }) => reader.done));
  } catch (error) {
    stop.abort();
    throw work.signal.aborted ? work.signal.reason : error;
  }
}
