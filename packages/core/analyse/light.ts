import { colourThrough, evaluate, pictureLayers, sourceFrameAt, type FrameTimes, type Layer, type PictureRef } from '../frame';
import type { Piece } from '../piece';
import type { Effect } from '../properties';
import type { Flicks } from '../time';
import { greyOf, luminance, luminanceOf } from './contrast';

/** A frame is looked at in so many cells across and down. */
export const LIGHT_CELLS = 8;
const CELLS = LIGHT_CELLS * LIGHT_CELLS;

/** How bright the frames of an item are: {@link LIGHT_CELLS}² levels of grey (0 to 255) each, row by row; and when each begins (null: a photo). */
export interface Light {
  cells: Uint8Array;
  frames: FrameTimes | null;
}

/** The light of an item, or null while it is not known. */
export type LightReader = (media: string) => Light | null;

const LINEAR = Float32Array.from({ length: 256 }, (_, level) => luminance(level, level, level));

/** A point of a frame, in its pixels. */
interface Point {
  x: number;
  y: number;
}

function lightIn(lights: LightReader, picture: PictureRef, across: number, down: number): number {
  const light = lights(picture.media);
  if (!light) return 0;
  const n = light.frames ? sourceFrameAt(light.frames, picture.time) : 0;
  const cell = (share: number) => Math.max(0, Math.min(LIGHT_CELLS - 1, Math.floor(share * LIGHT_CELLS)));
  const at = n * CELLS + cell(down) * LIGHT_CELLS + cell(across);
  return LINEAR[light.cells[Math.min(at, light.cells.length - 1)] ?? 0] ?? 0;
}

/** The light of greys of every level through effects, by the first of them: they are the same from frame to frame. */
const THROUGH = new WeakMap<Effect, { effects: readonly Effect[]; lights: Float32Array }>();

/** What effects make of a grey of so much light: those of colour, each cell being known as a grey. */
function lightThrough(effects: readonly Effect[], light: number): number {
  const [first] = effects;
  if (!first) return light;
  let through = THROUGH.get(first);
  if (through?.effects.length !== effects.length || through.effects.some((one, n) => one !== effects[n])) {
    const lights = Float32Array.from({ length: 256 }, (_, n) => {
      const [red, green, blue] = colourThrough(effects, [n / 255, n / 255, n / 255]);
      return luminance(red * 255, green * 255, blue * 255);
    });
    through = { effects, lights };
    THROUGH.set(first, through);
  }
  return through.lights[Math.round(greyOf(light) * 255)] ?? 0;
}

/** The light of layers at a point, over what is under them. What is turned is taken as upright, titles are left out. */
function lightOf(lights: LightReader, layers: readonly Layer[], point: Point, frame: Piece['format'], under: number): number {
  return layers.reduce((below, layer) => {
    if (layer.kind === 'overlay') return below;
    if (layer.kind === 'fill') return mixed(below, luminanceOf(layer.colour), layer.opacity ?? 1);
    const rect = layer.kind === 'group' ? layer.placed?.rect : layer.rect;
    const [across, down] = rect
      ? [(point.x - rect.x) / rect.width, (point.y - rect.y) / rect.height]
      : [point.x / frame.width, point.y / frame.height];
    if (across < 0 || across > 1 || down < 0 || down > 1) return below;
    if (layer.kind === 'group') {
      const inner = { x: across * frame.width, y: down * frame.height };
      const own = lightOf(lights, layer.layers, inner, frame, below);
      return mixed(below, layer.effects ? lightThrough(layer.effects, own) : own, layer.opacity);
    }
    const own = lightIn(lights, layer.picture, across, down);
    return layer.kind === 'backdrop' ? own * layer.light : mixed(below, own, layer.opacity);
  }, under);
}

const mixed = (below: number, above: number, opacity: number) => below + (above - below) * opacity;

/** How bright a piece is at a time, cell by cell (relative luminances), with its looks; null where that of one is not known. */
export function lightAt(piece: Piece, time: Flicks, lights: LightReader): Float32Array | null {
  const { layers } = evaluate(piece, time);
  if (pictureLayers(layers).some(({ picture }) => !lights(picture.media))) return null;
  const { width, height } = piece.format;
  return Float32Array.from({ length: CELLS }, (_, n) => {
    const point = {
      x: (((n % LIGHT_CELLS) + 0.5) / LIGHT_CELLS) * width,
      y: ((Math.floor(n / LIGHT_CELLS) + 0.5) / LIGHT_CELLS) * height,
    };
    return lightOf(lights, layers, point, piece.format, 0);
  });
}
