import type { PieceFormat } from '@flimzy/core/piece';
import { nominalRate } from '@flimzy/core/time';
import { BT709_TAGS } from '../media/filters';

/**
 * How every export is encoded: H.264 High at constant quality, closed groups of two seconds, 4:2:0, tagged BT.709. Segments
 * encoded alike join without being encoded again.
 */
export function videoEncoding({ rate }: PieceFormat): string[] {
  const second = nominalRate(rate);
  return [
    ...['-c:v', 'libx264', '-preset', 'veryfast', '-profile:v', 'high', '-crf', '19', '-pix_fmt', 'yuv420p'],
    ...['-g', String(second * 2), '-bf', '2', '-x264-params', 'open-gop=0:stitchable=1'],
    ...BT709_TAGS,
    ...['-video_track_timescale', String(timescale({ rate }))],
  ];
}

/** Ticks a second of the exported file: a whole number for each frame. */
export function timescale({ rate }: Pick<PieceFormat, 'rate'>): number {
  return rate.den === 1 ? rate.num * 512 : rate.num;
}

export const SOUND_ENCODING = ['-c:a', 'aac', '-b:a', '192k', '-ar', '48000', '-ac', '2'] as const;
