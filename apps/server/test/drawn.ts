import { execFileSync } from 'node:child_process';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import type { MediaItem } from '@flimzy/contract';
import { frameStart } from '@flimzy/core/time';
import { greyOfRgba } from '../../../e2e/ssim';
import type { TestServer } from './running';

export const RATE = { num: 30, den: 1 };

export const bytesOf = async (response: Response) => Buffer.from(await response.arrayBuffer());

/** RGB of frames of any file ffmpeg reads, at a size, one after the other. */
export function rgb(file: string, width: number, height: number, frames: number | readonly number[] = 0): Buffer {
  const wanted = [frames].flat();
  const select = wanted.map((n) => `eq(n\\,${n})`).join('+');
  const vf = `select=${select},scale=${width}:${height}:flags=bicubic+accurate_rnd+full_chroma_int:in_color_matrix=bt709,format=rgb24`;
  return execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', file, '-vf', vf, '-fps_mode', 'passthrough', '-frames:v', String(wanted.length), '-f', 'rawvideo', 'pipe:1'],
    {
      maxBuffer: 1 << 28,
    },
  );
}

/** The brightness of a frame of RGB. */
export function greyOf(pixels: Buffer, { width, height }: { width: number; height: number }) {
  const rgba = Buffer.alloc(width * height * 4);
  for (let i = 0; i < rgba.length; i += 1) rgba[i] = i % 4 === 3 ? 255 : (pixels[(i >> 2) * 3 + (i % 4)] ?? 0);
  return greyOfRgba(rgba, width, height);
}

/** How far two pictures are apart: on the whole, and at each place, in levels. */
export function apart(one: Buffer, other: Buffer): { whole: number; each: number } {
  let [whole, each] = [0, 0];
  for (let i = 0; i < one.length; i += 1) {
    const off = one[i]! - other[i]!;
    whole += off;
    each += Math.abs(off);
  }
  return { whole: Math.abs(whole) / one.length, each: each / one.length };
}

/** The first frame of a piece of an item, maybe over another one, as the server draws it: the piece, and the colour at a place. */
export async function frameOf(
  server: TestServer,
  item: MediaItem,
  size: { width: number; height: number },
  from: 'proxy' | 'original',
  under?: MediaItem,
) {
  const piece = await server.newPiece({ ...size, rate: RATE });
  const add = (media: MediaItem, track: string | null) =>
    server.edit(piece.id, track === 'main' ? 0 : 1, [
      'add',
      { track, media: media.facts!, at: 0, from: 0, length: frameStart(5, RATE), backdrop: 'black' },
    ]);
  await add(under ?? item, 'main');
  if (under) await add(item, null);
  const png = await bytesOf(await server.fetch('pieceFrame', { id: piece.id }, { at: 0, width: size.width, from }));
  const image = await loadImage(png);
  const canvas = createCanvas(image.width, image.height);
  canvas.getContext('2d').drawImage(image, 0, 0);
  const { data } = canvas.getContext('2d').getImageData(0, 0, image.width, image.height);
  return { piece: piece.id, at: (x: number, y: number) => [...data.subarray((y * image.width + x) * 4, (y * image.width + x) * 4 + 3)] };
}
