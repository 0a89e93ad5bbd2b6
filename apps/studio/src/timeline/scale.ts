import { FLICKS_PER_SECOND, frameLength, formatTimecode, type Flicks, type Rate } from '@flimzy/core/time';

/** Pixels for a length of time. `zoom` is pixels a second. */
export const toPixels = (time: Flicks, zoom: number) => (time / FLICKS_PER_SECOND) * zoom;

/** Time for a length in pixels, not on any grid. */
export const toTime = (pixels: number, zoom: number): Flicks => (pixels / zoom) * FLICKS_PER_SECOND;

/** Where something that begins at `start` is drawn while a drag moves it `by`: where it stood, and moved, which needs no painting anew. */
export const standing = (start: Flicks, by: Flicks, zoom: number): { top: number; transform: string | undefined } => ({
  top: toPixels(start - by, zoom),
  transform: by === 0 ? undefined : `translateY(${toPixels(by, zoom)}px)`,
});

/** The least height of something on a track, and the room left below it, in pixels. */
const LEAST = 2;

/** How high a stretch of time is drawn, and which part of that is in view, in pixels from its own top. */
export function partInView(start: Flicks, length: Flicks, zoom: number, viewTop: number, viewBottom: number) {
  const top = toPixels(start, zoom);
  const height = Math.max(LEAST, toPixels(length, zoom) - LEAST);
  return { height, seenTop: Math.max(0, viewTop - top), seenBottom: Math.min(height, viewBottom - top) };
}

/** Least distance between two labels of the ruler, in pixels. */
const LABEL_ROOM = 44;

/** Flicks from one label of the ruler to the next: frames when zoomed in, then seconds, then minutes. */
export function rulerStep(zoom: number, rate: Rate): Flicks {
  const frame = frameLength(rate);
  const nominal = Math.round(rate.num / rate.den);
  const frames = [1, 2, 5, 10, 15].filter((n) => n < nominal).map((n) => n * frame);
  const second = nominal * frame;
  const steps = [...frames, ...[1, 2, 5, 10, 20, 30, 60, 120, 300, 600].map((n) => n * second)];
  return steps.find((step) => toPixels(step, zoom) >= LABEL_ROOM) ?? (steps.at(-1) as Flicks);
}

/** A label of the ruler: seconds alone, or with frames where they are shown. */
export function rulerLabel(time: Flicks, step: Flicks, rate: Rate): string {
  const text = formatTimecode(time, rate);
  return step % (Math.round(rate.num / rate.den) * frameLength(rate)) === 0 ? text.slice(0, text.lastIndexOf('.')) : text;
}
