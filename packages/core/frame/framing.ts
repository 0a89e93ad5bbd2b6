import type { Clip, PieceFormat } from '../piece';
import {
  changes,
  keys,
  propertyOf,
  SCALE_MAX,
  valueAt,
  valueOf,
  type CurveName,
  type PropertyName,
  type PropertyValues,
} from '../properties';
import type { Flicks } from '../time';
import { placePicture, type Crop, type Placed, type Rect, type Size } from './placement';

/** The properties that say where a picture lies. */
export const FRAMING = [
  'scale',
  'x',
  'y',
  'turn',
  'cropLeft',
  'cropRight',
  'cropTop',
  'cropBottom',
  'focusX',
  'focusY',
] as const satisfies readonly CurveName[];

/** The same with what is chosen from a few: all that is set, copied and taken back as "framing". */
export const ALL_FRAMING = ['fit', 'flip', ...FRAMING] as const;

/** What is set by a hand is set to so much, so that what is written stays short. */
const short = (n: number) => Math.round(n * 1e5) / 1e5;

function plainly(names: readonly PropertyName[]): PropertyValues {
  return Object.fromEntries(names.map((name) => [name, propertyOf(name).plain]));
}

/** The least that cropping leaves of a picture's width and height. */
const LEFT_OVER = 0.02;

/** Shares on both sides of which at least a little remains between. */
function opposite(one: number, other: number): [number, number] {
  const most = 1 - LEFT_OVER;
  const sum = one + other;
  return sum <= most ? [one, other] : [(one * most) / sum, (other * most) / sum];
}

/** The framing of a clip at a moment of its material, every figure. */
export function framingAt(clip: PropertyValues, moment: Flicks): Record<(typeof FRAMING)[number], number> {
  return Object.fromEntries(FRAMING.map((name) => [name, valueAt(valueOf(clip, name), moment)])) as Record<
    (typeof FRAMING)[number],
    number
  >;
}

/** Where a clip's picture lies in the frame at a moment of its material (flicks). */
export function placeOf(clip: Clip, source: Size, format: Pick<PieceFormat, 'width' | 'height'>, moment: Flicks): Placed {
  const fit = valueOf(clip, 'fit');
  let touched = clip.flip !== undefined;
  let moves = false;
  for (const name of FRAMING) {
    if (clip[name] === undefined) continue;
    touched = true;
    moves ||= changes(clip[name]);
  }
  if (!touched) return { rect: placePicture(source, format, fit) };
  const now = framingAt(clip, moment);
  const placed: Placed = { rect: placePicture(source, format, fit, now, moves) };
  if (now.turn % 360 !== 0) placed.turn = now.turn % 360;
  const flip = valueOf(clip, 'flip');
  if (flip !== 'none') placed.flip = { across: flip !== 'down', down: flip !== 'across' };
  const [left, right] = opposite(now.cropLeft, now.cropRight);
  const [top, bottom] = opposite(now.cropTop, now.cropBottom);
  if (left + right + top + bottom > 0) placed.crop = { left, top, right, bottom };
  return placed;
}

/** Places of the frame that a picture is put into by one touch, as shares of it. */
export const REGIONS = {
  whole: { x: 0, y: 0, width: 1, height: 1 },
  'upper half': { x: 0, y: 0, width: 1, height: 1 / 2 },
  'lower half': { x: 0, y: 1 / 2, width: 1, height: 1 / 2 },
  'left half': { x: 0, y: 0, width: 1 / 2, height: 1 },
  'right half': { x: 1 / 2, y: 0, width: 1 / 2, height: 1 },
  'upper third': { x: 0, y: 0, width: 1, height: 1 / 3 },
  'middle third': { x: 0, y: 1 / 3, width: 1, height: 1 / 3 },
  'lower third': { x: 0, y: 2 / 3, width: 1, height: 1 / 3 },
  'left third': { x: 0, y: 0, width: 1 / 3, height: 1 },
  'centre third': { x: 1 / 3, y: 0, width: 1 / 3, height: 1 },
  'right third': { x: 2 / 3, y: 0, width: 1 / 3, height: 1 },
} as const satisfies Record<string, Rect>;
export type Region = keyof typeof REGIONS;

/** How large a picture in a corner is, as a share of the frame's shorter side, and how far from the edges, as a share of its width. */
const CORNER_SIZE = 0.42;
const CORNER_GAP = 0.04;

export type Corner = 'upper left' | 'upper right' | 'lower left' | 'lower right';

/** A picture as large as its fit makes it, laid so that what is not cropped is a rectangle of the frame (pixels). */
function into(source: Size, format: Size, box: Rect, crop: Crop): PropertyValues {
  const fitted = Math.min(format.width / source.width, format.height / source.height);
  const scale = Math.min(SCALE_MAX, box.width / (source.width * fitted * (1 - crop.left - crop.right)));
  const [width, height] = [source.width * fitted * scale, source.height * fitted * scale];
  const [cx, cy] = [box.x - crop.left * width + width / 2, box.y - crop.top * height + height / 2];
  // With the focus in the middle a picture lies around the middle of the frame, whatever its size.
  return {
    ...plainly(FRAMING),
    fit: 'fit',
    scale: short(scale),
    x: short(cx / format.width - 0.5),
    y: short(cy / format.height - 0.5),
    cropLeft: short(crop.left),
    cropRight: short(crop.right),
    cropTop: short(crop.top),
    cropBottom: short(crop.bottom),
  };
}

/** The values that fill a region of the frame with a picture, cut around its focus point. */
export function inRegion(source: Size, format: Size, region: Region, focus: { x: number; y: number } = { x: 0.5, y: 0.5 }): PropertyValues {
  const share = REGIONS[region];
  const box = {
    x: share.x * format.width,
    y: share.y * format.height,
    width: share.width * format.width,
    height: share.height * format.height,
  };
  const wide = source.width / source.height > box.width / box.height;
  const kept = wide ? ((box.width / box.height) * source.height) / source.width : ((box.height / box.width) * source.width) / source.height;
  const before = Math.max(0, Math.min(1 - kept, (wide ? focus.x : focus.y) - kept / 2));
  const after = 1 - kept - before;
  return into(
    source,
    format,
    box,
    wide ? { left: before, right: after, top: 0, bottom: 0 } : { left: 0, right: 0, top: before, bottom: after },
  );
}

/** The values that lay a picture into a corner, small and whole. */
export function inCorner(source: Size, format: Size, corner: Corner): PropertyValues {
  const side = CORNER_SIZE * Math.min(format.width, format.height);
  const grow = side / Math.max(source.width, source.height);
  const [width, height] = [source.width * grow, source.height * grow];
  const gap = CORNER_GAP * format.width;
  const x = corner.endsWith('left') ? gap : format.width - gap - width;
  const y = corner.startsWith('upper') ? gap : format.height - gap - height;
  return into(source, format, { x, y, width, height }, { left: 0, top: 0, right: 0, bottom: 0 });
}

/** The values of a picture that is framed plainly. */
export const PLAIN = plainly(['flip', ...FRAMING]);

/** The values that give a clip these figures at a moment of its material: by a key where a figure changes, else throughout. */
export function withFigures(clip: PropertyValues, moment: Flicks, figures: Partial<Record<CurveName, number>>): PropertyValues {
  const entries = Object.entries(figures) as [CurveName, number][];
  return Object.fromEntries(entries.map(([name, value]) => [name, keys.withValue(valueOf(clip, name), moment, short(value))]));
}
