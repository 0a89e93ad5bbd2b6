import type { PlatformFormat } from '../platform';

export const sound: PlatformFormat = {
  id: 'sound-only',
  name: 'Sound only',
  platform: '',
  files: ['mp3', 'm4a', 'opus', 'flac', 'wav'],
  sizes: [],
  longest: null,
  rates: { least: 1, most: 120 },
  length: { least: 0, most: null },
  part: null,
  bytes: null,
  codecs: { picture: [], sound: ['mp3', 'aac', 'opus', 'flac', 'wav'] },
  bitrate: null,
  loudness: { target: -16, within: 2, peak: -1 },
  safe: { left: 0, top: 0, right: 0, bottom: 0 },
  captions: 'none',
};
