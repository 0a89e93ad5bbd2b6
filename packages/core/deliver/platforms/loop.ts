import type { PlatformFormat } from '../platform';

export const loop: PlatformFormat = {
  id: 'silent-loop',
  name: 'Silent loop',
  platform: '',
  files: ['gif', 'webp', 'mp4'],
  sizes: [],
  longest: 480,
  rates: { least: 5, most: 25 },
  length: { least: 0.5, most: 12 },
  part: null,
  bytes: 15_000_000,
  codecs: { picture: ['h264'], sound: [] },
  bitrate: null,
  loudness: null,
  safe: { left: 0.04, top: 0.04, right: 0.04, bottom: 0.04 },
  captions: 'none',
};
