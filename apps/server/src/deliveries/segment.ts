import { once } from 'node:events';
import type { ChildProcess } from 'node:child_process';
import { plainBase, type Segment } from '@flimzy/core/deliver';
import { evaluate } from '@flimzy/core/frame';
import { frameStart } from '@flimzy/core/time';
import { whole } from '../files/whole';
import { ffmpeg } from '../media/run';
import { ServerStage } from './canvas';
import { withColours } from './colours';
import { renderLaid } from './laid';
import { intoFrame } from './base';
import { asRgba, drawnSize, stretch } from './pictures';
import { output, type SegmentWork } from './work';

/** How each way is rendered. */
const RENDERERS: Record<Segment['way'], (work: SegmentWork, file: string) => Promise<void>> = {
  straight: renderStraight,
  black: renderStraight,
  laid: renderLaid,
  drawn: renderDrawn,
};

/** Renders one segment. */
export async function renderSegment(work: SegmentWork): Promise<void> {
  await whole(work.target, (to) => RENDERERS[work.segment.way](work, to));
}

/** Decoder to encoder inside one ffmpeg: nothing is drawn over the picture, so nothing passes through here. */
async function renderStraight(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment, signal, onFrames } = work;
  const { width, height, rate } = piece.format;
  const clock = `${rate.num}/${rate.den}`;
  const onProgress = (seconds: number) => onFrames(Math.min(segment.frames, Math.round((seconds * rate.num) / rate.den)));
  const [shown] = segment.pictures;
  const picture = shown && work.fileOf(shown.picture.media);
  const base = plainBase(segment.runs[0]?.layers ?? []);
  if (!shown || !picture || !base) {
    const black = ['-f', 'lavfi', '-i', `color=black:size=${width}x${height}:rate=${clock}`];
    return void (await ffmpeg([...black, ...output(work, file)], { signal, onProgress }));
  }
  const { input, map, filters } = stretch(picture, shown.picture, rate, segment.frames);
  await withColours(work, base.effects, (colours) => {
    const chain = [...filters, ...intoFrame(picture.source, base, piece.format, colours)].join(',');
    return ffmpeg(['-threads', String(work.threads), ...input, ...map, '-vf', chain, '-r', clock, ...output(work, file)], {
      signal,
      onProgress,
    });
  });
}

/** Frames of one picture, read from a decoder one at a time. */
class FrameReader {
  private readonly chunks: Buffer[] = [];
  private held = 0;
  private ended = false;
  private wake: () => void = () => undefined;
  private child: ChildProcess | null = null;
  readonly done: Promise<void>;

  constructor(
    args: readonly string[],
    private readonly bytes: number,
    signal: AbortSignal,
  ) {
    this.done = ffmpeg(args, {
      signal,
      onStart: (child) => (this.child = child),
      onOutput: (chunk) => {
        this.chunks.push(chunk);
        this.held += chunk.length;
        if (this.held > bytes * 4) this.child?.stdout?.pause();
        this.wake();
      },
    }).then(
      () => this.end(),
      (error: unknown) => {
        this.end();
        throw error;
      },
    );
    this.done.catch(() => undefined); // reported by whoever waits for it at the end
  }

  private end(): void {
    this.ended = true;
    this.wake();
  }

  /** The next frame, or null after the last. */
  async next(): Promise<Buffer | null> {
    while (this.held < this.bytes && !this.ended) {
      this.child?.stdout?.resume();
      await new Promise<void>((resolve) => (this.wake = resolve));
    }
    if (this.held < this.bytes) return null;
    const frame = Buffer.allocUnsafe(this.bytes);
    let filled = 0;
    while (filled < this.bytes) {
      const chunk = this.chunks[0] as Buffer;
      const take = Math.min(chunk.length, this.bytes - filled);
      chunk.copy(frame, filled, 0, take);
      if (take === chunk.length) this.chunks.shift();
      else this.chunks[0] = chunk.subarray(take);
      filled += take;
    }
    this.held -= this.bytes;
    return frame;
  }
}

/** Decoders to the compositor to the encoder, frame by frame. */
async function renderDrawn(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment, onFrames } = work;
  const { width, height, rate } = piece.format;
  const stop = new AbortController();
  const signal = AbortSignal.any([work.signal, stop.signal]);
  const stage = new ServerStage(width, height, 1);
  const pictures = segment.pictures.map(({ picture: shown, rect, first, frames }) => {
    const { media, still, clip } = shown;
    const picture = work.fileOf(media);
    const size = drawnSize(rect, piece.format, 1);
    const { input, map, filters } = stretch(picture, shown, rate, frames);
    const vf = [...filters, ...asRgba(picture.source, size.width, size.height)].join(',');
    const count = still ? 1 : frames;
    const args = [
      '-threads',
      String(work.threads),
      ...input,
      ...map,
      '-an',
      '-vf',
      vf,
      '-frames:v',
      String(count),
      '-f',
      'rawvideo',
      'pipe:1',
    ];
    return { clip, size, first, end: first + count, reader: new FrameReader(args, size.width * size.height * 4, signal) };
  });
  let encoder: ChildProcess | null = null;
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${width}x${height}`, '-r', `${rate.num}/${rate.den}`, '-i', 'pipe:0'];
  const encoding = ffmpeg([...raw, ...output(work, file)], {
    signal,
    onStart: (child) => (encoder = child),
  });
  encoding.catch(() => stop.abort());
  try {
    for (let n = 0; n < segment.frames; n += 1) {
      await Promise.all(
        pictures.map(async ({ clip, size, first, end, reader }) => {
          const rgba = n >= first && n < end ? await reader.next() : null;
          if (rgba) stage.setPicture(clip, rgba, size.width, size.height);
        }),
      );
      signal.throwIfAborted();
      stage.draw(evaluate(piece, frameStart(segment.start + n, rate)));
      const stdin = (encoder as ChildProcess | null)?.stdin;
      if (stdin && !stdin.write(stage.planes())) await Promise.race([once(stdin, 'drain'), encoding]);
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
