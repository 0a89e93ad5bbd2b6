import type { PlatformFormat } from '../platform';

export const story: PlatformFormat = {
  id: 'story',
  name: 'Story in parts',
  platform: 'Gustly',
  files: ['mp4'],
  sizes: [
    { width: 1080, height: 1920 },
    { width: 720, height: 1280 },
  ],
  longest: null,
  rates: { least: 23.9, most: 30 },
  length: { least: 1, most: 150 },
  part: 15,
  bytes: 60_000_000,
  codecs: { picture: ['h264'], sound: ['aac'] },
  bitrate: 10_000_000,
  loudness: { target: -14, within: 2, peak: -1 },
  safe: { left: 0.06, top: 0.14, right: 0.06, bottom: 0.18 },
  captions: 'burned in',
};
