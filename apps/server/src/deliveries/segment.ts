import { plainBase, type Segment } from '@flimzy/core/deliver';
import { evaluate } from '@flimzy/core/frame';
import { frameStart } from '@flimzy/core/time';
import { whole } from '../files/whole';
import { ffmpeg } from '../media/run';
import { intoFrame } from './base';
import { ServerStage } from './canvas';
import { encodeFrames } from './encoder';
import { renderLaid } from './laid';
import { asRgba, drawnSize, stretch } from './pictures';
import { renderPlanes } from './planes';
import { FrameReader, rawFrames } from './reader';
import { output, type SegmentWork } from './work';

/** How each way is rendered. */
const RENDERERS: Record<Segment['way'], (work: SegmentWork, file: string) => Promise<void>> = {
  straight: renderStraight,
  black: renderStraight,
  laid: renderLaid,
  planes: renderPlanes,
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
  const chain = [...filters, ...intoFrame(picture.source, base, piece.format)].join(',');
  await ffmpeg(['-threads', String(work.threads), ...input, ...map, '-vf', chain, '-r', clock, ...output(work, file)], {
    signal,
    onProgress,
  });
}

/** Decoders to the compositor to the encoder, frame by frame. */
async function renderDrawn(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment } = work;
  const { width, height, rate } = piece.format;
  const stop = new AbortController();
  const signal = AbortSignal.any([work.signal, stop.signal]);
  const stage = new ServerStage(width, height, 1);
  const pictures = segment.pictures.map(({ picture: shown, rect, first, frames }) => {
    const { media, still, clip } = shown;
    const picture = work.fileOf(media);
    const size = drawnSize(rect, piece.format, 1);
    const { input, map, filters } = stretch(picture, shown, rate, frames);
    const vf = [...filters, ...asRgba(picture.source, size.width, size.height)];
    const count = still ? 1 : frames;
    const args = rawFrames(work, [...input, ...map], vf, count);
    return { clip, size, first, end: first + count, reader: new FrameReader(args, size.width * size.height * 4, signal) };
  });
  await encodeFrames(work, file, stop, async (n) => {
    await Promise.all(
      pictures.map(async ({ clip, size, first, end, reader }) => {
        const rgba = n >= first && n < end ? await reader.next() : null;
        if (rgba) stage.setPicture(clip, rgba, size.width, size.height);
      }),
    );
    stage.draw(evaluate(piece, frameStart(segment.start + n, rate)));
    return stage.planes();
  });
  await Promise.all(pictures.map(({ reader }) => reader.done));
}
