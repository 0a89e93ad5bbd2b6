import { segmentSteps, underTitles, type NeededPicture, type Segment } from '@flimzy/core/deliver';
import { evaluate } from '@flimzy/core/frame';
import { frameStart } from '@flimzy/core/time';
import { whole } from '../files/whole';
import { ffmpeg } from '../media/run';
import { intoFrame } from './base';
import { ServerStage } from './canvas';
import { renderLaid } from './laid';
import { makeFrames } from './making';
import { asRgba, drawnSize, stretch } from './pictures';
import { renderPlanes } from './planes';
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
  const under = underTitles(segmentSteps(segment.runs, piece.format)?.[0] ?? []);
  if (!shown || !picture || !under) {
    const black = ['-f', 'lavfi', '-i', `color=black:size=${width}x${height}:rate=${clock}`];
    return void (await ffmpeg([...black, ...output(work, file)], { signal, onProgress }));
  }
  const { input, map, filters, held } = stretch(picture, shown.picture, rate, segment.frames);
  const chain = [...filters, ...intoFrame(picture.source, under.base, piece.format), ...held].join(',');
  await ffmpeg(['-threads', String(work.threads), ...input, ...map, '-vf', chain, '-r', clock, ...output(work, file)], {
    signal,
    onProgress,
  });
}

/** Decoders to the compositor to the encoder, frame by frame. */
async function renderDrawn(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment } = work;
  const { width, height, rate } = piece.format;
  const stage = new ServerStage(width, height, 1);
  const sizeOf = ({ rect }: NeededPicture) => drawnSize(rect, piece.format, 1);
  await makeFrames(work, file, {
    decoded: ({ source }, needed) => {
      const size = sizeOf(needed);
      return { filters: asRgba(source, size.width, size.height), bytes: size.width * size.height * 4 };
    },
    frame: (n, fresh) => {
      for (const { needed, bytes } of fresh) {
        const size = sizeOf(needed);
        stage.setPicture(needed.picture.clip, bytes, size.width, size.height);
      }
      stage.draw(evaluate(piece, frameStart(segment.start + n, rate)));
      return stage.planes();
    },
  });
}
