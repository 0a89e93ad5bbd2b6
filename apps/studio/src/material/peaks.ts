import { PEAK_BINS } from '@flimzy/core/analyse';
import { energyAt, LOUDNESS_STEP, type Hearing } from '@flimzy/core/sound';
import { FLICKS_PER_SAMPLE, SAMPLE_RATE, type Flicks } from '@flimzy/core/time';
import { useQuery } from '@tanstack/react-query';
import { whenCalm } from '../api/calm';
import { addressOf } from '../api/address';

/** The coarsest peaks that still have a bin for every two pixels. `zoom` is pixels a second. */
export function binFor(zoom: number): number {
  const wanted = (2 / zoom) * 48_000;
  return [...PEAK_BINS].reverse().find((bin) => bin <= wanted) ?? PEAK_BINS[0];
}

/** Fetches the peaks of an item: signed bytes, low and high of each bin. @throws Error when there are none */
export async function fetchPeaks(media: string, bin: number): Promise<Int8Array> {
  await whenCalm();
  const response = await fetch(addressOf('mediaPeaks', { id: media }, { bin }));
  if (!response.ok) throw new Error('no peaks');
  return new Int8Array(await response.arrayBuffer());
}

/** The peaks of an item, once they are there. */
export function usePeaks(media: string, bin: number, there: boolean) {
  return useQuery<Int8Array>({
    queryKey: ['peaks', media, bin],
    enabled: there,
    staleTime: Infinity,
    queryFn: () => fetchPeaks(media, bin),
  });
}

/**
 * An outline of a waveform running down: an SVG path in a box `width` pixels wide, mirrored about its middle line.
 * @param from time in the material at the top of the box, in flicks
 * @param height of the box in pixels; `zoom` pixels a second
 * @param gain how much louder or softer the sound is made at a moment of the material (flicks), as a factor
 * @returns the outline, and bars where it is louder than full scale
 */
export function waveformPath(
  peaks: Int8Array,
  bin: number,
  from: Flicks,
  height: number,
  width: number,
  zoom: number,
  gain: (moment: Flicks) => number,
): { outline: string; over: string } {
  const perBin = (bin / 48_000) * zoom;
  const stepBins = Math.max(1, Math.round(1.5 / perBin));
  const first = Math.max(0, Math.floor(from / FLICKS_PER_SAMPLE / bin / stepBins) * stepBins);
  const offset = (from / FLICKS_PER_SAMPLE / bin - first) * perBin;
  const half = width / 2;
  const right: string[] = [];
  const left: string[] = [];
  const over: string[] = [];
  for (let b = first, y = -offset; y < height && b * 2 < peaks.length; b += stepBins, y += stepBins * perBin) {
    let most = 0;
    for (let i = b; i < Math.min(b + stepBins, peaks.length / 2); i += 1)
      most = Math.max(most, Math.abs(peaks[i * 2] as number), Math.abs(peaks[i * 2 + 1] as number));
    const loud = (most / 127) * gain(b * bin * FLICKS_PER_SAMPLE);
    const x = Math.max(0.5, Math.min(half, Math.sqrt(loud) * half));
    const at = Math.max(0, y).toFixed(1);
    if (loud > 1) over.push(`M0 ${at}h${width}v${Math.max(1.5, stepBins * perBin).toFixed(1)}h${-width}z`);
    right.push(`${(half + x).toFixed(1)} ${at}`);
    left.push(`${(half - x).toFixed(1)} ${at}`);
  }
  return { outline: right.length > 1 ? `M${right.join('L')}L${left.reverse().join('L')}Z` : '', over: over.join('') };
}

/**
 * The body of a waveform, drawn within its outline: how loud it is in each tenth of a second (K-weighted, as an amplitude), where peaks
 * alone look alike. The same box as of {@link waveformPath}.
 */
export function bodyPath(
  heard: Hearing,
  from: Flicks,
  height: number,
  width: number,
  zoom: number,
  gain: (moment: Flicks) => number,
): string {
  const step = LOUDNESS_STEP * FLICKS_PER_SAMPLE;
  const perStep = (LOUDNESS_STEP / SAMPLE_RATE) * zoom;
  const skip = Math.max(1, Math.round(1.5 / perStep));
  const first = Math.max(0, Math.floor(from / step - 0.5));
  const half = width / 2;
  const right: string[] = [];
  const left: string[] = [];
  for (
    let k = first, y = (first + 0.5 - from / step) * perStep;
    y < height + perStep * skip && k < heard.loudness.length;
    k += skip, y += perStep * skip
  ) {
    let energy = 0;
    for (let i = k; i < k + skip; i += 1) energy = Math.max(energy, energyAt(heard, i));
    // Half of the energy of both sides is that of one; an amplitude as its square root, drawn as peaks are.
    const loud = Math.sqrt(energy / 2) * gain((k + 0.5) * step);
    const x = Math.min(half, Math.sqrt(loud) * half);
    right.push(`${(half + x).toFixed(1)} ${y.toFixed(1)}`);
    left.push(`${(half - x).toFixed(1)} ${y.toFixed(1)}`);
  }
  return right.length > 1 ? `M${right.join('L')}L${left.reverse().join('L')}Z` : '';
}

/** The sound as it is. */
export const AS_IT_IS = () => 1;
