import type { DeliverySettings, PictureCodec } from '@flimzy/core/deliver';
import { nominalRate, sameRate, type Rate } from '@flimzy/core/time';
import { BT709_TAGS } from '../media/filters';

/** Ticks a second of the exported file: a whole number for each frame. */
export function timescale(rate: Rate): number {
  return rate.den === 1 ? rate.num * 512 : rate.num;
}

/** The rate factor of each encoder for a quality from 0 to 100. At 80 all of them leave about as much to be seen as H.264 at 19. */
const FACTORS: Record<PictureCodec, (quality: number) => number> = {
  h264: (quality) => Math.round(35 - quality / 5),
  hevc: (quality) => Math.round(38 - quality / 5),
  vp9: (quality) => Math.round(56 - quality * 0.32),
  av1: (quality) => Math.round(60 - quality * 0.38),
};

/** How each encoder is run: as quick as gives a good picture, in closed groups, so that segments join. `much` says how much it may write. */
const ENCODERS: Record<PictureCodec, (much: readonly string[], group: number) => string[]> = {
  h264: (much, group) => [
    ...['-c:v', 'libx264', '-preset', 'veryfast', '-profile:v', 'high', ...much, '-pix_fmt', 'yuv420p'],
    ...['-g', String(group), '-bf', '2', '-x264-params', 'open-gop=0:stitchable=1'],
  ],
  hevc: (much, group) => [
    ...['-c:v', 'libx265', '-preset', 'veryfast', '-tag:v', 'hvc1', ...much, '-pix_fmt', 'yuv420p'],
    ...['-g', String(group), '-x265-params', 'log-level=error:open-gop=0'],
  ],
  vp9: (much, group) => [
    ...['-c:v', 'libvpx-vp9', '-deadline', 'good', '-cpu-used', '5', '-row-mt', '1', ...much, '-pix_fmt', 'yuv420p'],
    ...['-g', String(group)],
  ],
  av1: (much, group) => [...['-c:v', 'libsvtav1', '-preset', '9', ...much, '-pix_fmt', 'yuv420p'], ...['-g', String(group)]],
};

/** Frames from one that stands by itself to the next: two seconds of them. */
export const groupOf = (rate: Rate): number => nominalRate(rate) * 2;

function encoder(codec: PictureCodec, rate: Rate, much: readonly string[]): string[] {
  return [...ENCODERS[codec](much, groupOf(rate)), ...BT709_TAGS, '-video_track_timescale', String(timescale(rate))];
}

/** At constant quality. */
export function atQuality(codec: PictureCodec, quality: number, rate: Rate): string[] {
  const factor = ['-crf', String(FACTORS[codec](quality))];
  return encoder(codec, rate, codec === 'vp9' ? [...factor, '-b:v', '0'] : factor);
}

/** At so many bits a second. */
export function atBitrate(codec: PictureCodec, bitrate: number, rate: Rate): string[] {
  const much = ['-b:v', String(Math.round(bitrate))];
  const bounds = ['-maxrate', String(Math.round(bitrate * 1.6)), '-bufsize', String(Math.round(bitrate * 3))];
  return encoder(codec, rate, codec === 'h264' || codec === 'hevc' ? [...much, ...bounds] : much);
}

/** Nothing that anyone would see is lost in what is only made to be encoded once more. */
const MASTER_QUALITY = 100;

/** How the segments of a delivery are encoded: as they are joined, or only to be made into something else. */
export function segmentEncoding({ picture, rate }: DeliverySettings, pieceRate: Rate): { options: string[]; remade: boolean } {
  return picture?.control.by === 'quality' && sameRate(rate, pieceRate)
    ? { options: atQuality(picture.codec, picture.control.quality, pieceRate), remade: false }
    : { options: atQuality('h264', MASTER_QUALITY, pieceRate), remade: true };
}

/** How sound is encoded. */
export function soundEncoding({ codec, rate, bitrate }: NonNullable<DeliverySettings['sound']>): string[] {
  const encoders = { aac: 'aac', opus: 'libopus', mp3: 'libmp3lame', flac: 'flac', wav: 'pcm_s24le' } as const;
  const lossy = codec !== 'flac' && codec !== 'wav';
  return [
    '-c:a',
    encoders[codec],
    ...(lossy ? ['-b:a', String(bitrate)] : codec === 'flac' ? ['-sample_fmt', 's32'] : []),
    '-ar',
    String(rate),
    '-ac',
    '2',
  ];
}
