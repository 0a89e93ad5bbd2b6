import type { PlatformFormat } from '../platform';

export const portraitPost: PlatformFormat = {
  id: 'portrait-post',
  name: 'Portrait post',
  platform: 'Corkwall',
  files: ['mp4'],
  sizes: [
    { width: 1080, height: 1350 },
    { width: 720, height: 900 },
  ],
  longest: null,
  rates: { least: 23.9, most: 60 },
  length: { least: 3, most: 180 },
  part: null,
  bytes: 300_000_000,
  codecs: { picture: ['h264'], sound: ['aac'] },
  bitrate: 12_000_000,
  loudness: { target: -14, within: 2, peak: -1 },
  safe: { left: 0.06, top: 0.06, right: 0.06, bottom: 0.1 },
  captions: 'burned in',
};
