import { stat } from 'node:fs/promises';
import type { Filmstrip } from '@flimzy/contract';
import type { FrameTimes } from '@flimzy/core/frame';
import type { MediaFacts } from '@flimzy/core/piece';
import { formatSeconds, fromSamples, fromSeconds } from '@flimzy/core/time';
import { hashFile } from '../files/hash';
import { ProblemError } from '../http/problem';
import { firstPicture } from './filmstrip';
import type { DataFolder } from './folders';
import { readFrameTimes } from './frames';
import { countPictures, makeMoving, makeStill, sniff, type MovingName, type Sniffed } from './photos';
import { probe, type Probed } from './probe';
import { makeProxy, proxyName } from './proxy';
import { isDiskFull, ProgramFailed } from './run';
import type { SourceFacts } from './source';

/** What is found out about an item while its files are made. */
export interface Prepared {
  facts: Omit<MediaFacts, 'id' | 'name'>;
  source: SourceFacts;
  frames: FrameTimes | null;
  sha256: string;
  /** What a person should know about it: how much could be read, when that is not all. A sentence. */
  note: string | null;
}

export interface PrepareWork {
  folder: DataFolder;
  id: string;
  fileName: string;
  onStep: (step: 'reading' | 'proxy', progress: number) => void;
  /** What can be said and shown of a video at once, long before its proxy is made. */
  onFound?: (facts: Prepared['facts'], filmstrip: Filmstrip | null) => Promise<void>;
  signal?: AbortSignal | undefined;
}

/** A program that read the whole file and could make nothing of it; one that was stopped, or had no room, says nothing about the file. */
function madeNothingOf(error: unknown): boolean {
  return error instanceof ProgramFailed && error.code !== null && !isDiskFull(error);
}

const undecodable = (fileName: string, codec: string) =>
  new ProblemError(
    'unsupported-media',
    `“${fileName}” could not be decoded: it is damaged, or of a kind this server cannot read${codec ? ` (${codec})` : ''}.`,
  );

/**
 * Makes everything needed to use an item. @throws ProblemError `unsupported-media`, with a sentence, when the file was looked at whole
 * and is no media; any other error says nothing about the file.
 */
export async function prepare(work: PrepareWork): Promise<Prepared> {
  const { folder, id, fileName, onStep, signal } = work;
  const original = folder.file(id, 'original');
  onStep('reading', 0);
  if ((await stat(original)).size === 0) throw new ProblemError('unsupported-media', `“${fileName}” is empty: it has no bytes in it.`);
  const hashing = hashFile(original, signal);
  hashing.catch(() => undefined); // whoever waits for it hears of it
  const kind = await sniff(original);
  try {
    const made = kind === 'other' ? await moving(work, null) : await pictures(work, kind);
    return { ...made, sha256: await hashing };
  } catch (error) {
    if (madeNothingOf(error)) throw undecodable(fileName, '');
    throw error;
  }
}

type Made = Omit<Prepared, 'sha256'>;

/** A file of pictures: a photo, or a clip when there are several. */
async function pictures(work: PrepareWork, kind: Sniffed): Promise<Made> {
  const { folder, id, onStep, signal } = work;
  onStep('proxy', 0);
  if (kind === 'picture') {
    const counted = await countPictures(folder.file(id, 'original'), signal);
    if (counted.pages > 1 && counted.delay.length > 1) {
      const { name, seconds } = await makeMoving(folder, id, counted, signal);
      const made = await moving(work, name);
      // How long the last picture is shown no video file says.
      return { ...made, facts: { ...made.facts, length: fromSeconds(seconds) } };
    }
  }
  return photo(work, kind);
}

async function photo({ folder, id, onStep, signal }: PrepareWork, kind: Sniffed): Promise<Made> {
  onStep('proxy', 0);
  const { width, height, alpha, kind: ending } = await makeStill(folder, id, kind, signal);
  return {
    facts: { kind: 'photo', length: 0, width, height, rate: null, hasSound: false, ...(alpha ? { alpha } : {}) },
    source: {
      codedWidth: width,
      codedHeight: height,
      turn: 0,
      matrix: 'smpte170m',
      videoStream: 0,
      soundStream: null,
      interlaced: false,
      codec: kind,
      standIn: `picture.${ending}`,
    },
    frames: null,
    note: null,
  };
}

/** A video or a sound; `standIn` is read instead of the original. */
async function moving(work: PrepareWork, standIn: MovingName | null): Promise<Made> {
  const { folder, id, fileName, onStep, onFound, signal } = work;
  const from = folder.file(id, standIn ?? 'original');
  const probed = await probe(from, fileName, signal);
  if (standIn === 'moving.mov') {
    probed.facts.alpha = true;
    // Kept as RGB: what scales it goes by way of this, and back.
    probed.source.matrix = 'smpte170m';
  }
  if (onFound && probed.facts.kind === 'video')
    await onFound(probed.facts, await firstPicture(folder, id, probed.facts, from, probed.source, signal));
  onStep('proxy', 0);
  const made = await makeProxy({ folder, id, from, probed, signal, onProgress: (p) => onStep('proxy', p) }).catch((error: unknown) => {
    throw madeNothingOf(error) ? undecodable(fileName, probed.source.codec) : error;
  });
  const facts = { ...probed.facts };
  const source = { ...probed.source, ...(standIn ? { standIn } : {}) };
  if (facts.kind === 'sound') {
    facts.length = fromSamples(made.samples);
    if (facts.length <= 0) throw new ProblemError('unsupported-media', `“${fileName}” lasts no time at all.`);
    return { facts, source, frames: null, note: noteOf(probed, facts.length) };
  }
  const read = await readFrameTimes(folder.file(id, proxyName(facts)), probed.rate, signal);
  if (read.count !== made.pictures) throw new Error(`the proxy of ${id} holds ${read.count} frames of ${made.pictures} that were made`);
  if (read.count === 0 || !read.frames)
    throw new ProblemError('unsupported-media', `“${fileName}” has a picture track with no picture in it.`);
  if (read.count === 1 && !facts.hasSound && !standIn) return photo(work, 'other');
  facts.length = read.end;
  return { facts, source, frames: read.frames, note: noteOf(probed, read.end) };
}

/** What is to be known of an item of which so much could be read (flicks); null when there is nothing. */
const noteOf = ({ claimed, note }: Probed, read: number): string | null =>
  [shortfall(claimed, read), note].filter((one) => one !== null).join(' ') || null;

/** Says how much of a file could be read, when it is less than the file says it holds. Flicks. */
function shortfall(claimed: number | null, read: number): string | null {
  if (claimed === null || claimed - read < Math.max(fromSeconds(0.5), claimed * 0.02)) return null;
  return `Only ${formatSeconds(read)} of ${formatSeconds(claimed)} could be read: the rest of the file is missing or damaged.`;
}
