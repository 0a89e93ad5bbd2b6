import { readFile } from 'node:fs/promises';
import path from 'node:path';
import sharp, { type Sharp, type SharpOptions } from 'sharp';
import type { PhotoTask, PhotoReport } from './photos';

/** Longest side of the picture that exports are drawn from, in pixels. */
const PICTURE_SIDE = 6144;

/** Most pixels taken: 268 million, a little more than the largest photos of phones. */
const MOST_PIXELS = 2 ** 28;

// Only the kinds that are taken: no documents, nothing that reads another file. Drawings come from memory, where they have no place that
// another file could stand beside, and what draws them runs no scripts.
sharp.block({ operation: ['VipsForeignLoad'] });
sharp.unblock({ operation: ['VipsForeignLoadSvgBuffer', 'VipsForeignLoadPngBuffer'] });
sharp.unblock({ operation: ['Jpeg', 'Png', 'Webp', 'Tiff', 'Nsgif', 'Heif'].map((kind) => `VipsForeignLoad${kind}File`) });
sharp.cache(false);

const open = (file: string | Buffer, options: SharpOptions = {}) =>
  sharp(file, { limitInputPixels: MOST_PIXELS, failOn: 'none', ...options });

/** Longest side of the picture that is made of a drawing, in pixels, and the units of a drawing to the inch at its own size (CSS). */
const DRAWN_SIDE = 2048;
const UNITS = 72;

/** Longest time that a drawing may take, in seconds. */
const DRAWN_WITHIN = 60;

/** A drawing as pixels, as large as stickers ever are. */
async function drawn(file: string): Promise<Buffer> {
  const bytes = await readFile(file);
  const { width = 0, height = 0 } = await open(bytes).metadata();
  const density = Math.max(1, Math.min(100_000, (UNITS * DRAWN_SIDE) / Math.max(1, width, height)));
  return open(bytes, { density })
    .timeout({ seconds: DRAWN_WITHIN })
    .resize(DRAWN_SIDE, DRAWN_SIDE, { fit: 'inside' })
    .png({ compressionLevel: 1 })
    .toBuffer();
}

async function opaque(image: Sharp): Promise<boolean> {
  const { hasAlpha } = await image.metadata();
  return !hasAlpha || (await image.stats()).isOpaque;
}

/** Upright, in sRGB whatever its own colours were, and no larger than anything needs it. */
async function still({ file, folder, upright, drawing, proxySide }: Extract<PhotoTask, { to: 'still' }>): Promise<PhotoReport> {
  const from = drawing ? await drawn(file) : file;
  const image = open(from);
  const { width = 0, height = 0, autoOrient } = await image.metadata();
  const alpha = !(await opaque(open(from)));
  const kind = alpha ? 'png' : 'jpg';
  const encoded = (from: Sharp, quality: number) =>
    alpha ? from.png({ compressionLevel: 6 }) : from.jpeg({ quality, chromaSubsampling: quality > 90 ? '4:4:4' : '4:2:0' });
  const picture = path.join(folder, `picture.${kind}`);
  const shrunk = (from: Sharp, side: number) => from.resize(side, side, { fit: 'inside', withoutEnlargement: true });
  await encoded(shrunk(upright ? image : image.autoOrient(), PICTURE_SIDE).toColourspace('srgb'), 96).toFile(picture);
  await encoded(shrunk(open(picture), proxySide), 88).toFile(path.join(folder, `proxy.${kind}`));
  const size = upright ? { width, height } : { width: autoOrient.width, height: autoOrient.height };
  return { ...size, alpha, kind };
}

/** How many pictures a file holds, and how long each is shown, in ms. */
async function count(file: string): Promise<PhotoReport> {
  const { pages = 1, delay = [], width = 0, height = 0, pageHeight } = await open(file, { pages: -1 }).metadata();
  return { pages, delay, width, height: pageHeight ?? height };
}

/** Every picture of a moving file, one after the other and all of one kind, as `0.png`, `1.png` … */
async function frames({ file, folder, pages }: Extract<PhotoTask, { to: 'frames' }>): Promise<PhotoReport> {
  const { hasAlpha } = await open(file, { pages: -1 }).metadata();
  let alpha = false;
  for (let page = 0; page < pages; page += 1) {
    const picture = () => open(file, { page, pages: 1 });
    alpha ||= !(await opaque(picture()));
    await (hasAlpha ? picture().ensureAlpha() : picture())
      .toColourspace('srgb')
      .png({ compressionLevel: 1 })
      .toFile(path.join(folder, `${page}.png`));
  }
  return { alpha };
}

// Run by photos.ts for one file, in a process of its own: a decoder that a hostile file brings down takes nothing else along.
const task = JSON.parse(process.argv[2] ?? '{}') as PhotoTask;
try {
  const report = task.to === 'still' ? await still(task) : task.to === 'frames' ? await frames(task) : await count(task.file);
  process.stdout.write(JSON.stringify(report));
} catch (error) {
  process.stderr.write(error instanceof Error ? error.message : String(error));
  process.exitCode = 1;
}
