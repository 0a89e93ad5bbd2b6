import { framingAt, placeOf, type FRAMING } from './framing';
import { cornersOf, unturned, type Placed, type Rect, type Size } from './placement';
import type { Clip } from '../piece';
import { SCALE_MAX, SHAPE_LARGEST, TEXT_LARGEST, type Part } from '../properties';
import type { Flicks } from '../time';

type Figures = Record<(typeof FRAMING)[number], number>;

/** A clip's picture as it lies when a hand takes hold of it. */
export interface Held {
  placed: Placed;
  figures: Figures;
  format: Size;
  /** What is seen is only a part of its picture, of which the rest is nothing: a title. It goes anywhere, and turns about its own middle. */
  loose?: true;
}

/** What a hand makes of it: the figures that change, and the lines of the frame that it caught on, in pixels of the piece. */
export interface Handled {
  figures: Partial<Figures>;
  caught: { x: number | null; y: number | null };
}

interface Point {
  x: number;
  y: number;
}

const NOWHERE = { x: null, y: null };

/** Takes hold of a clip's picture at a moment of its material (flicks). */
export function hold(clip: Clip, source: Size, format: Size, moment: Flicks): Held {
  return { placed: placeOf(clip, source, format, moment), figures: framingAt(clip, moment), format };
}

/** How far from the edges words are safe on any screen, as a share of the frame. */
export const SAFE = 0.1;

/** The lines of a frame that pictures catch on: its edges, where words are safe, its middle, its thirds. Pixels of the piece. */
export function linesOf({ width, height }: Size, safe: readonly Rect[] = []): { x: number[]; y: number[] } {
  const of = (long: number) => [0, SAFE * long, long / 3, long / 2, (long * 2) / 3, (1 - SAFE) * long, long];
  return {
    x: [...of(width), ...safe.flatMap((area) => [area.x, area.x + area.width])],
    y: [...of(height), ...safe.flatMap((area) => [area.y, area.y + area.height])],
  };
}

/** The box around what is seen of something placed. */
export function boxOf(placed: Placed): { left: number; right: number; top: number; bottom: number } {
  const corners = cornersOf(placed);
  const [xs, ys] = [corners.map(({ x }) => x), corners.map(({ y }) => y)];
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
}

/** The least that a box moved by `by` has to be moved on to lie with an edge or its middle on a line, within reach; null when none is near. */
function catchOn(low: number, high: number, by: number, lines: readonly number[], reach: number): { by: number; line: number } | null {
  let best: { by: number; line: number } | null = null;
  for (const edge of [low, (low + high) / 2, high])
    for (const line of lines) {
      const off = line - (edge + by);
      if (Math.abs(off) <= reach && (!best || Math.abs(off) < Math.abs(best.by - by))) best = { by: by + off, line };
    }
  return best;
}

/**
 * Moves a picture by so many pixels of the piece. Along a side on which it is longer than the frame, the part of it that is seen moves and
 * no edge comes into the frame; else the picture itself.
 *
 * @param reach how near it catches on a line, in pixels of the piece; 0: not at all
 */
export function movedBy(held: Held, by: Point, lines: { x: readonly number[]; y: readonly number[] }, reach: number): Handled {
  const { placed, figures, format } = held;
  const box = boxOf(placed);
  const handled: Handled = { figures: {}, caught: { ...NOWHERE } };
  for (const [axis, side, focus, low, high] of [
    ['x', 'width', 'focusX', box.left, box.right],
    ['y', 'height', 'focusY', box.top, box.bottom],
  ] as const) {
    const [long, full] = [placed.rect[side], format[side]];
    if (long > full + 1 && !placed.turn && !held.loose) {
      const half = full / 2 / long;
      const within = (value: number) => Math.max(half, Math.min(1 - half, value));
      const next = within(within(figures[focus]) - by[axis] / long);
      const middle = reach > 0 && Math.abs(next - 0.5) * long <= reach;
      handled.figures[focus] = middle ? 0.5 : next;
      if (middle) handled.caught[axis] = full / 2;
      continue;
    }
    const near = reach > 0 ? catchOn(low, high, by[axis], lines[axis], reach) : null;
    handled.figures[axis] = figures[axis] + (near?.by ?? by[axis]) / full;
    handled.caught[axis] = near?.line ?? null;
  }
  return handled;
}

/** What a part of a title becomes when that is handled in whose frame it lies, which may be turned, mirrored and larger: moved there, or larger. */
export function partHandled({ placed, figures: was, format }: Held, part: Part, { figures }: Handled): Partial<Part> {
  const times = (figures.scale ?? was.scale) / was.scale;
  if (times !== 1) return { size: within(part.size * times, 0.01, part.kind === 'shape' ? SHAPE_LARGEST : TEXT_LARGEST) };
  const { width, height } = format;
  const angle = ((placed.turn ?? 0) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [dx, dy] = [((figures.x ?? was.x) - was.x) * width, ((figures.y ?? was.y) - was.y) * height];
  const [across, down] = [(dx * cos + dy * sin) * (placed.flip?.across ? -1 : 1), (dy * cos - dx * sin) * (placed.flip?.down ? -1 : 1)];
  const larger = placed.rect.width / width;
  return { x: within(part.x + across / larger / width, -1, 2), y: within(part.y + down / larger / height, -1, 2) };
}

/** A figure of a part within its bounds, written short. */
const within = (n: number, least: number, most: number) => Math.round(Math.max(least, Math.min(most, n)) * 1e4) / 1e4;

const SCALES = [1, 0.5, 2];

/** Makes a picture so many times as large, and turns it by degrees; it catches at its own size, half and double, and at every 45°. */
export function scaledAndTurned(held: Held, times: number, degrees: number, catches: boolean): Partial<Figures> {
  const { figures } = held;
  const made = sizeAndTurn(figures, times, degrees, catches);
  return held.loose ? { ...made, ...aboutItsMiddle(held, made) } : made;
}

/** Where a title has to lie so that its middle stays where it is when it is made larger and turned. */
function aboutItsMiddle({ placed, figures, format }: Held, made: Partial<Figures>): Pick<Figures, 'x' | 'y'> {
  const [middle, own] = [rectMiddle(placed), middleOf({ placed, loose: true })];
  const times = (made.scale ?? figures.scale) / figures.scale;
  const angle = (((made.turn ?? figures.turn) - figures.turn) * Math.PI) / 180;
  const [dx, dy] = [own.x - middle.x, own.y - middle.y];
  const [cos, sin] = [Math.cos(angle) * times, Math.sin(angle) * times];
  return { x: figures.x + (dx - dx * cos + dy * sin) / format.width, y: figures.y + (dy - dx * sin - dy * cos) / format.height };
}

function sizeAndTurn(figures: Figures, times: number, degrees: number, catches: boolean): Partial<Figures> {
  const wish = Math.max(0.02, Math.min(SCALE_MAX, figures.scale * times));
  const size = catches ? (SCALES.find((one) => Math.abs(wish / one - 1) < 0.025) ?? wish) : wish;
  if (degrees === 0) return { scale: size };
  const angle = figures.turn + degrees;
  const right = Math.round(angle / 45) * 45;
  return { scale: size, turn: catches && Math.abs(angle - right) < 4 ? right : angle };
}

export type Side = 'left' | 'right' | 'top' | 'bottom';

const CROPS = { left: 'cropLeft', right: 'cropRight', top: 'cropTop', bottom: 'cropBottom' } as const;
const OPPOSITE = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' } as const;

/** Pulls a side of what is seen of a picture to a point of the frame; near its own edge it catches there. */
export function croppedTo({ placed, figures }: Held, side: Side, to: Point, catches: boolean): Partial<Figures> {
  const { rect, flip } = placed;
  const at = unturned(placed, to);
  const along = side === 'left' || side === 'right' ? (at.x - rect.x) / rect.width : (at.y - rect.y) / rect.height;
  const cut = side === 'left' || side === 'top' ? along : 1 - along;
  const mirrored = side === 'left' || side === 'right' ? flip?.across : flip?.down;
  const own = mirrored ? OPPOSITE[side] : side;
  const most = 0.95 - figures[CROPS[OPPOSITE[own]]];
  const value = Math.max(0, Math.min(Math.max(0, most), cut));
  return { [CROPS[own]]: catches && value < 0.015 ? 0 : value };
}

/** Where the grips of a picture are: its corners and the middles of its sides, brought within the frame where they lie outside of it. */
export function gripsOf(placed: Placed, format: Size, inset: number): { corners: Point[]; sides: Record<Side, Point> } {
  const within = ({ x, y }: Point): Point => ({
    x: Math.max(inset, Math.min(format.width - inset, x)),
    y: Math.max(inset, Math.min(format.height - inset, y)),
  });
  const corners = cornersOf(placed);
  const [a, b, c, d] = corners as [Point, Point, Point, Point];
  const middle = (one: Point, other: Point) => within({ x: (one.x + other.x) / 2, y: (one.y + other.y) / 2 });
  return { corners: corners.map(within), sides: { top: middle(a, b), right: middle(b, c), bottom: middle(c, d), left: middle(d, a) } };
}

const rectMiddle = ({ rect }: Placed): Point => ({ x: rect.x + rect.width / 2, y: rect.y + rect.height / 2 });

/** The middle about which a picture is made larger and turned: its own, and of a title that of what is seen. */
export function middleOf({ placed, loose }: Pick<Held, 'placed' | 'loose'>): Point {
  if (!loose) return rectMiddle(placed);
  const [a, , c] = cornersOf(placed) as [Point, Point, Point];
  return { x: (a.x + c.x) / 2, y: (a.y + c.y) / 2 };
}
