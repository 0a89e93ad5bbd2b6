import { mkdtemp, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import PQueue from 'p-queue';
import { plainBase, type DeliverySettings, type PartOfPiece, type Segment } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { fromSeconds, toSeconds } from '@flimzy/core/time';
import type { DataFolder } from '../media/folders';
import { run } from '../media/run';
import type { MediaRow, MediaStore } from '../media/store';
import type { SegmentCache } from './cache';
import { AT_ONCE, planned, renderOne, threadsFor, usedMedia } from './deliver';
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

/** What something takes: bytes of the file, and seconds of all cores together. */
interface Takes {
  bytes: number;
  work: number;
}

async function timed<T>(work: () => Promise<T>): Promise<{ result: T; seconds: number }> {
  const began = performance.now();
  const result = await work();
  return { result, seconds: (performance.now() - began) / 1000 };
}

/** What the sound of a stretch of a piece takes, by what its middle does: to be mixed and encoded, and to be listened to when it is done. */
async function soundTakes(work: Omit<SoundWork, 'part'>, { from, to }: PartOfPiece): Promise<Takes & { after: number }> {
  if (!work.settings.sound || to <= from) return { bytes: 0, work: 0, after: 0 };
  const length = Math.min(HEARD, to - from);
  const begins = from + Math.floor((to - from - length) / 2);
  const { result: file, seconds } = await timed(() => makeSound({ ...work, part: { from: begins, to: begins + length } }));
  if (!file) return { bytes: 0, work: 0, after: 0 };
  const listened = await timed(() =>
    run('ffmpeg', ['-v', 'error', '-nostdin', '-i', file, '-af', 'ebur128=peak=true', '-f', 'null', '-'], work),
  );
  const times = (to - from) / length;
  return { bytes: (await stat(file)).size * times, work: seconds * times, after: listened.seconds * times };
}

/** About how many bytes a file will have and how long it takes to be made, in seconds; null for what cannot be told before. */
export interface Estimated {
  bytes: number | null;
  seconds: number | null;
}

/** What takes alike long to render. */
function sortOf({ way, runs }: Segment): string {
  const base = plainBase(runs[0]?.layers ?? []);
  return [way, base?.behind?.kind ?? '', base && base.effects.length > 0 ? 'recoloured' : ''].join(' ');
}

/**
 * Finds out what a file will take: what is kept is known, a few stretches of the rest are made, counted and timed. Not told is how long it takes
 * to encode segments once more, and how large a loop, or another rate, gets.
 */
export async function estimate(
  store: MediaStore,
  folder: DataFolder,
  cache: SegmentCache,
  piece: Piece,
  settings: DeliverySettings,
  signal: AbortSignal,
): Promise<Estimated> {
  const { size, picture } = settings;
  if (picture?.control.by === 'bytes') return { bytes: picture.control.bytes, seconds: null };
  const { options, remade } = segmentEncoding(settings, piece.format.rate);
  if (size && remade && picture?.control.by !== 'bitrate') return { bytes: null, seconds: null };
  const rows = await usedMedia(store, piece);
  const what = sent(piece, settings);
  const length = toSeconds(what.part.to - what.part.from);
  const scratch = await mkdtemp(path.join(folder.deliveries(), 'work-'));
  try {
    const sound = await soundTakes({ folder, piece: what.piece, rows, settings, scratch, signal }, what.part);
    if (!size) return { bytes: Math.round(sound.bytes), seconds: sound.work + sound.after };
    if (picture?.control.by === 'bitrate')
      return { bytes: Math.round(sound.bytes + (picture.control.bitrate * length) / 8), seconds: null };
    const seen = await pictureTakes(folder, cache, rows, what, options, scratch, signal);
    return { bytes: Math.round(sound.bytes + seen.bytes), seconds: (seen.work + sound.work) / AT_ONCE + sound.after };
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

/** What the picture takes, from a few stretches of it, made as many at a time as when all of it is. */
async function pictureTakes(
  folder: DataFolder,
  cache: SegmentCache,
  rows: ReadonlyMap<string, MediaRow>,
  what: Sent,
  options: readonly string[],
  scratch: string,
  signal: AbortSignal,
): Promise<Takes> {
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
  const queue = new PQueue({ concurrency: AT_ONCE });
  const make = (segment: Segment, frames: number, name: string) => {
    const head = headOf(segment, frames);
    const target = path.join(scratch, `${name}.mp4`);
    const work = { piece, segment: head, encoding: options, target, threads: threadsFor(missing.length), signal };
    const render = async () => {
      const { seconds } = await timed(() => renderOne(folder, rows, { ...work, onFrames: () => undefined }));
      return { segment, frames: head.frames, seconds, target };
    };
    return queue.add(render, { throwOnTimeout: true });
  };
  const firstOfSort = chosen.filter((one, n) => chosen.findIndex((other) => sortOf(other) === sortOf(one)) === n);
  const [made, single] = await Promise.all([
    Promise.all(chosen.map((segment, n) => make(segment, SAMPLE_FRAMES, `${n}`))),
    // What it takes to begin: one frame of each sort.
    Promise.all(firstOfSort.map((segment) => make(segment, 1, `first-${sortOf(segment).replaceAll(' ', '-')}`))),
  ]);
  const samples = await Promise.all(
    made.map(async ({ segment, frames, seconds, target }) => {
      const begin = Math.min(seconds, single.find((one) => sortOf(one.segment) === sortOf(segment))?.seconds ?? 0);
      return { segment, begin, each: (seconds - begin) / Math.max(1, frames - 1), much: await muchOf(target, signal) };
    }),
  );
  const nearest = (to: Segment) => {
    const alike = samples.filter(({ segment }) => sortOf(segment) === sortOf(to));
    const off = ({ segment }: (typeof samples)[number]) => Math.abs(segment.start - to.start);
    return (alike.length > 0 ? alike : samples).reduce((best, one) => (off(one) < off(best) ? one : best));
  };
  return segments.reduce<Takes>(
    ({ bytes, work }, segment, i) => {
      const known = sizes[i];
      if (known !== null && known !== undefined) return { bytes: bytes + known, work };
      const { much, begin, each } = nearest(segment);
      const groups = Math.ceil(segment.frames / group);
      return {
        bytes: bytes + groups * much.key + (segment.frames - groups) * much.other + segment.frames * OVERHEAD,
        work: work + begin + each * (segment.frames - 1),
      };
    },
    { bytes: 0, work: 0 },
  );
}
