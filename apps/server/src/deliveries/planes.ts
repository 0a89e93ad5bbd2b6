import { flatSteps, segmentSteps, type NeededPicture, type Step } from '@flimzy/core/deliver';
import { pictureLayers, type Size } from '@flimzy/core/frame';
import { composed } from '@flimzy/kernels';
import { scaleTo } from '../media/filters';
import { intoFrame } from './base';
import { Ground } from './ground';
import { makeFrames } from './making';
import { asRgba, drawnSize } from './pictures';
import type { SegmentWork } from './work';

/**
 * Decoders bring their pictures, into the frame or as they are laid there here; they are mixed, their colours changed, and what is drawn laid
 * over them, in the planes that the encoder takes.
 */
export async function renderPlanes(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment } = work;
  const { width, height } = piece.format;
  const frame = { width, height };
  const runs = segmentSteps(segment.runs, piece.format) ?? [];
  const steps = runs.flat();
  const ground = new Ground(frame, steps);
  const bases = new Map(flatSteps(steps).flatMap((step) => (step.kind === 'picture' ? [[step.base.picture.picture.clip, step.base]] : [])));
  const drawn = new Set(
    flatSteps(steps).flatMap((step) => (step.kind === 'titles' ? pictureLayers(step.layers).map(({ picture }) => picture.clip) : [])),
  );
  const sizeOf = ({ picture, rect }: NeededPicture): Size => (bases.has(picture.clip) ? frame : drawnSize(rect, frame, 1));
  const due = runs.flatMap((run, n) => Array<Step[]>(segment.runs[n]?.frames ?? 0).fill(run));
  await makeFrames(work, file, {
    decoded: ({ source }, needed) => {
      const { clip } = needed.picture;
      const base = bases.get(clip);
      const size = sizeOf(needed);
      if (drawn.has(clip)) return { filters: asRgba(source, size.width, size.height), bytes: size.width * size.height * 4 };
      const filters = base ? intoFrame(source, base, frame) : [scaleTo(source, size.width, size.height), 'format=yuv420p'];
      return { filters, bytes: size.width * size.height * 1.5 };
    },
    frame: (n, fresh) => {
      for (const { needed, bytes } of fresh) {
        const { clip } = needed.picture;
        if (drawn.has(clip)) ground.showDrawn(clip, bytes, sizeOf(needed));
        else ground.show(clip, bytes, sizeOf(needed));
      }
      return composed(width, height, (due[n] ?? []).flatMap(ground.planes));
    },
  });
}
