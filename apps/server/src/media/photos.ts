import { mkdtemp, open, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { PHOTO_PROXY_SIDE } from '@flimzy/core/frame';
import { z } from 'zod';
import { whole } from '../files/whole';
import { ProblemError } from '../http/problem';
import { fileInput } from './filters';
import type { DataFolder } from './folders';
import { ffmpeg, ProgramMissing, run } from './run';

/** What the process is asked: how many pictures there are, to make a still of the first, or to write all of them out. */
export type PhotoTask =
  | { to: 'count'; file: string }
  | { to: 'still'; file: string; folder: string; upright: boolean; drawing: boolean; proxySide: number }
  | { to: 'frames'; file: string; folder: string; pages: number };

const Counted = z.object({
  pages: z.number(),
  /** How long each is shown, in ms. */
  delay: z.array(z.number()),
  width: z.number(),
  height: z.number(),
});
const Written = z.object({
  /** Whether something shines through any of the pictures. */
  alpha: z.boolean(),
});
const Still = z.object({
  /** As seen, turned as its metadata says. */
  width: z.number(),
  height: z.number(),
  /** Whether something shines through it. */
  alpha: z.boolean(),
  /** Ending of the files made: `png` with alpha, else `jpg`. */
  kind: z.enum(['jpg', 'png']),
});
export type Counted = z.infer<typeof Counted>;
export type Still = z.infer<typeof Still>;
export type PhotoReport = Counted | Still | z.infer<typeof Written>;

/** What the first bytes of a file say it is. */
export type Sniffed = 'picture' | 'drawing' | 'heic' | 'bmp' | 'other';

const HEIC_BRANDS = ['heic', 'heix', 'heim', 'heis', 'hevc', 'hevx', 'mif1', 'msf1'];
const PICTURE_STARTS = ['\xff\xd8\xff', '\x89PNG\r\n\x1a\n', 'GIF87a', 'GIF89a', 'II*\0', 'MM\0*'];

/**
 * An SVG file: its root element after nothing but what XML may begin with. A comment ends at its first end, so that there is one way alone to
 * read what comes before the root, however many there are.
 */
const DRAWING = /^(?:\xef\xbb\xbf)?\s*(?:<\?xml[^>]*>\s*|<!--(?:(?!-->)[\s\S])*-->\s*|<!DOCTYPE[^>[]*>\s*)*<svg[\s>]/;

/** Bytes of a file that are looked at to tell what it is. */
const HEAD = 4096;

/** Tells pictures from everything else by their first bytes; names tell nothing. */
export async function sniff(file: string): Promise<Sniffed> {
  const handle = await open(file, 'r');
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    const text = buffer.toString('latin1', 0, bytesRead);
    const head = text.slice(0, 32);
    const brand = head.slice(4, 8) === 'ftyp' ? head.slice(8, 12) : '';
    if (HEIC_BRANDS.includes(brand)) return 'heic';
    if (brand === 'avif' || brand === 'avis' || (head.startsWith('RIFF') && head.slice(8, 12) === 'WEBP')) return 'picture';
    if (head.startsWith('BM')) return 'bmp';
    if (DRAWING.test(text)) return 'drawing';
    return PICTURE_STARTS.some((start) => head.startsWith(start)) ? 'picture' : 'other';
  } finally {
    await handle.close();
  }
}

const PROCESS = fileURLToPath(new URL('./photo.process.mjs', import.meta.url));

async function ask<S extends z.ZodType>(answer: S, task: PhotoTask, signal?: AbortSignal): Promise<z.output<S>> {
  return answer.parse(JSON.parse((await run(process.execPath, [PROCESS, JSON.stringify(task)], { signal })).toString()));
}

/** How many pictures a file of pictures holds. @throws ProgramFailed when it cannot be read */
export const countPictures = (file: string, signal?: AbortSignal): Promise<Counted> => ask(Counted, { to: 'count', file }, signal);

/** A folder for what is only needed on the way; gone when the work is over. */
async function inScratch<T>(folder: DataFolder, id: string, work: (scratch: string) => Promise<T>): Promise<T> {
  const scratch = await mkdtemp(path.join(folder.medium(id), 'work-'));
  try {
    return await work(scratch);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

/**
 * Makes the two pictures of a photo: the one that exports are drawn from, and the proxy.
 * @throws ProgramFailed when it cannot be read, ProblemError when what reads it is not installed
 */
export function makeStill(folder: DataFolder, id: string, kind: Sniffed, signal?: AbortSignal): Promise<Still> {
  return inScratch(folder, id, async (scratch) => {
    const original = folder.file(id, 'original');
    const decoded = path.join(scratch, 'decoded.png');
    const drawing = kind === 'drawing';
    // What was decoded already is upright: the file's own box turned it, and a camera's note in it must not turn it again.
    const upright = kind !== 'picture' && !drawing;
    if (kind === 'heic') await fromHeic(original, decoded, signal);
    // Anything else that the photo process does not read is a video of one frame, or of a kind that ffmpeg reads.
    else if (upright) await ffmpeg([...fileInput(original), '-frames:v', '1', '-f', 'image2', '-c:v', 'png', decoded], { signal });
    const made = await ask(
      Still,
      { to: 'still', file: upright ? decoded : original, folder: scratch, upright, drawing, proxySide: PHOTO_PROXY_SIDE },
      signal,
    );
    await whole(folder.file(id, `picture.${made.kind}`), (to) => rename(path.join(scratch, `picture.${made.kind}`), to));
    await whole(folder.file(id, `proxy.${made.kind}`), (to) => rename(path.join(scratch, `proxy.${made.kind}`), to));
    return made;
  });
}

/** A HEIC photo as PNG, by libheif's own tool, which knows its turns, tiles and colour profiles. */
async function fromHeic(file: string, target: string, signal?: AbortSignal): Promise<void> {
  await run('heif-convert', [file, target], { signal }).catch((error: unknown) => {
    if (!(error instanceof ProgramMissing)) throw error;
    const wanted = 'This server cannot read HEIC photos yet: install heif-convert (Debian: libheif-examples) on it, then try again.';
    throw new ProblemError('not-ready', wanted);
  });
}

/** Shortest time that a picture of a moving file is shown, as everyone who shows them does, in ms. */
const SHORTEST = 20;

/** What stands in for a moving file of pictures: small, or with what shines through. */
export type MovingName = 'moving.mp4' | 'moving.mov';

const MOVING: Record<MovingName, readonly string[]> = {
  'moving.mp4': [
    ...['-vf', 'scale=out_color_matrix=bt709:out_range=tv,format=yuv444p', '-colorspace', 'bt709'],
    ...['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '12', '-g', '15', '-bf', '0', '-f', 'mp4'],
  ],
  'moving.mov': ['-c:v', 'png', '-pix_fmt', 'rgba', '-f', 'mov'],
};

/**
 * Makes a video of a moving file of pictures, each shown as long as the file says: what stands in for the original from then on. Gives
 * its name, and how long it lasts, in seconds.
 */
export function makeMoving(
  folder: DataFolder,
  id: string,
  { pages, delay }: Counted,
  signal?: AbortSignal,
): Promise<{ name: MovingName; seconds: number }> {
  return inScratch(folder, id, async (scratch) => {
    const { alpha } = await ask(Written, { to: 'frames', file: folder.file(id, 'original'), folder: scratch, pages }, signal);
    const name = alpha ? 'moving.mov' : 'moving.mp4';
    const long = (n: number) => ((delay[n] ?? 0) < SHORTEST ? 100 : (delay[n] ?? 100)) / 1000;
    const lines = Array.from({ length: pages }, (_, n) => `file '${n}.png'\noption framerate 1000\nduration ${long(n)}`);
    const list = path.join(scratch, 'list.txt');
    await writeFile(list, `ffconcat version 1.0\n${lines.join('\n')}\n`);
    await whole(folder.file(id, name), (to) =>
      ffmpeg(
        [
          ...[
            '-f',
            'concat',
            '-safe',
            '0',
            '-i',
            list,
            '-fps_mode',
            'passthrough',
            '-enc_time_base',
            '1/1000',
            '-video_track_timescale',
            '1000',
          ],
          ...MOVING[name],
          to,
        ],
        { signal },
      ),
    );
    return { name, seconds: Array.from({ length: pages }, (_, n) => long(n)).reduce((a, b) => a + b, 0) };
  });
}
