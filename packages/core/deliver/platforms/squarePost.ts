import type { PlatformFormat } from '../platform';

export const squarePost: PlatformFormat = {
  id: 'square-post',
  name: 'Square post',
  platform: 'Corkwall',
  files: ['mp4'],
  sizes: [
    { width: 1080, height: 1080 },
    { width: 720, height: 720 },
  ],
  longest: null,
  rates: { least: 23.9, most: 60 },
  length: { least: 3, most: 180 },
  part: null,
  bytes: 300_000_000,
  codecs: { picture: ['h264'], sound: ['aac'] },
  bitrate: 12_000_000,
  loudness: { target: -14, within: 2, peak: -1 },
  safe: { left: 0.05, top: 0.05, right: 0.05, bottom: 0.08 },
  captions: 'burned in',
};
