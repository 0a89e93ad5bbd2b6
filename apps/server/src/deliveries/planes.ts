import { stepsOf, type Step } from '@flimzy/core/deliver';
import type { Base, FrameDescription, Rect, Size } from '@flimzy/core/frame';
import { composed, type Part, type PlaneStep } from '@flimzy/kernels';
import { cubeFor } from '@flimzy/stage';
import { inFrame, intoFrame } from './base';
import { boxAround } from './box';
import { ServerStage } from './canvas';
import { makeFrames } from './making';
import type { SegmentWork } from './work';

/** The part of a frame in which a picture, or what stands behind it, is; null where that is none. */
function partOf({ picture, behind }: Base, frame: Size): Part | null {
  return behind ? { x: 0, y: 0, ...frame } : inFrame(picture.rect, frame);
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
  const { width, height } = piece.format;
  const frame = { width, height };
  const runs = segment.runs.map(({ layers, frames }) => ({ steps: stepsOf(layers, frame) ?? [], frames }));
  const steps = runs.flatMap((run) => run.steps);
  const bases = new Map(steps.flatMap((step) => (step.kind === 'picture' ? [[step.base.picture.picture.clip, step.base]] : [])));
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
  await makeFrames(work, file, {
    decoded: ({ source }, { picture: { clip } }) => {
      const base = bases.get(clip);
      if (!base) throw new Error('a picture is shown that no step has');
      return { filters: intoFrame(source, base, frame), bytes: width * height * 1.5 };
    },
    frame: (n, fresh) => {
      for (const { needed, bytes } of fresh) seen.set(needed.picture.clip, bytes);
      return composed(width, height, (due[n] ?? []).flatMap(planeSteps));
    },
  });
}
