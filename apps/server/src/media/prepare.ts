import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { rename, rm, stat, writeFile } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import type { Filmstrip } from '@flimzy/contract';
import { coarser, PeakCollector, PEAK_BINS } from '@flimzy/core/analyse';
import type { FrameTimes } from '@flimzy/core/frame';
import type { MediaFacts } from '@flimzy/core/piece';
import { FLICKS_PER_SECOND, fromSamples, fromSeconds, toSeconds } from '@flimzy/core/time';
import { ProblemError } from '../http/problem';
import { BT709_TAGS, scaleTo, upright } from './filters';
import type { DataFolder } from './folders';
import { readFrameTimes } from './frames';
import { probe, type Probed, type SourceFacts } from './probe';
import { ffmpeg, ProgramFailed } from './run';

/** Short side of a proxy, and longest side of a photo's, in pixels. */
const PROXY_SIDE = 540;
const PHOTO_SIDE = 1920;

/** Frames from one key frame of a proxy to the next: short, so that any frame is quickly there. */
const PROXY_GOP = 15;

/** What is found out about an item while its files are made. */
export interface Prepared {
  facts: Omit<MediaFacts, 'id' | 'name'>;
  source: SourceFacts;
  frames: FrameTimes | null;
  sha256: string;
}

async function hashFile(file: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

/** Size with its short side at `side`, never larger than it was; even. */
export function proxySize(width: number, height: number, side = PROXY_SIDE): { width: number; height: number } {
  const scale = Math.min(1, side / Math.min(width, height));
  const even = (n: number) => Math.max(2, Math.round((n * scale) / 2) * 2);
  return { width: even(width), height: even(height) };
}

/** Makes the proxy and, where there is sound, the decoded sound, in one pass over the original. */
async function makeProxy(folder: DataFolder, id: string, { facts, source }: Probed, onProgress: (p: number) => void): Promise<void> {
  const original = folder.file(id, 'original');
  if (facts.kind === 'photo') {
    const long = Math.max(facts.width, facts.height);
    const { width, height } = proxySize(facts.width, facts.height, Math.min(facts.width, facts.height) * Math.min(1, PHOTO_SIDE / long));
    const scale = `scale=${width}:${height}:flags=lanczos:in_color_matrix=${source.matrix}:out_color_matrix=smpte170m:out_range=pc`;
    const target = folder.file(id, 'proxy.jpg');
    await ffmpeg([
      '-i',
      original,
      '-frames:v',
      '1',
      '-vf',
      [...upright(source), scale, 'format=yuvj420p'].join(','),
      '-q:v',
      '2',
      '-f',
      'mjpeg',
      `${target}.new`,
    ]);
    return rename(`${target}.new`, target);
  }
  const proxy = folder.file(id, 'proxy.mp4');
  const sound = folder.file(id, 'sound.f32');
  const args = ['-i', original];
  if (facts.kind === 'video') {
    const { width, height } = proxySize(facts.width, facts.height);
    args.push('-map', `0:${source.videoStream}`, '-vf', [...upright(source), scaleTo(source, width, height), 'format=yuv420p'].join(','));
    args.push(
      '-fps_mode',
      'passthrough',
      '-enc_time_base',
      '-1',
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-profile:v',
      'main',
      '-crf',
      '22',
    );
    args.push('-bf', '0', '-g', String(PROXY_GOP), ...BT709_TAGS);
  }
  const steady = 'aresample=48000:async=1:first_pts=0';
  if (facts.hasSound) args.push('-map', `0:${source.soundStream}`, '-af', steady, '-c:a', 'aac', '-b:a', '128k', '-ac', '2');
  args.push('-map_metadata', '-1', '-movflags', '+faststart', '-f', 'mp4', `${proxy}.new`);
  if (facts.hasSound) args.push('-map', `0:${source.soundStream}`, '-af', steady, '-ac', '2', '-f', 'f32le', `${sound}.new`);
  const seconds = Math.max(0.1, toSeconds(facts.length));
  await ffmpeg(args, { onProgress: (done) => onProgress(Math.min(1, done / seconds)) });
  await rename(`${proxy}.new`, proxy);
  if (facts.hasSound) await rename(`${sound}.new`, sound);
}

/** First half: everything needed to use the item. @throws ProblemError with a sentence about the file. */
export async function prepare(
  folder: DataFolder,
  id: string,
  fileName: string,
  onStep: (step: 'reading' | 'proxy', progress: number) => void,
): Promise<Prepared> {
  const original = folder.file(id, 'original');
  onStep('reading', 0);
  if ((await stat(original)).size === 0) throw new ProblemError('unsupported-media', `“${fileName}” is empty: it has no bytes in it.`);
  const probed = await probe(original, fileName);
  const hashing = hashFile(original);
  try {
    await makeProxy(folder, id, probed, (p) => onStep('proxy', p));
  } catch (error) {
    if (!(error instanceof ProgramFailed)) throw error;
    if (/No space left/i.test(error.said)) throw Object.assign(new Error(error.said), { code: 'ENOSPC' });
    throw new ProblemError(
      'unsupported-media',
      `“${fileName}” could not be decoded: it is damaged, or of a kind this server cannot read (${probed.source.codec}).`,
    );
  }
  const facts = { ...probed.facts };
  let frames: FrameTimes | null = null;
  if (facts.kind === 'video') {
    const read = await readFrameTimes(folder.file(id, 'proxy.mp4'), probed.rate).catch(() => null);
    if (!read || ('times' in read.frames ? read.frames.times.length === 0 : read.frames.count === 0))
      throw new ProblemError('unsupported-media', `“${fileName}” has a picture track with no picture in it.`);
    frames = read.frames;
    facts.length = read.end;
  }
  if (facts.kind === 'sound') facts.length = fromSamples((await stat(folder.file(id, 'sound.f32'))).size / 8);
  if (facts.kind !== 'photo' && facts.length <= 0) throw new ProblemError('unsupported-media', `“${fileName}” lasts no time at all.`);
  return { facts, source: probed.source, frames, sha256: await hashing };
}

/** Reads decoded sound from its file in turn, as mono. */
async function makePeaks(folder: DataFolder, id: string): Promise<void> {
  const collector = new PeakCollector(PEAK_BINS[0]);
  let rest = Buffer.alloc(0);
  for await (const chunk of createReadStream(folder.file(id, 'sound.f32'), { highWaterMark: 1 << 20 })) {
    const bytes = Buffer.concat([rest, chunk as Buffer]);
    const count = Math.floor(bytes.length / 8);
    const mono = new Float32Array(count);
    for (let i = 0; i < count; i += 1) mono[i] = (bytes.readFloatLE(i * 8) + bytes.readFloatLE(i * 8 + 4)) / 2;
    rest = bytes.subarray(count * 8);
    collector.push(mono);
  }
  let peaks = collector.finish();
  for (const bin of PEAK_BINS) {
    if (bin !== peaks.bin) peaks = coarser(peaks, bin / peaks.bin);
    const target = folder.file(id, `peaks-${bin}`);
    await writeFile(`${target}.new`, peaks.data);
    await rename(`${target}.new`, target);
  }
}

const STRIP_SIDE = 90;
const STRIP_MOST = 240;
const STRIP_COLUMNS = 12;

async function makeFilmstrip(folder: DataFolder, id: string, facts: Prepared['facts']): Promise<Filmstrip> {
  const { width, height } = proxySize(facts.width, facts.height, STRIP_SIDE);
  const target = folder.file(id, 'filmstrip.jpg');
  if (facts.kind === 'photo') {
    await ffmpeg([
      '-i',
      folder.file(id, 'proxy.jpg'),
      '-frames:v',
      '1',
      '-vf',
      `scale=${width}:${height}`,
      '-q:v',
      '3',
      '-f',
      'mjpeg',
      `${target}.new`,
    ]);
    await rename(`${target}.new`, target);
    return { columns: 1, count: 1, width, height, step: FLICKS_PER_SECOND };
  }
  const seconds = toSeconds(facts.length);
  const step = Math.max(0.25, Math.ceil((seconds / STRIP_MOST) * 4) / 4);
  const count = Math.max(1, Math.ceil(seconds / step));
  const columns = Math.min(STRIP_COLUMNS, count);
  const filters = [
    `fps=${1 / step}:round=up:start_time=0`,
    `scale=${width}:${height}`,
    'tpad=stop=-1:stop_mode=clone',
    `trim=end_frame=${count}`,
  ];
  filters.push(`tile=${columns}x${Math.ceil(count / columns)}`);
  await ffmpeg([
    '-i',
    folder.file(id, 'proxy.mp4'),
    '-an',
    '-vf',
    filters.join(','),
    '-frames:v',
    '1',
    '-q:v',
    '4',
    '-f',
    'mjpeg',
    `${target}.new`,
  ]);
  await rename(`${target}.new`, target);
  return { columns, count, width, height, step: fromSeconds(step) };
}

/** Second half: what makes the item easy to look at; the item can be used meanwhile. */
export async function embellish(folder: DataFolder, id: string, facts: Prepared['facts']): Promise<{ filmstrip: Filmstrip | null }> {
  if (facts.hasSound) await makePeaks(folder, id);
  return { filmstrip: facts.kind === 'sound' ? null : await makeFilmstrip(folder, id, facts) };
}

/** Removes everything of an item whose file turned out to be unusable. */
export async function discard(folder: DataFolder, id: string): Promise<void> {
  await rm(folder.medium(id), { recursive: true, force: true });
}
