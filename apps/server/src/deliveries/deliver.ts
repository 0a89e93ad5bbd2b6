import { availableParallelism } from 'node:os';
import { copyFile, mkdtemp, rm, stat } from 'node:fs/promises';
import PQueue from 'p-queue';
import path from 'node:path';
import type { DeliveryCheck } from '@flimzy/contract';
import { planSegments, segmentKey, type DeliverySettings, type Segment } from '@flimzy/core/deliver';
import { isFile, itemsOf, nestsWithin, pieceLength, type Piece } from '@flimzy/core/piece';
import { frameLength, toSeconds } from '@flimzy/core/time';
import { whole } from '../files/whole';
import { ProblemError } from '../http/problem';
import type { DataFolder } from '../media/folders';
import type { MediaRow, MediaStore } from '../media/store';
import type { SegmentCache } from './cache';
import { segmentEncoding } from './encoding';
import { join, remake } from './joining';
import { pictureFile } from './pictures';
import { renderApart } from './rendering';
import { renderSegment } from './segment';
import { sent, type Sent } from './sent';
import { makeSound } from './sounding';
import { verify } from './verify';

/** Segments rendered at the same time: one on each core. */
export const AT_ONCE = Math.max(2, availableParallelism());

/** Threads of each encoder when so many segments are to be rendered; 0: as many as there are cores. */
export const threadsFor = (segments: number): number => (segments < AT_ONCE ? 0 : 1);

/** How much of the work is rendering segments; the rest, where they are encoded once more, is that. */
const RENDERING = { joined: 0.95, remade: 0.6 };

export interface DeliverWork {
  piece: Piece;
  settings: DeliverySettings;
  target: string;
  signal: AbortSignal;
  onPlan: (segments: number, kept: number) => Promise<void>;
  /** 0 to 1, and the share that had to be rendered. */
  onProgress: (progress: number) => void;
}

/** A finished delivery: bytes of its file, and what was looked at in it. */
export interface Delivered {
  size: number;
  checks: DeliveryCheck[];
}

/** Every media item that the piece shows or plays, in nests too. @throws ProblemError when one is not there any more. */
export async function usedMedia(store: MediaStore, piece: Piece): Promise<Map<string, MediaRow>> {
  const rows = new Map<string, MediaRow>();
  const timelines = [piece, ...[...nestsWithin(piece, piece)].flatMap((id) => piece.nests?.[id] ?? [])];
  const clips = timelines.flatMap((timeline) => timeline.tracks.flatMap((track) => track.clips));
  for (const { clip, item } of clips.flatMap((one) => itemsOf(one).map((id) => ({ clip: one, item: id })))) {
    const media = piece.media[item];
    if (rows.has(item) || (media && !isFile(media))) continue;
    const row = await store.row(item).catch(() => null);
    if (!row || !store.isUsable(row))
      throw new ProblemError('not-ready', `“${clip.name}” is not ready: its media item is still being prepared, or could not be read.`);
    rows.set(item, row);
  }
  return rows;
}

/** Whether one ffmpeg makes a segment alone: nothing of it is worked out here. */
const isPlainWork = ({ way }: Segment) => way === 'black' || way === 'straight';

/** Renders a segment that one ffmpeg makes alone. */
const renderHere: typeof renderApart = ({ files, ...work }) =>
  renderSegment({ ...work, fileOf: (id) => files[id] as ReturnType<typeof pictureFile> });

/** Renders a segment from the originals: what the compositor draws in a process of its own. */
export function renderOne(
  folder: DataFolder,
  rows: ReadonlyMap<string, MediaRow>,
  work: Omit<Parameters<typeof renderApart>[0], 'files'>,
): Promise<void> {
  const { segment } = work;
  const used = segment.pictures.map((one) => one.picture.media);
  const files = Object.fromEntries(used.map((id) => [id, pictureFile(folder, rows.get(id) as MediaRow, 'original')]));
  return (isPlainWork(segment) ? renderHere : renderApart)({ ...work, files });
}

/** The segments of what is sent, and the files they are kept in. */
export function planned(
  { piece, parts, part }: Sent,
  cache: SegmentCache,
  rows: ReadonlyMap<string, MediaRow>,
  options: readonly string[],
) {
  const frame = frameLength(piece.format.rate);
  const cuts = parts.slice(1).map(({ from }) => from);
  const [first, end] = [part.from / frame, part.to / frame];
  // As long as what is sent was found to be, also where its captions, which go beside it, end later than its pictures.
  const segments = planSegments(piece, parts.at(-1)?.to ?? 0, cuts).filter(({ start }) => start >= first && start < end);
  const content = (id: string) => rows.get(id)?.sha256 ?? id;
  return { segments, files: segments.map((segment) => cache.fileFor(segmentKey(piece, segment, content, options.join(' ')))) };
}

/** Makes the file of a delivery: segments that are not there yet, the sound, and all of it joined; then looks whether it is what it should be. */
export async function deliver(store: MediaStore, folder: DataFolder, cache: SegmentCache, work: DeliverWork): Promise<Delivered> {
  const { settings, target } = work;
  if (pieceLength(work.piece) === 0) throw new ProblemError('bad-request', 'The piece is empty: add a clip first.');
  const rows = await usedMedia(store, work.piece);
  const what = sent(work.piece, settings);
  const { piece, part } = what;
  const { options, remade } = segmentEncoding(settings, piece.format.rate);
  const { segments, files } = settings.size ? planned(what, cache, rows, options) : { segments: [], files: [] };
  const missing = new Map<string, Segment>();
  for (const [i, file] of files.entries()) if (!(await cache.has(file))) missing.set(file, segments[i] as Segment);
  await work.onPlan(segments.length, segments.length - missing.size);

  const total = [...missing.values()].reduce((n, segment) => n + segment.frames, 0);
  const share = remade ? RENDERING.remade : RENDERING.joined;
  const done = new Map<string, number>();
  const report = () => work.onProgress(total === 0 ? share : share * ([...done.values()].reduce((a, b) => a + b, 0) / total));
  report();

  const stop = new AbortController();
  const signal = AbortSignal.any([work.signal, stop.signal]);
  const scratch = await mkdtemp(path.join(folder.deliveries(), 'work-'));
  const queue = new PQueue({ concurrency: AT_ONCE });
  let sound: Promise<string | null> | null = null;
  try {
    const render = async ([file, segment]: [string, Segment]) => {
      signal.throwIfAborted();
      const onFrames = (frames: number) => {
        done.set(file, frames);
        report();
      };
      await renderOne(folder, rows, {
        piece,
        segment,
        encoding: options,
        target: file,
        threads: threadsFor(missing.size),
        signal,
        onFrames,
      });
      onFrames(segment.frames);
    };
    const picture = queue.addAll([...missing].map((one) => () => render(one)));
    sound = makeSound({ folder, piece, rows, part, settings, scratch, signal });
    const [heard] = await Promise.all([sound, picture]);
    const joined = { segments, files, rate: piece.format.rate, settings, sound: heard, scratch, signal };
    const seconds = toSeconds(part.to - part.from);
    const checks = await whole(target, async (unfinished) => {
      if (!settings.size) await copyFile(heard ?? '', unfinished);
      else if (remade) await remake(joined, unfinished, seconds, (now) => work.onProgress(share + (0.95 - share) * Math.min(1, now)));
      else await join(joined, unfinished);
      return verify(unfinished, { settings, length: part.to - part.from, rate: piece.format.rate, signal });
    });
    return { size: (await stat(target)).size, checks };
  } catch (error) {
    stop.abort();
    throw work.signal.aborted ? work.signal.reason : error;
  } finally {
    await Promise.allSettled([queue.onIdle(), sound]); // until nobody writes to the folder any more
    await rm(scratch, { recursive: true, force: true });
  }
}
