import type { Fit } from '../piece';

/** A rectangle in pixels of the piece; it may reach past the frame, which cuts it off. */
export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * Where a picture lands in the frame. Even whole pixels, so that 4:2:0 chroma lines up and ffmpeg and the canvas put it in the
 * same place.
 *
 * @param source size of the picture as seen, in pixels
 * @param frame size of the piece, in pixels
 */
export function placePicture(source: { width: number; height: number }, frame: { width: number; height: number }, fit: Fit): Rect {
  const [across, down] = [frame.width / source.width, frame.height / source.height];
  const scale = fit === 'fill' ? Math.max(across, down) : Math.min(across, down);
  const even = (n: number) => Math.max(2, Math.round(n / 2) * 2);
  const cover = (n: number, full: number) => (fit === 'fill' ? Math.max(even(n), full) : Math.min(even(n), full));
  const width = cover(source.width * scale, frame.width);
  const height = cover(source.height * scale, frame.height);
  const middle = (full: number, size: number) => Math.round((full - size) / 4) * 2 || 0;
  return { x: middle(frame.width, width), y: middle(frame.height, height), width, height };
}

/** Whether a rectangle leaves no part of the frame uncovered. */
export function covers(rect: Rect, frame: { width: number; height: number }): boolean {
  return rect.x <= 0 && rect.y <= 0 && rect.x + rect.width >= frame.width && rect.y + rect.height >= frame.height;
}
