import { flatSteps, segmentSteps, type NeededPicture, type Step } from '@flimzy/core/deliver';
import { intoPlaced, through, type Base, type FrameDescription, type Placed, type Rect, type Size } from '@flimzy/core/frame';
import type { Effect } from '@flimzy/core/properties';
import { colouredPlanes, composed, toPlanes, type Laying, type Part, type PlaneStep } from '@flimzy/kernels';
import { cubeFor } from '@flimzy/stage';
import { scaleTo } from '../media/filters';
import { inFrame, intoFrame } from './base';
import { boxAround } from './box';
import { ServerStage } from './canvas';
import { makeFrames } from './making';
import { drawnSize } from './pictures';
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

/** A picture that has come from its decoder, in planes, and as effects have made it since then. */
interface Seen {
  planes: Uint8Array;
  size: Size;
  coloured: Map<string, Uint8Array>;
}

function colouredBy({ planes, size, coloured }: Seen, effects: readonly Effect[]): Uint8Array {
  if (effects.length === 0) return planes;
  const by = JSON.stringify(effects);
  const made = coloured.get(by) ?? colouredPlanes(planes, size.width, size.height, cubeFor(effects));
  coloured.set(by, made);
  return made;
}

/** How something of a size lies in the frame: placed in a frame that is placed in the next. */
function layingOf(places: readonly Placed[], size: Size, frame: Size): Laying {
  const { left = 0, top = 0, right = 0, bottom = 0 } = places[0]?.crop ?? {};
  return {
    into: places.map((placed, n) => intoPlaced(placed, n === 0 ? size : frame)).reduce(through),
    kept: { left: left * size.width, top: top * size.height, right: (1 - right) * size.width, low: (1 - bottom) * size.height },
  };
}

/** A frame of a colour, or of one going over into another from top to bottom. */
function filled({ width, height }: Size, colour: string, to = colour): Uint8Array {
  const [from, until] = [colour, to].map((one) => [1, 3, 5].map((at) => Number.parseInt(one.slice(at, at + 2), 16))) as [
    number[],
    number[],
  ];
  const column = Uint8Array.from({ length: 4 * height * 4 }, (_, i) => {
    const [c, y] = [i % 4, Math.floor(i / 16)];
    return c === 3 ? 255 : Math.round((from[c] ?? 0) + ((until[c] ?? 0) - (from[c] ?? 0)) * ((y + 0.5) / height));
  });
  const narrow = toPlanes(column, 4, height);
  const planes = new Uint8Array(width * height * 1.5);
  for (let y = 0; y < height; y += 1) planes.fill(narrow[y * 4] ?? 0, y * width, (y + 1) * width);
  for (let n = 0; n < height; n += 1)
    planes.fill(narrow[height * 4 + n * 2] ?? 0, width * height + (n * width) / 2, width * height + ((n + 1) * width) / 2);
  return planes;
}

/** What steps are made of while a segment is: what has been decoded, and what was drawn and may be needed again. */
class Ground {
  readonly seen = new Map<string, Seen>();
  private readonly titles: Titles | null;
  private readonly fills = new Map<string, Uint8Array>();
  private masks: ServerStage | null = null;

  constructor(
    private readonly frame: Size,
    steps: readonly Step[],
  ) {
    const over = flatSteps(steps).flatMap((step) => (step.kind === 'titles' ? [{ ...frame, layers: step.layers }] : []));
    this.titles = over.length > 0 ? new Titles(frame, boxAround(over, frame)) : null;
  }

  private filled(colour: string, to: string | undefined): Uint8Array {
    const name = `${colour} ${to ?? ''}`;
    const planes = this.fills.get(name) ?? filled(this.frame, colour, to);
    this.fills.set(name, planes);
    return planes;
  }

  /** A step in planes; none where a picture is not there. */
  planes = (step: Step): PlaneStep[] => {
    const { frame } = this;
    switch (step.kind) {
      case 'colours':
        return [{ kind: 'colours', cube: cubeFor(step.effects) }];
      case 'titles':
        return this.titles ? [{ kind: 'box', planes: this.titles.drawn(step.layers), part: this.titles.box }] : [];
      case 'fill':
        return [{ kind: 'picture', planes: this.filled(step.colour, step.to), share: step.share, coloured: null }];
      case 'group': {
        const { share, placed, mask } = step;
        if (mask) this.masks ??= new ServerStage(frame.width, frame.height, 1);
        return [
          {
            kind: 'group',
            steps: step.steps.flatMap(this.planes),
            share,
            mask: mask && this.masks ? this.masks.maskOf(mask) : null,
            laid: placed ? layingOf([placed], frame, frame) : null,
          },
        ];
      }
      case 'placed': {
        const seen = this.seen.get(step.picture.clip);
        if (!seen) return [];
        const { size } = seen;
        return [
          { kind: 'placed', planes: colouredBy(seen, step.effects), ...size, laid: layingOf(step.places, size, frame), share: step.share },
        ];
      }
      default: {
        const { base, share } = step;
        const seen = this.seen.get(base.picture.picture.clip);
        const part = base.effects.length > 0 ? partOf(base, frame) : null;
        return seen ? [{ kind: 'picture', planes: seen.planes, share, coloured: part && { cube: cubeFor(base.effects), part } }] : [];
      }
    }
  };
}

/**
 * Decoders bring their pictures, into the frame or as they are laid there here; they are mixed, their colours changed, and titles laid over
 * them, in the planes that the encoder takes.
 */
export async function renderPlanes(work: SegmentWork, file: string): Promise<void> {
  const { piece, segment } = work;
  const { width, height } = piece.format;
  const frame = { width, height };
  const runs = segmentSteps(segment.runs, piece.format) ?? [];
  const steps = runs.flat();
  const ground = new Ground(frame, steps);
  const bases = new Map(flatSteps(steps).flatMap((step) => (step.kind === 'picture' ? [[step.base.picture.picture.clip, step.base]] : [])));
  const sizeOf = ({ picture, rect }: NeededPicture): Size => (bases.has(picture.clip) ? frame : drawnSize(rect, frame, 1));
  const due = runs.flatMap((run, n) => Array<Step[]>(segment.runs[n]?.frames ?? 0).fill(run));
  await makeFrames(work, file, {
    decoded: ({ source }, needed) => {
      const base = bases.get(needed.picture.clip);
      const size = sizeOf(needed);
      const filters = base ? intoFrame(source, base, frame) : [scaleTo(source, size.width, size.height), 'format=yuv420p'];
      return { filters, bytes: size.width * size.height * 1.5 };
    },
    frame: (n, fresh) => {
      for (const { needed, bytes } of fresh)
        ground.seen.set(needed.picture.clip, { planes: bytes, size: sizeOf(needed), coloured: new Map() });
      return composed(width, height, (due[n] ?? []).flatMap(ground.planes));
    },
  });
}
