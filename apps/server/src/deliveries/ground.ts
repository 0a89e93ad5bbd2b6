import { levelsOf } from '@flimzy/core/analyse';
import { flatSteps, type Step } from '@flimzy/core/deliver';
import { intoPlaced, through, type Base, type FrameDescription, type Mask, type Placed, type Rect, type Size } from '@flimzy/core/frame';
import type { Effect } from '@flimzy/core/properties';
import { colouredPlanes, composed, toPlanes, type Laying, type Part, type PlaneStep } from '@flimzy/kernels';
import { cubeFor, grainFor, sharpnessFor } from '@flimzy/stage';
import { inFrame } from './base';
import { boxAround } from './box';
import { ServerStage } from './canvas';
import { backdrop, softened } from './softened';

/** The part of a frame in which a picture, or what stands behind it, is; null where that is none. */
function partOf({ picture, behind }: Base, frame: Size): Part | null {
  return behind ? { x: 0, y: 0, ...frame } : inFrame(picture.rect, frame);
}

/** What is drawn, as planes; drawn again only when it looks otherwise. */
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

  /** Gives a picture that is drawn among them. */
  show(clip: string, rgba: Buffer, { width, height }: Size): void {
    this.stage.setPicture(clip, rgba, width, height);
    this.last = '';
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

/** A picture that has come from its decoder, in planes, and what has been made of it since then. */
interface Seen {
  planes: Uint8Array;
  size: Size;
  made: Map<string, Uint8Array>;
}

/** What was made before of the same, or is now. */
function kept(all: Map<string, Uint8Array>, what: unknown, make: () => Uint8Array): Uint8Array {
  const name = JSON.stringify(what);
  const made = all.get(name) ?? make();
  all.set(name, made);
  return made;
}

function colouredBy({ planes, size, made }: Seen, effects: readonly Effect[]): Uint8Array {
  if (effects.length === 0) return planes;
  return kept(made, effects, () => colouredPlanes(planes, size.width, size.height, cubeFor(effects)));
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
  const [from, until] = [levelsOf(colour), levelsOf(to)];
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
export class Ground {
  private readonly seen = new Map<string, Seen>();
  private readonly titles: Titles | null;
  private readonly fills = new Map<string, Uint8Array>();
  private readonly vignettes = new Map<string, Uint8Array>();
  private readonly last: { mask: string; levels: Uint8Array } = { mask: '', levels: new Uint8Array() };
  private drawing: ServerStage | null = null;

  constructor(
    private readonly frame: Size,
    steps: readonly Step[],
  ) {
    const over = flatSteps(steps).flatMap((step) => (step.kind === 'titles' ? [{ ...frame, layers: step.layers }] : []));
    this.titles = over.length > 0 ? new Titles(frame, boxAround(over, frame)) : null;
  }

  /** Gives the picture of a clip that is drawn for the next frames, in pixels. */
  showDrawn(clip: string, rgba: Buffer, size: Size): void {
    this.titles?.show(clip, rgba, size);
  }

  /** Gives the picture of a clip for the next frames, in planes. */
  show(clip: string, planes: Uint8Array, size: Size): void {
    this.seen.set(clip, { planes, size, made: new Map() });
  }

  private get stage(): ServerStage {
    return (this.drawing ??= new ServerStage(this.frame.width, this.frame.height, 1));
  }

  private filled(colour: string, to?: string): Uint8Array {
    return kept(this.fills, [colour, to], () => filled(this.frame, colour, to));
  }

  private vignette(amount: number): Uint8Array {
    return kept(this.vignettes, amount, () => this.stage.vignetteOf(amount));
  }

  private mask(mask: Mask): Uint8Array {
    const name = JSON.stringify(mask);
    if (name !== this.last.mask) Object.assign(this.last, { mask: name, levels: this.stage.maskOf(mask) });
    return this.last.levels;
  }

  private effect(effect: Effect, seed: number): PlaneStep[] {
    if (effect.kind === 'sharpen') return [{ kind: 'sharpen', amount: sharpnessFor(effect.amount) }];
    if (effect.kind === 'grain')
      return [{ kind: 'grain', ...grainFor(effect.amount, Math.max(this.frame.width, this.frame.height), 1), seed }];
    if (effect.kind !== 'vignette') return [];
    const planes = this.filled(effect.amount > 0 ? '#000000' : '#ffffff');
    const steps: PlaneStep[] = [{ kind: 'picture', planes, share: 1, coloured: null }];
    return [{ kind: 'group', steps, share: 1, mask: this.vignette(effect.amount), laid: null }];
  }

  private group({ steps, share, soft = 0, mask, placed }: Extract<Step, { kind: 'group' }>): PlaneStep {
    const { frame } = this;
    const inner = steps.flatMap(this.planes);
    if (soft > 0) {
      const planes = softened(composed(frame.width, frame.height, inner), frame, soft);
      return { kind: 'picture', planes, share, coloured: null };
    }
    const laid = placed ? layingOf([placed], frame, frame) : null;
    return { kind: 'group', steps: inner, share, mask: mask ? this.mask(mask) : null, laid };
  }

  /** A step in planes; none where a picture is not there. */
  readonly planes = (step: Step): PlaneStep[] => {
    const { frame } = this;
    switch (step.kind) {
      case 'colours':
        return [{ kind: 'colours', cube: cubeFor(step.effects) }];
      case 'effect':
        return this.effect(step.effect, step.seed);
      case 'titles':
        return this.titles ? [{ kind: 'box', planes: this.titles.drawn(step.layers), part: this.titles.box }] : [];
      case 'fill':
        return [{ kind: 'picture', planes: this.filled(step.colour, step.to), share: step.share, coloured: null }];
      case 'group':
        return [this.group(step)];
      case 'backdrop': {
        const seen = this.seen.get(step.layer.picture.clip);
        if (!seen) return [];
        const { picture: _, ...layer } = step.layer;
        const planes = kept(seen.made, layer, () => backdrop(seen.planes, seen.size, step.layer, frame));
        return [{ kind: 'picture', planes, share: 1, coloured: null }];
      }
      case 'placed': {
        const seen = this.seen.get(step.picture.clip);
        if (!seen) return [];
        const laid = layingOf(step.places, seen.size, frame);
        return [{ kind: 'placed', planes: colouredBy(seen, step.effects), ...seen.size, laid, share: step.share }];
      }
      case 'picture': {
        const { base, share } = step;
        const seen = this.seen.get(base.picture.picture.clip);
        const part = base.effects.length > 0 ? partOf(base, frame) : null;
        return seen ? [{ kind: 'picture', planes: seen.planes, share, coloured: part && { cube: cubeFor(base.effects), part } }] : [];
      }
    }
  };
}
