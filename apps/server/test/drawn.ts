import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import type { Delivery, MediaItem } from '@flimzy/contract';
import { asItIs } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { frameStart } from '@flimzy/core/time';
import { greyOfRgba } from '../../../e2e/ssim';
import type { TestServer } from './running';

export const RATE = { num: 30, den: 1 };

export const bytesOf = async (response: Response) => Buffer.from(await response.arrayBuffer());

/** RGB of a PNG. */
const rgbOf = (png: Buffer) => sharp(png).removeAlpha().raw().toBuffer();

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
  const rgba = Buffer.alloc(width * height * 4, 255);
  for (let i = 0; i < width * height; i += 1) for (let c = 0; c < 3; c += 1) rgba[i * 4 + c] = pixels[i * 3 + c]!;
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

/** RGB of frames of a piece, in the size of the piece. */
export interface SentAndDrawn {
  /** As they are in the file that is sent. */
  made(frame: number): Buffer;
  /** As the compositor draws them, from the originals. */
  drawn(frame: number): Promise<Buffer>;
}

/** Sends a piece as it is, with as good as nothing lost. @param folder where files go meanwhile @param seen the frames that are looked at, in order */
export async function sentAndDrawn(server: TestServer, piece: Piece, folder: string, seen: readonly number[]): Promise<SentAndDrawn> {
  const { width, height, rate } = piece.format;
  const settings = { ...asItIs(piece), picture: { codec: 'h264', control: { by: 'quality', quality: 100 } } };
  const { id } = await server.call<Delivery>('newDelivery', {}, {}, { piece: piece.id, settings });
  const delivery = await server.delivery(piece.id);
  expect(delivery.error).toBeNull();
  const file = path.join(folder, `${id}.mp4`);
  writeFileSync(file, await bytesOf(await server.fetch('deliveryFile', { id })));
  const all = rgb(file, width, height, seen);
  const bytes = width * height * 3;
  return {
    made: (frame) => all.subarray(seen.indexOf(frame) * bytes, (seen.indexOf(frame) + 1) * bytes),
    drawn: async (frame) => {
      const png = await server.fetch('pieceFrame', { id: piece.id }, { at: frameStart(frame, rate), width, from: 'original' });
      return rgbOf(await bytesOf(png));
    },
  };
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
  const data = await rgbOf(png);
  return { piece: piece.id, at: (x: number, y: number) => [...data.subarray((y * size.width + x) * 3, (y * size.width + x) * 3 + 3)] };
}
