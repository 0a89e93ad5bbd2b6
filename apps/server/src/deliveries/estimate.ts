import { mkdtemp, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { DeliverySettings, PartOfPiece, Segment } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { fromSeconds, toSeconds } from '@flimzy/core/time';
import type { DataFolder } from '../media/folders';
import { run } from '../media/run';
import type { MediaRow, MediaStore } from '../media/store';
import type { SegmentCache } from './cache';
import { planned, renderOne, usedMedia } from './deliver';
import { groupOf, segmentEncoding } from './encoding';
import { sent, type Sent } from './sent';
import { makeSound, type SoundWork } from './sounding';

/** Stretches that are encoded to see how much they take, and how many frames of each. */
const SAMPLES = 5;
const SAMPLE_FRAMES = 36;

/** The first frames of a segment, as one of its own. */
function headOf(segment: Segment, most: number): Segment {
  const frames = Math.min(segment.frames, most);
  let left = frames;
  const runs = segment.runs.flatMap((run) => {
    const mine = Math.min(run.frames, left);
    left -= mine;
    return mine > 0 ? [{ ...run, frames: mine }] : [];
  });
  const pictures = segment.pictures
    .filter(({ first }) => first < frames)
    .map((picture) => ({ ...picture, frames: Math.min(picture.frames, frames - picture.first) }));
  return { ...segment, frames, runs, pictures };
}

/** Bytes of what begins a group of frames, and of every other frame on average. */
interface Much {
  key: number;
  other: number;
}

async function muchOf(file: string, signal: AbortSignal): Promise<Much> {
  const said = await run('ffprobe', ['-v', 'error', '-show_entries', 'packet=size,flags', '-of', 'csv=p=0', file], { signal });
  const packets = said
    .toString()
    .trim()
    .split('\n')
    .map((line) => line.split(','));
  const sizes = (key: boolean) => packets.filter(([, flags]) => flags?.startsWith('K') === key).map(([size]) => Number(size));
  const mean = (list: number[]) => (list.length === 0 ? 0 : list.reduce((a, b) => a + b, 0) / list.length);
  return { key: mean(sizes(true)), other: mean(sizes(false)) };
}

/** What a container adds to a frame or a packet of sound, in bytes. */
const OVERHEAD = 12;

/** The longest stretch of sound that is encoded to see how much it takes: 12 s. */
const HEARD = fromSeconds(12);

/** Bytes of the sound of a stretch of a piece, from what its middle takes. */
async function soundBytes(work: Omit<SoundWork, 'part'>, { from, to }: PartOfPiece): Promise<number> {
  if (!work.settings.sound || to <= from) return 0;
  const length = Math.min(HEARD, to - from);
  const begins = from + Math.floor((to - from - length) / 2);
  const file = await makeSound({ ...work, part: { from: begins, to: begins + length } });
  return file ? ((await stat(file)).size * (to - from)) / length : 0;
}

/**
 * About how many bytes a file will have: what is kept is known, a few stretches of the rest are encoded and counted. Null where that does not
 * tell: a loop, another rate.
 */
export async function estimate(
  store: MediaStore,
  folder: DataFolder,
  cache: SegmentCache,
  piece: Piece,
  settings: DeliverySettings,
  signal: AbortSignal,
): Promise<number | null> {
  const { size, picture } = settings;
  if (picture?.control.by === 'bytes') return picture.control.bytes;
  const { options, remade } = segmentEncoding(settings, piece.format.rate);
  if (size && remade && picture?.control.by !== 'bitrate') return null;
  const rows = await usedMedia(store, piece);
  const what = sent(piece, settings);
  const seconds = toSeconds(what.part.to - what.part.from);
  const scratch = await mkdtemp(path.join(folder.deliveries(), 'work-'));
  try {
    const sound = await soundBytes({ folder, piece: what.piece, rows, settings, scratch, signal }, what.part);
    if (!size) return Math.round(sound);
    if (picture?.control.by === 'bitrate') return Math.round(sound + (picture.control.bitrate * seconds) / 8);
    return Math.round(sound + (await pictureBytes(folder, cache, rows, what, options, scratch, signal)));
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

/** Bytes of the picture, from a few stretches of it. */
async function pictureBytes(
  folder: DataFolder,
  cache: SegmentCache,
  rows: ReadonlyMap<string, MediaRow>,
  what: Sent,
  options: readonly string[],
  scratch: string,
  signal: AbortSignal,
): Promise<number> {
  const { piece } = what;
  const { segments, files } = planned(what, cache, rows, options);
  const sizes = await Promise.all(
    files.map((file) =>
      stat(file).then(
        ({ size }) => size,
        () => null,
      ),
    ),
  );
  const missing = segments.filter((_, i) => sizes[i] === null);
  const group = groupOf(piece.format.rate);
  const chosen =
    missing.length <= SAMPLES
      ? missing
      : Array.from({ length: SAMPLES }, (_, n) => missing[Math.floor(((n + 0.5) * missing.length) / SAMPLES)] as Segment);
  const samples: { start: number; much: Much }[] = [];
  for (const [n, segment] of chosen.entries()) {
    const target = path.join(scratch, `${n}.mp4`);
    const work = { piece, segment: headOf(segment, SAMPLE_FRAMES), encoding: options, target, threads: 0, signal };
    await renderOne(folder, rows, { ...work, onFrames: () => undefined });
    samples.push({ start: segment.start, much: await muchOf(target, signal) });
  }
  const nearest = ({ start }: Segment) =>
    samples.reduce((best, one) => (Math.abs(one.start - start) < Math.abs(best.start - start) ? one : best)).much;
  return segments.reduce((sum, segment, i) => {
    const known = sizes[i];
    if (known !== null && known !== undefined) return sum + known;
    const { key, other } = nearest(segment);
    const groups = Math.ceil(segment.frames / group);
    return sum + groups * key + (segment.frames - groups) * other + segment.frames * OVERHEAD;
  }, 0);
}
