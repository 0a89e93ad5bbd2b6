import { stepsOf, type Step } from '@flimzy/core/deliver';
import type { Base, FrameDescription, Rect, Size } from '@flimzy/core/frame';
import { composed, type Part, type PlaneStep } from '@flimzy/kernels';
import { cubeFor } from '@flimzy/stage';
import { intoFrame } from './base';
import { boxAround } from './box';
import { ServerStage } from './canvas';
import { encodeFrames } from './encoder';
import { stretch } from './pictures';
import { FrameReader, rawFrames } from './reader';
import type { SegmentWork } from './work';

/** The part of a frame in which a picture, or what stands behind it, is; null where that is none. */
function partOf({ picture: { rect }, behind }: Base, frame: Size): Part | null {
  if (behind) return { x: 0, y: 0, ...frame };
  const [x, y] = [Math.max(0, rect.x), Math.max(0, rect.y)];
  const [width, height] = [Math.min(frame.width, rect.x + rect.width) - x, Math.min(frame.height, rect.y + rect.height) - y];
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

/** Titles as planes; drawn again only when they look otherwise. */
class Titles {
  private readonly stage: ServerStage;
  private last = '';
  private planes = new Uint8Array();

  constructor(
    private readonly frame: Size,
    readonly box: Rect,
  ) {
    this.stage = new ServerStage(box.width, box.height, 1, box);
  }

  drawn(layers: FrameDescription['layers']): Uint8Array {
    const now = JSON.stringify(layers);
    if (now !== this.last) {
      this.stage.draw({ ...this.frame, layers }, true);
      this.planes = this.stage.planes(true) as Uint8Array<ArrayBuffer>;
      this.last = now;
    }
    return this.planes;
  }
}

/**
 * Decoders bring their pictures into the frame; they are mixed, their colours changed, and titles laid over them here, in the planes that
 * the encoder takes.
 */
export async function renderPlanes(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment } = work;
  const { width, height, rate } = piece.format;
  const frame = { width, height };
  const runs = segment.runs.map(({ layers, frames }) => ({ steps: stepsOf(layers, frame) ?? [], frames }));
  const steps = runs.flatMap((run) => run.steps);
  const stop = new AbortController();
  const signal = AbortSignal.any([work.signal, stop.signal]);
  const bases = new Map(steps.flatMap((step) => (step.kind === 'picture' ? [[step.base.picture.picture.clip, step.base]] : [])));
  const pictures = segment.pictures.map(({ picture: shown, first, frames }) => {
    const picture = work.fileOf(shown.media);
    const base = bases.get(shown.clip);
    if (!base) throw new Error('a picture is shown that no step has');
    const { input, map, filters } = stretch(picture, shown, rate, frames);
    const count = shown.still ? 1 : frames;
    const args = rawFrames(work, [...input, ...map], [...filters, ...intoFrame(picture.source, base, piece.format)], count);
    return { clip: shown.clip, first, end: first + count, reader: new FrameReader(args, width * height * 1.5, signal) };
  });
  const over = steps.flatMap((step) => (step.kind === 'titles' ? [{ ...frame, layers: step.layers }] : []));
  const titles = over.length > 0 ? new Titles(frame, boxAround(over, frame)) : null;
  const seen = new Map<string, Uint8Array>();
  const planeSteps = (step: Step): PlaneStep[] => {
    if (step.kind === 'colours') return [{ kind: 'colours', cube: cubeFor(step.effects) }];
    if (step.kind === 'titles') return titles ? [{ kind: 'box', planes: titles.drawn(step.layers), part: titles.box }] : [];
    const { base, share } = step;
    const planes = seen.get(base.picture.picture.clip);
    const part = base.effects.length > 0 ? partOf(base, frame) : null;
    return planes ? [{ kind: 'picture', planes, share, coloured: part && { cube: cubeFor(base.effects), part } }] : [];
  };
  const due = runs.flatMap((run) => Array<Step[]>(run.frames).fill(run.steps));
  await encodeFrames(work, file, stop, async (n) => {
    await Promise.all(
      pictures.map(async ({ clip, first, end, reader }) => {
        const planes = n >= first && n < end ? await reader.next() : null;
        if (planes) seen.set(clip, planes);
      }),
    );
    return composed(width, height, (due[n] ?? []).flatMap(planeSteps));
  });
  await Promise.all(pictures.map(({ reader }) => reader.done));
}
