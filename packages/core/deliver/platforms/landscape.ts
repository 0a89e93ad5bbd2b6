import type { PlatformFormat } from '../platform';

export const landscape: PlatformFormat = {
  id: 'landscape-video',
  name: 'Landscape video',
  platform: 'Longmeadow',
  files: ['mp4', 'webm'],
  sizes: [
    { width: 3840, height: 2160 },
    { width: 1920, height: 1080 },
    { width: 1280, height: 720 },
  ],
  longest: null,
  rates: { least: 23.9, most: 60 },
  length: { least: 1, most: 43_200 },
  part: null,
  bytes: 128_000_000_000,
  codecs: { picture: ['h264', 'hevc', 'vp9', 'av1'], sound: ['aac', 'opus'] },
  bitrate: 68_000_000,
  loudness: { target: -14, within: 2, peak: -1 },
  safe: { left: 0.05, top: 0.05, right: 0.05, bottom: 0.1 },
  captions: 'beside',
};
