/** What one platform lets in, checked by itself on the file that arrived. Sizes in bytes, lengths in seconds. */
export interface Rules {
  name: string;
  /** What is posted there, in a few words. */
  about: string;
  /** Width by height of what it shows. */
  shapes: readonly (readonly [number, number])[];
  leastWidth: number;
  length: { least: number; most: number };
  bytes: number;
  codecs: readonly string[];
  title: number;
}

/** Three made-up platforms. */
export const PLATFORMS = {
  gustly: {
    name: 'Gustly',
    about: 'Vertical shorts of up to a minute',
    shapes: [[9, 16]],
    leastWidth: 540,
    length: { least: 3, most: 60.1 },
    bytes: 250_000_000,
    codecs: ['h264', 'hevc'],
    title: 100,
  },
  corkwall: {
    name: 'Corkwall',
    about: 'Portrait and square posts of up to three minutes',
    shapes: [
      [4, 5],
      [1, 1],
    ],
    leastWidth: 600,
    length: { least: 3, most: 180.1 },
    bytes: 300_000_000,
    codecs: ['h264'],
    title: 80,
  },
  longmeadow: {
    name: 'Longmeadow',
    about: 'Landscape videos of any length',
    shapes: [[16, 9]],
    leastWidth: 960,
    length: { least: 1, most: 43_200 },
    bytes: 128_000_000_000,
    codecs: ['h264', 'hevc', 'vp9', 'av1'],
    title: 120,
  },
} as const satisfies Record<string, Rules>;
export type PlatformId = keyof typeof PLATFORMS;
export const isPlatform = (id: string): id is PlatformId => Object.hasOwn(PLATFORMS, id);
