import { effectsOn, type Direction, type Effect, type Effects } from '../properties';
import type { Flicks } from '../time';
import { isColour } from './looks';
import type { DrawnPart } from './overlays';
import { covers, type Placed, type Rect } from './placement';

/** A picture taken from a media item. */
export interface PictureRef {
  media: string;
  /** Time in the material, in flicks. */
  time: Flicks;
  /** The clip it is shown for (within nests, the clips on the way to it, joined by `/`): two clips of one item are two pictures. */
  clip: string;
  /** How many times as fast as the piece its time runs, below 0 backwards; missing: 1. */
  pace?: number;
  /** The same moment throughout: a photo, or a frozen frame. */
  still?: true;
  /** Something shines through it. */
  alpha?: true;
  /** Interlaced, with both fields as they were recorded; missing: its frames are whole. */
  fields?: true;
}

/** One thing drawn. Layers are drawn in order, each over those before it. */
export type Layer =
  /** The picture where it is placed. */
  | ({ kind: 'picture'; picture: PictureRef; opacity: number } & Placed)
  /**
   * The picture blurred and darkened, covering the frame: what stands behind one that does not fill it. How soft it is, how much of its
   * light is left, and of its colour: 0 to 1.
   */
  | { kind: 'backdrop'; picture: PictureRef; rect: Rect; soft: number; light: number; colourful: number }
  /** A colour that covers the frame, or goes over into another one from top to bottom: `#rrggbb`. */
  | { kind: 'fill'; colour: string; to?: string; opacity?: number }
  /** A title or a sticker, drawn in a frame of its own that is laid there. */
  | ({ kind: 'overlay'; parts: DrawnPart[]; opacity: number } & Placed)
  /**
   * Several layers as one, on nothing: what a nest shows, or a picture with what stands behind it, where it is not wholly there. Placed, the
   * frame that they are drawn in is laid there; masked, only a part of it is seen; `soft` (0 to 1): out of focus. `effects` are what is done to its
   * picture, in order, `seed` what their chance begins with.
   */
  | { kind: 'group'; layers: Layer[]; opacity: number; placed?: Placed; mask?: Mask; soft?: number; effects?: Effect[]; seed?: number };

/**
 * What is seen of a frame: up to an edge that goes across it, a circle around its middle, or a closed line around that (`size`: pixels for 1
 * of it at which it covers the frame). `at`: how far along, 0 (nothing) to 1 (all).
 */
export type Mask =
  | { kind: 'linear'; direction: Direction; at: number; soft: number; /** False: what lies beyond the edge instead. */ inside: boolean }
  | { kind: 'radial'; at: number; soft: number; inside: boolean }
  | { kind: 'outline'; points: readonly (readonly [number, number])[]; size: number; at: number; soft: number };

/** The layers that take a picture, within groups too, lowest first. */
export function pictureLayers(layers: readonly Layer[]): Extract<Layer, { picture: PictureRef }>[] {
  return layers.flatMap((layer) => ('picture' in layer ? [layer] : layer.kind === 'group' ? pictureLayers(layer.layers) : []));
}

/**
 * How wide each picture is drawn at most, by the clip it is shown for: pixels of the piece, of the whole picture before it is turned or cut.
 *
 * @param width of the frame, in pixels of the piece
 */
export function drawnWidths(layers: readonly Layer[], width: number, times = 1, widths = new Map<string, number>()): Map<string, number> {
  for (const layer of layers) {
    if (layer.kind === 'group') drawnWidths(layer.layers, width, layer.placed ? (times * layer.placed.rect.width) / width : times, widths);
    if ('picture' in layer) widths.set(layer.picture.clip, Math.max(widths.get(layer.picture.clip) ?? 0, layer.rect.width * times));
  }
  return widths;
}

type Of<K extends Layer['kind']> = Extract<Layer, { kind: K }>;

/** What layers begin with when that is one picture and no more: with what stands behind it, and what is done to their colours, in order. */
export interface Base {
  picture: Of<'picture'>;
  /** Its own backdrop, or one colour; null where there is black. */
  behind: Of<'backdrop'> | Of<'fill'> | null;
  effects: Effect[];
  /** The layers that lie over it. */
  over: Layer[];
}

/** One picture at the beginning of layers, by itself or as a group that only changes its colours; null when there is more to it. */
export function baseOf(layers: readonly Layer[]): Base | null {
  const [first, second, ...rest] = layers;
  if (!first) return null;
  const over = layers.slice(1);
  if (first.kind === 'picture') return { picture: first, behind: null, effects: [], over };
  if (first.kind === 'fill' && first.to === undefined && (first.opacity ?? 1) === 1 && second?.kind === 'picture')
    return { picture: second, behind: first, effects: [], over: rest };
  if (first.kind === 'backdrop' && second?.kind === 'picture' && first.picture.clip === second.picture.clip)
    return { picture: second, behind: first, effects: [], over: rest };
  if (first.kind !== 'group') return null;
  const { opacity, placed, mask, soft, effects = [] } = first;
  if (opacity !== 1 || placed || mask || soft || !effects.every(isColour)) return null;
  const inner = baseOf(first.layers);
  return inner && inner.over.length === 0 ? { ...inner, effects: [...inner.effects, ...effects], over } : null;
}

/** Whether a layer leaves nothing of what is under it. */
export function hides(layer: Layer, frame: { width: number; height: number }): boolean {
  if (layer.kind === 'fill') return (layer.opacity ?? 1) === 1;
  if (layer.kind === 'overlay') return false;
  if (layer.kind === 'group')
    return (
      layer.opacity === 1 && !layer.mask && (!layer.placed || covers(layer.placed, frame)) && layer.layers.some((one) => hides(one, frame))
    );
  return !layer.picture.alpha && (layer.kind === 'backdrop' || (layer.opacity === 1 && covers(layer, frame)));
}

/** Layers without those that are wholly covered, so that nobody decodes them. */
export function uncovered(layers: Layer[], frame: { width: number; height: number }): Layer[] {
  const lowest = layers.findLastIndex((layer) => hides(layer, frame));
  return lowest > 0 ? layers.slice(lowest) : layers;
}

/** Layers as one picture with effects on it; as they are where there are none. @param n the number of the frame */
export function withEffects(layers: Layer[], effects: Effects | undefined, n: number): Layer[] {
  const on = effectsOn(effects);
  if (on.length === 0 || layers.length === 0) return layers;
  const chance = on.some(({ kind }) => kind === 'grain') ? { seed: n } : {};
  return [{ kind: 'group', layers, opacity: 1, effects: on, ...chance }];
}

/** Layers as they are seen so much of: one layer by itself, several as a group; none where there is nothing of them. */
export function faded(all: Layer[], opacity: number, frame: { width: number; height: number }): Layer[] {
  if (opacity >= 1) return all;
  const layers = uncovered(all, frame);
  if (opacity <= 0 || layers.length === 0) return [];
  const [only] = layers;
  if (layers.length === 1 && only && only.kind !== 'backdrop') return [{ ...only, opacity: (only.opacity ?? 1) * opacity }];
  return [{ kind: 'group', layers, opacity }];
}
