import type { ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { segmentSteps, underTitles, type Step } from '@flimzy/core/deliver';
import type { FrameDescription } from '@flimzy/core/frame';
import { ffmpeg } from '../media/run';
import { besideFrame, intoFrame } from './base';
import { boxAround } from './box';
import { ServerStage } from './canvas';
import { stretch } from './pictures';
import { output, type SegmentWork } from './work';

/** The titles of each run of a segment, as a frame of their own. */
function titlesOf({ piece, segment }: SegmentWork, steps: readonly Step[][]): { frame: FrameDescription; frames: number }[] {
  const { width, height } = piece.format;
  return segment.runs.map(({ frames }, n) => {
    const layers = (steps[n] ?? []).flatMap((step) => (step.kind === 'titles' ? step.layers : []));
    return { frame: { width, height, layers }, frames };
  });
}

/** What ffmpeg reads for the pictures of a segment, and the filters that lay them over each other, and what that is called. */
function picturesUnder(work: SegmentWork, steps: readonly Step[]): { inputs: string[][]; graph: string[]; last: string } {
  const { piece, segment } = work;
  const under = underTitles(steps);
  if (!under) throw new Error('there is no picture under what is laid over it');
  const taken = (clip: string) => {
    const shown = segment.pictures.find(({ picture }) => picture.clip === clip);
    if (!shown) throw new Error('a picture is shown that the segment does not have');
    const picture = work.fileOf(shown.picture.media);
    return { picture, ...stretch(picture, shown.picture, piece.format.rate, segment.frames) };
  };
  const first = taken(under.base.picture.picture.clip);
  const inputs = [first.input];
  const base = [...first.filters, ...intoFrame(first.picture.source, under.base, piece.format), ...first.held];
  const graph = [`[0:${first.picture.stream}]${base.join(',')}[under0]`];
  let last = '[under0]';
  for (const { picture: shown, places } of under.beside) {
    const { picture, input, filters, held } = taken(shown.clip);
    const placed = places[0] && besideFrame(picture.source, places[0].rect, piece.format);
    if (!placed) continue;
    const n = inputs.push(input) - 1;
    graph.push(`[${n}:${picture.stream}]${[...filters, ...placed.filters, ...held].join(',')}[beside${n}]`);
    graph.push(`${last}[beside${n}]overlay=${placed.x}:${placed.y}:format=yuv420[under${n}]`);
    last = `[under${n}]`;
  }
  return { inputs, graph, last };
}

/**
 * Decoders to encoder inside one ffmpeg, which lays pictures over each other, and titles over them: only these are drawn here, in a box that holds
 * them, and where they stand still, once.
 */
export async function renderLaid(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment, signal, onFrames } = work;
  const { rate } = piece.format;
  const clock = `${rate.num}/${rate.den}`;
  const steps = segmentSteps(segment.runs, piece.format) ?? [];
  const { inputs, graph, last } = picturesUnder(work, steps[0] ?? []);
  const all = titlesOf(work, steps);
  const frames = all.map(({ frame }) => frame);
  const titled = frames.some(({ layers }) => layers.length > 0);
  const box = boxAround(frames, piece.format);
  const stage = new ServerStage(box.width, box.height, 1, box);
  if (titled) graph.push(`${last}[${inputs.length}:v]overlay=${box.x}:${box.y}:eof_action=repeat:format=yuv420[out]`);
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'yuva420p', '-s', `${box.width}x${box.height}`, '-r', clock, '-i', 'pipe:0'];
  const onProgress = (seconds: number) => onFrames(Math.min(segment.frames, Math.round((seconds * rate.num) / rate.den)));
  let child: ChildProcess | null = null;
  const read = [...inputs.flatMap((input) => ['-threads', String(work.threads), ...input]), ...(titled ? raw : [])];
  const args = [...read, '-filter_complex', graph.join(';'), '-map', titled ? '[out]' : last, '-r', clock];
  const encoding = ffmpeg([...args, ...output(work, file)], { signal, onProgress, onStart: (started) => (child = started) });
  const stdin = (child as ChildProcess | null)?.stdin;
  stdin?.on('error', () => undefined); // told by ffmpeg itself, which has ended then
  for (const { frame, frames } of titled ? all : []) {
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
