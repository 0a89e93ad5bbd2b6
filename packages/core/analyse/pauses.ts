import { clipEnd, isHeard, materialSpan, timelineAt, type Clip, type Piece } from '../piece';
import { ascending, frameLength, fromSamples, toSamples, type Flicks } from '../time';
import type { Peaks } from './peaks';

/** What counts as a pause, and how much of it stays. */
export interface PauseWish {
  /** Quieter than this, in dB below full scale. */
  level: number;
  /** At least this long, in flicks. */
  least: Flicks;
  /** What is left of each pause on either side, in flicks: the breath. */
  breath: Flicks;
}

/** Stretches of material in which every sample stays under a level, in samples; from waveform peaks, so to the bin. */
export function quietStretches(peaks: Peaks, from: number, to: number, level: number): { from: number; to: number }[] {
  const most = 127 * 10 ** (level / 20);
  const found: { from: number; to: number }[] = [];
  let began: number | null = null;
  const first = Math.floor(from / peaks.bin);
  const last = Math.min(Math.ceil(to / peaks.bin), peaks.data.length / 2);
  for (let b = first; b < last; b += 1) {
    const loud = Math.max(Math.abs(peaks.data[b * 2] as number), Math.abs(peaks.data[b * 2 + 1] as number)) > most;
    if (!loud) began ??= b;
    if (began !== null && (loud || b === last - 1)) {
      const end = loud ? b : b + 1;
      found.push({ from: Math.max(from, began * peaks.bin), to: Math.min(to, end * peaks.bin) });
      began = null;
    }
  }
  return found;
}

/**
 * A level under which material is likely a pause: well under its speech (the 90th percentile of its bins), but over its own ground
 * noise (the 5th). dB below full scale, between −60 and −12.
 */
export function pauseLevel(peaks: Peaks): number {
  const bins = Array.from({ length: peaks.data.length / 2 }, (_, b) =>
    Math.max(1, Math.abs(peaks.data[b * 2] as number), Math.abs(peaks.data[b * 2 + 1] as number)),
  ).sort((a, b) => a - b);
  const decibels = (share: number) => 20 * Math.log10((bins[Math.floor((bins.length - 1) * share)] ?? 1) / 127);
  const [ground, speech] = [decibels(0.05), decibels(0.9)];
  return Math.round(Math.max(-60, Math.min(-12, Math.max(ground + 6, speech - 20))));
}

/** A pause within a clip, on the timeline: what may be taken out, on frames, the breath left off already. */
export interface Pause {
  clip: string;
  from: Flicks;
  to: Flicks;
}

/** The pauses of a clip. `peaks` are those of its material. */
export function pausesIn(piece: Piece, clip: Clip, peaks: Peaks, wish: PauseWish): Pause[] {
  if (!isHeard(clip, piece.media[clip.media])) return [];
  const frame = frameLength(piece.format.rate);
  const span = materialSpan(clip);
  const [first, last] = [toSamples(span.from), toSamples(span.to)];
  const onTimeline = (sample: number) => timelineAt(clip, fromSamples(sample));
  return quietStretches(peaks, first, last, wish.level).flatMap((quiet) => {
    const [from, to] = ascending(onTimeline(quiet.from), onTimeline(quiet.to));
    if (to - from < wish.least) return [];
    const start = Math.max(clip.start, Math.ceil((from + (from <= clip.start ? 0 : wish.breath)) / frame) * frame);
    const end = Math.min(clipEnd(clip), Math.floor((to - (to >= clipEnd(clip) - frame ? 0 : wish.breath)) / frame) * frame);
    return end - start >= frame && end - start < clip.length ? [{ clip: clip.id, from: start, to: end }] : [];
  });
}
