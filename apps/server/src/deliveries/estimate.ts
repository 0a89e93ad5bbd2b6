import { mkdtemp, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import PQueue from 'p-queue';
import { flatSteps, plainBase, stepsOf, type DeliverySettings, type PartOfPiece, type Segment } from '@flimzy/core/deliver';
import type { Piece, PieceFormat } from '@flimzy/core/piece';
import { fromSeconds, frameLength, toSeconds, type Rate } from '@flimzy/core/time';
import type { DataFolder } from '../media/folders';
import { run } from '../media/run';
import type { MediaRow, MediaStore } from '../media/store';
import type { SegmentCache } from './cache';
import { AT_ONCE, planned, renderOne, threadsFor, usedMedia } from './deliver';
import { groupOf, segmentEncoding } from './encoding';
import { sent, type Sent } from './sent';
import { encodeAgain, givenTo, inARow, LEAST_BITRATE, TRIES, type Again } from './joining';
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

/** About how many bytes a file will have and how long it takes to be made, in seconds: once, and at most, where it is tried until it fits; null where there is nothing. */
export interface Estimated {
  bytes: number | null;
  seconds: number | null;
  most: number | null;
}

/** What takes alike long to render: made in the same way, of the same steps. */
function sortOf({ way, runs }: Segment, format: PieceFormat): string {
  const layers = runs[0]?.layers ?? [];
  const base = plainBase(layers);
  const steps = way === 'planes' ? flatSteps(stepsOf(layers, format) ?? []).map(({ kind }) => kind) : [];
  return [way, base?.behind?.kind ?? '', base && base.effects.length > 0 ? 'recoloured' : '', ...steps].join(' ');
}

/** Finds out what a file will take: what is kept is known, a few stretches of the rest are made, counted and timed. */
export async function estimate(
  store: MediaStore,
  folder: DataFolder,
  cache: SegmentCache,
  piece: Piece,
  settings: DeliverySettings,
  signal: AbortSignal,
): Promise<Estimated> {
  const { options, remade } = segmentEncoding(settings, piece.format.rate);
  const rows = await usedMedia(store, piece);
  const what = sent(piece, settings);
  const length = toSeconds(what.part.to - what.part.from);
  const scratch = await mkdtemp(path.join(folder.deliveries(), 'work-'));
  try {
    const sound = await soundTakes({ folder, piece: what.piece, rows, settings, scratch, signal }, what.part);
    if (!settings.size) return { bytes: Math.round(sound.bytes), seconds: sound.work + sound.after, most: null };
    const control = settings.picture?.control;
    const given = control && control.by !== 'quality' ? givenTo(control, sound.bytes, length) : null;
    const again = remade ? { settings, scratch, signal, bitrate: given && Math.max(LEAST_BITRATE, given.bitrate) } : null;
    const seen = await pictureTakes(folder, cache, rows, what, options, scratch, signal, again);
    const once = seen.once?.work ?? 0;
    const seconds = (seen.work + sound.work) / AT_ONCE + once + sound.after;
    return {
      bytes: Math.round(given?.bytes ?? sound.bytes + (seen.once ?? seen).bytes),
      seconds,
      most: given ? seconds + once * (TRIES - 1) : null,
    };
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

/** A stretch that is encoded once more to see what it takes: the first frames of a file. */
interface Stretch {
  file: string;
  frames: number;
}

/** How a picture is encoded once more; `bitrate` as `encodeAgain` takes it. */
type OnceMore = Again & { bitrate: number | null };

/** What it takes to encode `frames` of a picture once more, by some stretches of it in a row: the colours of a loop are chosen for all of it. */
async function againTakes(stretches: readonly Stretch[], frames: number, pieceRate: Rate, work: OnceMore): Promise<Takes> {
  const { rate, picture, file: kind } = work.settings;
  const seconds = (count: number) => toSeconds(count * frameLength(pieceRate));
  const parts = stretches.map((one) => ({ file: one.file, says: `outpoint ${seconds(one.frames).toFixed(6)}` }));
  const row = await inARow(parts, path.join(work.scratch, 'again.txt'));
  const encoded = async (length: number) => {
    const target = path.join(work.scratch, `again.${kind}`);
    const { seconds: took } = await timed(() => encodeAgain(['-t', length.toFixed(6), ...row], work, target, [], work.bitrate));
    return { bytes: (await stat(target)).size, took };
  };
  const count = (of: number) => Math.max(1, Math.round((seconds(of) * rate.num) / rate.den));
  const tried = stretches.reduce((sum, one) => sum + one.frames, 0);
  const whole = await encoded(seconds(tried));
  const first = await encoded((0.5 * rate.den) / rate.num);
  const others = Math.max(1, count(tried) - 1);
  const all = count(frames);
  const groups = picture ? Math.ceil(all / groupOf(rate)) : 1;
  return {
    bytes: groups * first.bytes + ((all - groups) * (whole.bytes - first.bytes)) / others,
    work: first.took + ((all - 1) * Math.max(0, whole.took - first.took)) / others,
  };
}

/** One of every sort. */
const oneOfEach = <T extends { sort: string }>(all: readonly T[]): T[] => [...new Map(all.map((one) => [one.sort, one])).values()];

/** Of segments of sorts, some evenly over them, and of every sort one. */
function chosenOf<T extends { sort: string }>(all: readonly T[]): T[] {
  const chosen = evenly(all);
  const left = oneOfEach(all).filter(({ sort }) => chosen.every((one) => one.sort !== sort));
  return [...chosen, ...left.slice(0, SAMPLES)];
}

/** Some of a list, evenly over it. */
const evenly = <T>(list: readonly T[]): T[] =>
  list.length <= SAMPLES
    ? [...list]
    : Array.from({ length: SAMPLES }, (_, n) => list[Math.floor(((n + 0.5) * list.length) / SAMPLES)] as T);

/**
 * What the picture takes, from a few stretches of it, made as many at a time as when all of it is.
 * @param again how all of it is encoded once more; null: it is not. What that takes is `once`
 */
async function pictureTakes(
  folder: DataFolder,
  cache: SegmentCache,
  rows: ReadonlyMap<string, MediaRow>,
  what: Sent,
  options: readonly string[],
  scratch: string,
  signal: AbortSignal,
  again: OnceMore | null,
): Promise<Takes & { once: Takes | null }> {
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
  const sorted = segments.map((segment) => ({ segment, sort: sortOf(segment, piece.format) }));
  const missing = sorted.filter((_, i) => sizes[i] === null);
  const group = groupOf(piece.format.rate);
  const chosen = chosenOf(missing);
  const queue = new PQueue({ concurrency: AT_ONCE });
  const make = ({ segment, sort }: (typeof missing)[number], frames: number, name: string) => {
    const head = headOf(segment, frames);
    const target = path.join(scratch, `${name}.mp4`);
    const work = { piece, segment: head, encoding: options, target, threads: threadsFor(missing.length), signal };
    const render = async () => {
      const { seconds } = await timed(() => renderOne(folder, rows, { ...work, onFrames: () => undefined }));
      return { segment, sort, frames: head.frames, seconds, target };
    };
    return queue.add(render, { throwOnTimeout: true });
  };
  const [made, single] = await Promise.all([
    Promise.all(chosen.map((one, n) => make(one, SAMPLE_FRAMES, `${n}`))),
    // What it takes to begin: one frame of each sort.
    Promise.all(oneOfEach(chosen).map((one, n) => make(one, 1, `first-${n}`))),
  ]);
  const samples = await Promise.all(
    made.map(async ({ segment, sort, frames, seconds, target }) => {
      const begin = Math.min(seconds, single.find((one) => one.sort === sort)?.seconds ?? 0);
      // Of what is encoded once more, the first form is only timed.
      const much = again ? { key: 0, other: 0 } : await muchOf(target, signal);
      return { segment, sort, begin, each: (seconds - begin) / Math.max(1, frames - 1), much };
    }),
  );
  const kept = segments.flatMap(({ start, frames }, i) =>
    sizes[i] === null ? [] : [{ start, file: files[i] ?? '', frames: Math.min(frames, SAMPLE_FRAMES) }],
  );
  const tried = made.map(({ target, frames, segment: { start } }) => ({ start, file: target, frames }));
  const stretches = [...tried, ...evenly(kept)].sort((one, other) => one.start - other.start);
  const frames = segments.reduce((sum, one) => sum + one.frames, 0);
  const once = again && (await againTakes(stretches, frames, piece.format.rate, again));
  const nearest = (to: (typeof sorted)[number]) => {
    const alike = samples.filter(({ sort }) => sort === to.sort);
    const off = ({ segment }: (typeof samples)[number]) => Math.abs(segment.start - to.segment.start);
    return (alike.length > 0 ? alike : samples).reduce((best, one) => (off(one) < off(best) ? one : best));
  };
  const takes = sorted.reduce<Takes>(
    ({ bytes, work }, one, i) => {
      const { segment } = one;
      const known = sizes[i];
      if (known !== null && known !== undefined) return { bytes: bytes + known, work };
      const { much, begin, each } = nearest(one);
      const groups = Math.ceil(segment.frames / group);
      return {
        bytes: bytes + groups * much.key + (segment.frames - groups) * much.other + segment.frames * OVERHEAD,
        work: work + begin + each * (segment.frames - 1),
      };
    },
    { bytes: 0, work: 0 },
  );
  return { ...takes, once };
}
