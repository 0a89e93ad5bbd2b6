import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { segmentSteps } from '@flimzy/core/deliver';
import type { FrameDescription } from '@flimzy/core/frame';
import { ffmpeg } from '../media/run';
import { intoFrame, underneath } from './base';
import { boxAround } from './box';
import { ServerStage } from './canvas';
import { stretch } from './pictures';
import { output, type SegmentWork } from './work';

/** What lies over the picture in each run of a segment, as a frame of its own. */
function overs({ piece, segment }: SegmentWork): { frame: FrameDescription; frames: number }[] {
  const { width, height } = piece.format;
  const steps = segmentSteps(segment.runs, piece.format);
  return segment.runs.map(({ frames }, n) => {
    const layers = (steps?.[n] ?? []).flatMap((step) => (step.kind === 'titles' ? step.layers : []));
    return { frame: { width, height, layers }, frames };
  });
}

/**
 * Decoder to encoder inside one ffmpeg, which lays titles over the picture: only they are drawn here, in a box that holds them,
 * and where they stand still, once.
 */
export async function renderLaid(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment, signal, onFrames } = work;
  const { rate } = piece.format;
  const clock = `${rate.num}/${rate.den}`;
  const [shown] = segment.pictures;
  const picture = shown && work.fileOf(shown.picture.media);
  const base = underneath(work);
  if (!shown || !picture || !base) throw new Error('there is no picture under what is laid over it');
  const { input, filters } = stretch(picture, shown.picture, rate, segment.frames);
  const all = overs(work);
  const box = boxAround(
    all.map(({ frame }) => frame),
    piece.format,
  );
  const stage = new ServerStage(box.width, box.height, 1, box);
  const graph = [
    `[0:${picture.stream}]${[...filters, ...intoFrame(picture.source, base, piece.format)].join(',')}[under]`,
    `[under][1:v]overlay=${box.x}:${box.y}:eof_action=repeat:format=yuv420[out]`,
  ].join(';');
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuva420p', '-s', `${box.width}x${box.height}`, '-r', clock, '-i', 'pipe:0'];
  const onProgress = (seconds: number) => onFrames(Math.min(segment.frames, Math.round((seconds * rate.num) / rate.den)));
  let child: ChildProcess | null = null;
  const args = ['-threads', String(work.threads), ...input, ...raw, '-filter_complex', graph, '-map', '[out]', '-r', clock];
  const encoding = ffmpeg([...args, ...output(work, file)], { signal, onProgress, onStart: (started) => (child = started) });
  const stdin = (child as ChildProcess | null)?.stdin;
  stdin?.on('error', () => undefined); // told by ffmpeg itself, which has ended then
  for (const { frame, frames } of all) {
    stage.draw(frame, true);
    const planes = stage.planes(true);
    // The last picture stays until the end: one that stands still is sent once.
    for (let n = 0; n < (all.length === 1 ? 1 : frames); n += 1) {
      if (signal.aborted || !stdin?.writable) break;
      if (!stdin.write(planes)) await Promise.race([once(stdin, 'drain'), encoding]);
    }
  }
  stdin?.end();
  await encoding;
}
