import type { Fit } from '../piece';

/** A rectangle in pixels of the piece; it may reach past the frame, which cuts it off. */
export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Size {
  width: number;
  height: number;
}

/** Shares of a picture cut away on each side, 0 to 1. */
export interface Crop {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Where something is drawn: laid into a rectangle whole, then mirrored, cut and turned there. */
export interface Placed {
  rect: Rect;
  /** Degrees clockwise about the middle of the rectangle; missing: upright. */
  turn?: number;
  flip?: { across: boolean; down: boolean };
  /** Of the picture itself, before it is mirrored and turned. */
  crop?: Crop;
}

/** What moves a picture from where its fit alone puts it. */
export interface Framing {
  scale: number;
  /** Shares of the frame. */
  x: number;
  y: number;
  /** Shares of the picture. */
  focusX: number;
  focusY: number;
}

export const PLAIN_FRAMING: Framing = { scale: 1, x: 0, y: 0, focusX: 0.5, focusY: 0.5 };

/**
 * Where a picture lands in the frame: filling it or within it, so much larger, its focus point as near the middle as it can be without
 * uncovering an edge, then moved. What stands still lies on even whole pixels, so that 4:2:0 chroma lines up and ffmpeg and the
 * canvas put it in the same place; what moves lies between them, or it would jitter.
 *
 * @param source size of the picture as seen, in pixels
 * @param frame size of the piece, in pixels
 */
export function placePicture(source: Size, frame: Size, fit: Fit, framing: Framing = PLAIN_FRAMING, moves = false): Rect {
  const [across, down] = [frame.width / source.width, frame.height / source.height];
  const fitted = fit === 'fill' ? Math.max(across, down) : Math.min(across, down);
  const even = (n: number) => Math.max(2, Math.round(n / 2) * 2);
  const size = (n: number, full: number) => {
    const long = n * framing.scale;
    const whole = moves ? long : even(long);
    if (fit === 'fill') return framing.scale >= 1 ? Math.max(whole, full) : whole;
    return framing.scale <= 1 ? Math.min(whole, full) : whole;
  };
  const width = size(source.width * fitted, frame.width);
  const height = size(source.height * fitted, frame.height);
  const place = (full: number, long: number, focus: number, by: number) => {
    const kept = long > full ? Math.max(full - long, Math.min(0, full / 2 - focus * long)) : (full - long) / 2;
    const at = kept + by * full;
    return moves ? at : Math.round(at / 2) * 2 || 0;
  };
  return {
    x: place(frame.width, width, framing.focusX, framing.x),
    y: place(frame.height, height, framing.focusY, framing.y),
    width,
    height,
  };
}

/** Where in something a place of what it lies in is: u = a·x + c·y + e, v = b·x + d·y + f. */
export type Into = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

/** Where in a picture of a size (pixels) a place of the frame is, when the picture is placed there. */
export function intoPlaced({ rect, turn = 0, flip }: Placed, { width, height }: Size): Into {
  const angle = (turn * Math.PI) / 180;
  const [across, down] = [(flip?.across ? -width : width) / rect.width, (flip?.down ? -height : height) / rect.height];
  const [a, b, c, d] = [Math.cos(angle) * across, -Math.sin(angle) * down, Math.sin(angle) * across, Math.cos(angle) * down];
  const [x, y] = [rect.x + rect.width / 2, rect.y + rect.height / 2];
  return [a, b, c, d, width / 2 - a * x - c * y, height / 2 - b * x - d * y];
}

/** Where in the inner a place of the outer is, when that is in what holds the inner. */
export function through([a, b, c, d, e, f]: Into, [p, q, r, s, t, u]: Into): Into {
  return [a * p + c * q, b * p + d * q, a * r + c * s, b * r + d * s, a * t + c * u + e, b * t + d * u + f];
}

/** The part of a rectangle that is left of what lies in it, as it is seen before it is turned. */
export function cropped({ rect, flip, crop }: Placed): Rect {
  if (!crop) return rect;
  const [left, right] = flip?.across ? [crop.right, crop.left] : [crop.left, crop.right];
  const [top, bottom] = flip?.down ? [crop.bottom, crop.top] : [crop.top, crop.bottom];
  return {
    x: rect.x + left * rect.width,
    y: rect.y + top * rect.height,
    width: rect.width * (1 - left - right),
    height: rect.height * (1 - top - bottom),
  };
}

/** A point of the frame as it lies where nothing is turned. */
export function unturned({ rect, turn = 0 }: Placed, point: { x: number; y: number }): { x: number; y: number } {
  if (turn === 0) return point;
  const angle = (-turn * Math.PI) / 180;
  const [cx, cy] = [rect.x + rect.width / 2, rect.y + rect.height / 2];
  const [dx, dy] = [point.x - cx, point.y - cy];
  return { x: cx + dx * Math.cos(angle) - dy * Math.sin(angle), y: cy + dx * Math.sin(angle) + dy * Math.cos(angle) };
}

/** Whether a point of the frame lies on what is placed. */
export function isOn(placed: Placed, point: { x: number; y: number }): boolean {
  const at = unturned(placed, point);
  const seen = cropped(placed);
  return at.x >= seen.x && at.x <= seen.x + seen.width && at.y >= seen.y && at.y <= seen.y + seen.height;
}

/** The four corners of what is seen of something placed, from the upper left one clockwise (of the picture as it lies, before it is turned). */
export function cornersOf(placed: Placed): { x: number; y: number }[] {
  const seen = cropped(placed);
  const [right, low] = [seen.x + seen.width, seen.y + seen.height];
  const back = { ...placed, turn: -(placed.turn ?? 0) };
  return [
    { x: seen.x, y: seen.y },
    { x: right, y: seen.y },
    { x: right, y: low },
    { x: seen.x, y: low },
  ].map((corner) => unturned(back, corner));
}

/** Whether what is placed leaves no part of the frame uncovered. */
export function covers(placed: Placed, frame: Size): boolean {
  return [
    { x: 0, y: 0 },
    { x: frame.width, y: 0 },
    { x: 0, y: frame.height },
    { x: frame.width, y: frame.height },
  ].every((corner) => isOn(placed, corner));
}

/** Whether it is only laid into its rectangle, whole and upright. */
export const isLaid = ({ turn, flip, crop }: Placed): boolean => !turn && !flip && !crop;

/** Whether a rectangle lies on whole samples of colour, of which there is one for two by two pixels (4:2:0). */
export const isEven = ({ x, y, width, height }: Rect): boolean => [x, y, width, height].every((n) => n % 2 === 0);

/** The same, and that on whole pixels. */
export function isPlain(placed: Placed): boolean {
  const { rect } = placed;
  return isLaid(placed) && [rect.x, rect.y, rect.width, rect.height].every(Number.isInteger);
}
