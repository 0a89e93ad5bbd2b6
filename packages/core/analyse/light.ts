import {
  colourThrough,
  evaluate,
  intoPlaced,
  isOn,
  lumaOf,
  pictureLayers,
  seenThrough,
  sourceFrameAt,
  type Colour,
  type FrameTimes,
  type Layer,
  type PictureRef,
  type Placed,
} from '../frame';
import type { Piece } from '../piece';
import type { Effect } from '../properties';
import type { Flicks } from '../time';
import { levelsOf, linear } from './contrast';

/** A frame is looked at in so many cells across and down. */
export const LIGHT_CELLS = 8;
const CELLS = LIGHT_CELLS * LIGHT_CELLS;

/**
 * The light of the frames of an item: {@link LIGHT_CELLS}² colours each, row by row, a byte each for red, green and blue (sRGB); and when
 * each frame begins (null: a photo).
 */
export interface Light {
  cells: Uint8Array;
  frames: FrameTimes | null;
}

/** The light of an item, or null while it is not known. */
export type LightReader = (media: string) => Light | null;

/** A title or a sticker, as it is drawn. */
export type TitleLayer = Extract<Layer, { kind: 'overlay' }>;

/**
 * What titles cover of the frame that they are drawn in, and with which colours: {@link LIGHT_CELLS}² times red, green, blue and how much of the
 * cell is covered, 0 to 1 each, row by row; null where that is not known.
 */
export type TitleReader = (title: TitleLayer) => ArrayLike<number> | null;

/** The cells of a picture with some of it open. @param rgba four bytes for each of its pixels, colours as they are where nothing is open */
export function cellsOf(rgba: ArrayLike<number>, width: number, height: number): Float32Array {
  const cells = new Float32Array(CELLS * 4);
  const counts = new Uint32Array(CELLS);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const n = Math.floor((y * LIGHT_CELLS) / height) * LIGHT_CELLS + Math.floor((x * LIGHT_CELLS) / width);
      const at = (y * width + x) * 4;
      const cover = (rgba[at + 3] ?? 0) / 255;
      for (let i = 0; i < 3; i += 1) cells[n * 4 + i] = (cells[n * 4 + i] ?? 0) + ((rgba[at + i] ?? 0) / 255) * cover;
      cells[n * 4 + 3] = (cells[n * 4 + 3] ?? 0) + cover;
      counts[n] = (counts[n] ?? 0) + 1;
    }
  for (let n = 0; n < CELLS; n += 1) {
    const cover = cells[n * 4 + 3] ?? 0;
    for (let i = 0; i < 3; i += 1) cells[n * 4 + i] = cover > 0 ? (cells[n * 4 + i] ?? 0) / cover : 0;
    cells[n * 4 + 3] = cover / Math.max(1, counts[n] ?? 0);
  }
  return cells;
}

/** What the light of a piece is worked out from. */
interface Readers {
  lights: LightReader;
  titles: TitleReader;
}

/** A point of a frame, in its pixels. */
interface Point {
  x: number;
  y: number;
}

const BLACK: Colour = [0, 0, 0];
const mixed = (below: Colour, above: Colour, opacity: number) => below.map((one, i) => one + ((above[i] ?? 0) - one) * opacity) as Colour;

const colourOf = (hex: string) => levelsOf(hex).map((level) => level / 255) as Colour;

function colourIn(lights: LightReader, picture: PictureRef, across: number, down: number): Colour {
  const light = lights(picture.media);
  if (!light) return BLACK;
  const n = light.frames ? sourceFrameAt(light.frames, picture.time) : 0;
  const last = light.cells.length / 3 - 1;
  const at = 3 * Math.min(last, n * CELLS + cellAt(down) * LIGHT_CELLS + cellAt(across));
  const level = (i: number) => (light.cells[at + i] ?? 0) / 255;
  return [level(0), level(1), level(2)];
}

/** Steps of a colour's part in which what effects make of it is kept. */
const STEPS = 64;

/** What effects make of colours, by the first of them: they are the same from frame to frame. */
const THROUGH = new WeakMap<Effect, { effects: readonly Effect[]; colours: Map<number, Colour> }>();

/** What effects make of a colour: those that are about colours alone. */
function through(effects: readonly Effect[], colour: Colour): Colour {
  const [first] = effects;
  if (!first) return colour;
  let kept = THROUGH.get(first);
  if (kept?.effects.length !== effects.length || kept.effects.some((one, n) => one !== effects[n])) {
    kept = { effects, colours: new Map() };
    THROUGH.set(first, kept);
  }
  const [red, green, blue] = colour.map((part) => Math.round(part * (STEPS - 1))) as Colour;
  const name = (red * STEPS + green) * STEPS + blue;
  const known = kept.colours.get(name);
  if (known) return known;
  const made = colourThrough(effects, [red / (STEPS - 1), green / (STEPS - 1), blue / (STEPS - 1)]);
  kept.colours.set(name, made);
  return made;
}

const cellAt = (share: number) => Math.max(0, Math.min(LIGHT_CELLS - 1, Math.floor(share * LIGHT_CELLS)));

/** How far across and down a point of the frame lies in what is placed there, 0 to 1; null where that is not. */
function within(placed: Placed, point: Point): { across: number; down: number } | null {
  if (!isOn(placed, point)) return null;
  const [a, b, c, d, e, f] = intoPlaced(placed, { width: 1, height: 1 });
  return { across: a * point.x + c * point.y + e, down: b * point.x + d * point.y + f };
}

/** The colour of layers at a point, over what is under them. */
function colourAt(readers: Readers, layers: readonly Layer[], point: Point, frame: Piece['format'], under: Colour): Colour {
  return layers.reduce((below, layer) => {
    if (layer.kind === 'overlay') {
      const cells = readers.titles(layer);
      const at = 4 * (cellAt(point.y / frame.height) * LIGHT_CELLS + cellAt(point.x / frame.width));
      const part = (i: number) => cells?.[at + i] ?? 0;
      return mixed(below, [part(0), part(1), part(2)], part(3));
    }
    if (layer.kind === 'fill') return mixed(below, colourOf(layer.colour), layer.opacity ?? 1);
    const placed = layer.kind === 'group' ? layer.placed : layer;
    const at = placed ? within(placed, point) : { across: point.x / frame.width, down: point.y / frame.height };
    if (!at) return below;
    if (layer.kind === 'group') {
      const inner = { x: at.across * frame.width, y: at.down * frame.height };
      const own = colourAt(readers, layer.layers, inner, frame, below);
      const opacity = layer.opacity * (layer.mask ? seenThrough(layer.mask, inner, frame) : 1);
      return mixed(below, layer.effects ? through(layer.effects, own) : own, opacity);
    }
    const own = colourIn(readers.lights, layer.picture, at.across, at.down);
    if (layer.kind !== 'backdrop') return mixed(below, own, layer.opacity);
    const plain = lumaOf(own);
    return mixed(BLACK, mixed([plain, plain, plain], own, layer.colourful), layer.light);
  }, under);
}

/**
 * The light of a piece at a time, with its looks: red, green and blue of each cell, row by row, linear (0 to 1); null where that of an item is
 * not known. Titles that are not known are left out.
 */
export function lightAt(piece: Piece, time: Flicks, lights: LightReader, titles: TitleReader = () => null): Float32Array | null {
  const { layers } = evaluate(piece, time);
  if (pictureLayers(layers).some(({ picture }) => !lights(picture.media))) return null;
  const { width, height } = piece.format;
  const light = new Float32Array(CELLS * 3);
  for (let n = 0; n < CELLS; n += 1) {
    const point = {
      x: (((n % LIGHT_CELLS) + 0.5) / LIGHT_CELLS) * width,
      y: ((Math.floor(n / LIGHT_CELLS) + 0.5) / LIGHT_CELLS) * height,
    };
    light.set(
      colourAt({ lights, titles }, layers, point, piece.format, BLACK).map((part) => linear(part * 255)),
      n * 3,
    );
  }
  return light;
}
