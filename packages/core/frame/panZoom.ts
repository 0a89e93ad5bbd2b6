import { clipEnd, keyTime, type Clip } from '../piece';
import { changes, keyMoments, keys, valueAt, valueOf, type CurveName, type PropertyValues } from '../properties';
import type { Flicks } from '../time';
import { FRAMING } from './framing';

/** How much larger a picture is at the near end of a gentle zoom than at the far one. */
const GENTLE = 1.12;

/** Where gentle zooms go to, one photo after the other, so that no two neighbours move alike: focus across and down. */
const TOWARDS = [
  [0.5, 0.4],
  [0.35, 0.5],
  [0.65, 0.45],
  [0.5, 0.6],
] as const;

export type PanZoomWay = 'towards' | 'away';

/**
 * The values of a picture that goes slowly from one framing to another over the whole clip: towards what it shows, or away from it.
 *
 * @param frame length of a frame of the piece, in flicks: it comes to rest on the last one
 * @param n which of several photos it is: they go to different places, every second one away
 */
export function panZoom(
  clip: Pick<Clip, 'start' | 'length' | 'from' | 'hold' | 'speed'> & PropertyValues,
  way: PanZoomWay,
  frame: Flicks,
  n = 0,
): PropertyValues {
  const begins = keyTime(clip, clip.start);
  const ends = keyTime(clip, clipEnd(clip) - frame);
  const backwards = ends < begins;
  const [from, to] = backwards ? [ends, begins] : [begins, Math.max(begins + 1, ends)];
  const [fx, fy] = TOWARDS[n % TOWARDS.length] ?? TOWARDS[0];
  const first = (name: CurveName) => valueAt(valueOf(clip, name), begins);
  const far = { scale: first('scale'), focusX: first('focusX'), focusY: first('focusY') };
  const near = {
    scale: far.scale * GENTLE,
    focusX: changes(clip.focusX) || far.focusX !== 0.5 ? far.focusX : fx,
    focusY: changes(clip.focusY) || far.focusY !== 0.5 ? far.focusY : fy,
  };
  const [start, end] = (way === 'towards') !== backwards ? [far, near] : [near, far];
  const over = (a: number, b: number) => ({
    keys: [
      { at: from, value: a, ease: 'slowBoth' as const },
      { at: to, value: b, ease: 'slowBoth' as const },
    ],
  });
  return { scale: over(start.scale, end.scale), focusX: over(start.focusX, end.focusX), focusY: over(start.focusY, end.focusY) };
}

/** Whether a clip's framing changes within it. */
export const isMoving = (clip: PropertyValues): boolean => FRAMING.some((name) => changes(clip[name]));

/** The same movement the other way round: what it began with, it ends with. */
export function turnedRound(clip: Clip): PropertyValues {
  const moments = keyMoments(clip);
  const [from, to] = [moments[0] ?? 0, moments.at(-1) ?? 0];
  return Object.fromEntries(
    FRAMING.filter((name) => changes(clip[name])).map((name) => [name, keys.mirrored(valueOf(clip, name), from, to)]),
  );
}

/** Its framing throughout as it is at its beginning. */
export function stoodStill(clip: Clip): PropertyValues {
  const from = keyTime(clip, clip.start);
  return Object.fromEntries(FRAMING.filter((name) => changes(clip[name])).map((name) => [name, valueAt(valueOf(clip, name), from)]));
}
