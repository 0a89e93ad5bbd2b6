import type { PlatformFormat } from '../platform';

export const verticalShort: PlatformFormat = {
  id: 'vertical-short',
  name: 'Vertical short',
  platform: 'Gustly',
  files: ['mp4'],
  sizes: [
    { width: 1080, height: 1920 },
    { width: 720, height: 1280 },
  ],
  longest: null,
  rates: { least: 23.9, most: 60 },
  length: { least: 3, most: 60 },
  part: null,
  bytes: 250_000_000,
  codecs: { picture: ['h264', 'hevc'], sound: ['aac'] },
  bitrate: 16_000_000,
  loudness: { target: -14, within: 2, peak: -1 },
  safe: { left: 0.06, top: 0.12, right: 0.16, bottom: 0.2 },
  captions: 'burned in',
};
