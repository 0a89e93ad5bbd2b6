import { availableParallelism } from 'node:os';
import { mkdtemp, rm, stat, writeFile } from 'node:fs/promises';
import PQueue from 'p-queue';
import path from 'node:path';
import { planSegments, segmentKey, type Segment } from '@flimzy/core/deliver';
import { isFile, nestsWithin, pieceLength, type Piece } from '@flimzy/core/piece';
import { makesWay } from '@flimzy/core/sound';
import { frameLength, toSamples, toSeconds } from '@flimzy/core/time';
import { thread } from '../files/thread';
import { whole } from '../files/whole';
import { ProblemError } from '../http/problem';
import type { DataFolder } from '../media/folders';
import { hearingOf } from '../media/hearing';
import { ffmpeg } from '../media/run';
import type { MediaRow, MediaStore } from '../media/store';
import type { SegmentCache } from './cache';
import { SOUND_ENCODING, timescale, videoEncoding } from './encoding';
import type { MixdownTask } from './mixdown.worker';
import { pictureFile } from './pictures';
import { renderApart } from './rendering';
import { renderSegment } from './segment';

/** Segments rendered at the same time: one on each core. */
const AT_ONCE = Math.max(2, availableParallelism());

export interface DeliverWork {
  piece: Piece;
  target: string;
  signal: AbortSignal;
  onPlan: (segments: number, kept: number) => Promise<void>;
  /** 0 to 1, and the share that had to be rendered. */
  onProgress: (progress: number) => void;
}

/** Every media item that the piece shows or plays, in nests too. @throws ProblemError when one is not there any more. */
async function usedMedia(store: MediaStore, piece: Piece): Promise<Map<string, MediaRow>> {
  const rows = new Map<string, MediaRow>();
  const timelines = [piece, ...[...nestsWithin(piece, piece)].flatMap((id) => piece.nests?.[id] ?? [])];
  for (const clip of timelines.flatMap((timeline) => timeline.tracks.flatMap((track) => track.clips))) {
    const media = piece.media[clip.media];
    if (rows.has(clip.media) || (media && !isFile(media))) continue;
    const row = await store.row(clip.media).catch(() => null);
    if (row?.status !== 'ready')
      throw new ProblemError('not-ready', `“${clip.name}” is not ready: its media item is still being prepared, or could not be read.`);
    rows.set(clip.media, row);
  }
  return rows;
}

/** Renders a segment that one ffmpeg makes alone: nothing of it is done by this process. */
const renderHere: typeof renderApart = ({ files, ...work }) =>
  renderSegment({ ...work, fileOf: (id) => files[id] as ReturnType<typeof pictureFile> });

/** Makes the file of a delivery: segments that are not there yet, the sound, and all of it joined. */
export async function deliver(store: MediaStore, folder: DataFolder, cache: SegmentCache, work: DeliverWork): Promise<{ size: number }> {
  const { piece, target } = work;
  const length = pieceLength(piece);
  if (length === 0) throw new ProblemError('bad-request', 'The piece is empty: add a clip first.');
  const rows = await usedMedia(store, piece);
  const rowOf = (id: string) => rows.get(id) as MediaRow;
  const encoding = videoEncoding(piece.format).join(' ');
  const segments = planSegments(piece, length);
  const files = segments.map((segment) => cache.fileFor(segmentKey(piece, segment, (id) => rowOf(id).sha256 ?? id, encoding)));
  const missing = new Map<string, Segment>();
  for (const [i, file] of files.entries()) if (!(await cache.has(file))) missing.set(file, segments[i] as Segment);
  await work.onPlan(segments.length, segments.length - missing.size);

  const total = [...missing.values()].reduce((n, segment) => n + segment.frames, 0);
  const done = new Map<string, number>();
  const report = () => work.onProgress(total === 0 ? 0.95 : 0.95 * ([...done.values()].reduce((a, b) => a + b, 0) / total));
  report();

  const stop = new AbortController();
  const signal = AbortSignal.any([work.signal, stop.signal]);
  const scratch = await mkdtemp(path.join(folder.deliveries(), 'work-'));
  const queue = new PQueue({ concurrency: AT_ONCE });
  let sound: Promise<string> | null = null;
  try {
    const render = async ([file, segment]: [string, Segment]) => {
      signal.throwIfAborted();
      const onFrames = (frames: number) => {
        done.set(file, frames);
        report();
      };
      const used = segment.pictures.map((one) => one.picture.media);
      const sources = Object.fromEntries(used.map((id) => [id, pictureFile(folder, rowOf(id), 'original')]));
      const renderOne = segment.way === 'drawn' || segment.way === 'laid' ? renderApart : renderHere;
      await renderOne({ piece, segment, files: sources, target: file, threads: missing.size < AT_ONCE ? 0 : 1, signal, onFrames });
      onFrames(segment.frames);
    };
    const picture = queue.addAll([...missing].map((one) => () => render(one)));
    sound = makeSound(folder, piece, rows, toSamples(length), scratch, signal);
    await Promise.all([picture, sound]);
    return await join(piece, target, segments, files, await sound, scratch, signal);
  } catch (error) {
    stop.abort();
    throw work.signal.aborted ? work.signal.reason : error;
  } finally {
    await Promise.allSettled([queue.onIdle(), sound]); // until nobody writes to the folder any more
    await rm(scratch, { recursive: true, force: true });
  }
}

/** Joins segments and sound without encoding anything again. */
async function join(
  piece: Piece,
  target: string,
  segments: readonly Segment[],
  files: readonly string[],
  sound: string,
  scratch: string,
  signal: AbortSignal,
): Promise<{ size: number }> {
  // Each length is written to the microsecond so that the sum, not each one, is rounded: frames stay on their clock.
  const micro = (frames: number) => Math.round(toSeconds(frames * frameLength(piece.format.rate)) * 1e6);
  const lines = segments.map(
    (part, i) => `file '${files[i]?.replaceAll("'", "'\\''")}'\nduration ${micro(part.start + part.frames) - micro(part.start)}us`,
  );
  const list = path.join(scratch, 'segments.txt');
  await writeFile(list, `ffconcat version 1.0\n${lines.join('\n')}\n`);
  const inputs = ['-f', 'concat', '-safe', '0', '-i', list, '-i', sound, '-map', '0:v', '-map', '1:a'];
  const copied = ['-c', 'copy', '-video_track_timescale', String(timescale(piece.format)), '-movflags', '+faststart', '-f', 'mp4'];
  await whole(target, (unfinished) => ffmpeg([...inputs, ...copied, unfinished], { signal }));
  return { size: (await stat(target)).size };
}

/** Mixes and encodes the sound of a piece. */
async function makeSound(
  folder: DataFolder,
  piece: Piece,
  rows: Map<string, MediaRow>,
  samples: number,
  scratch: string,
  signal: AbortSignal,
): Promise<string> {
  const raw = path.join(scratch, 'mix.f32');
  const target = path.join(scratch, 'sound.m4a');
  const files = Object.fromEntries([...rows].filter(([, row]) => row.facts?.hasSound).map(([id]) => [id, folder.file(id, 'sound.pcm')]));
  const hearings: MixdownTask['hearings'] = {};
  if (makesWay(piece)) for (const id of Object.keys(files)) hearings[id] = await hearingOf(folder, id, signal);
  await thread<MixdownTask>('mixdown', { piece, samples, files, hearings, target: raw }, signal);
  await ffmpeg(['-f', 'f32le', '-ar', '48000', '-ac', '2', '-i', raw, ...SOUND_ENCODING, target], { signal });
  return target;
}
