import { PEAK_BINS } from '@flimzy/core/analyse';
import { keyTime, speedOf, type Clip } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { waveformPath } from '../material/peaks';
import { toPixels, toTime } from './scale';

/** A stretch of a clip's material as it is drawn: where it begins there, how many pixels a second of it takes, and whether it runs backwards. */
export interface DrawnMaterial {
  first: Flicks;
  zoom: number;
  backwards: boolean;
}

/**
 * What of a clip's material lies in a box: drawn from its earliest moment on, and turned over by whoever draws where it runs backwards.
 *
 * @param time of the timeline at which the box begins, in flicks
 * @param length of the box in pixels; `zoom` pixels a second of the timeline
 */
export function drawnMaterial(clip: Clip, time: Flicks, length: number, zoom: number): DrawnMaterial {
  const speed = speedOf(clip);
  const backwards = speed < 0;
  const first = keyTime(clip, Math.round(backwards ? time + toTime(length, zoom) : time));
  return { first, zoom: zoom / Math.abs(speed), backwards };
}

/**
 * A clip's waveform lying in a box: the path, and what lays it there from the box's lower left corner.
 *
 * @param time of the timeline at which the box begins, in flicks
 * @param length and `across` of the box in pixels; `zoom` pixels a second of the timeline
 */
export function lyingWaveform(
  clip: Clip,
  peaks: Int8Array | undefined,
  time: Flicks,
  length: number,
  across: number,
  zoom: number,
  gain: (moment: Flicks) => number,
): { path: string; transform: string } {
  const drawn = drawnMaterial(clip, time, length, zoom);
  const shift = Math.max(0, toPixels(-drawn.first, drawn.zoom)); // before the material there is nothing
  const path = peaks ? waveformPath(peaks, PEAK_BINS[0], Math.max(0, drawn.first), length - shift, across, drawn.zoom, gain).outline : '';
  const turned = drawn.backwards ? `translate(${length} 0) scale(-1 1) ` : '';
  return { path, transform: `${turned}translate(${shift} 0) rotate(-90)` };
}
