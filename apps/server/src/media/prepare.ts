import { stat } from 'node:fs/promises';
import type { Filmstrip } from '@flimzy/contract';
import type { FrameTimes } from '@flimzy/core/frame';
import type { MediaFacts } from '@flimzy/core/piece';
import { formatSeconds, fromSamples, fromSeconds, type Flicks } from '@flimzy/core/time';
import { hashFile } from '../files/hash';
import { ProblemError } from '../http/problem';
import { firstPicture } from './filmstrip';
import type { DataFolder } from './folders';
import { readFrameTimes } from './frames';
import { countPictures, makeMoving, makeStill, sniff, type MovingName, type Sniffed } from './photos';
import { probe } from './probe';
import { makeProxy, makeSound, proxyName } from './proxy';
import { isDiskFull, ProgramFailed } from './run';
import type { SourceFacts } from './source';

/** What is found out about an item. */
export interface Prepared {
  facts: Omit<MediaFacts, 'id' | 'name'>;
  source: SourceFacts;
  frames: FrameTimes | null;
  /** What a person should know about it: how much could be read, when that is not all. A sentence. */
  note: string | null;
}

/** What is found out at first. */
export interface Begun extends Prepared {
  sha256: string;
  /** `whole`: all its files are made; `usable`: until they are, it can be used as it is; `waits`: it cannot. */
  state: 'whole' | 'usable' | 'waits';
}

export interface PrepareWork {
  folder: DataFolder;
  id: string;
  fileName: string;
  onStep: (step: 'reading' | 'proxy', progress: number) => void;
  signal?: AbortSignal | undefined;
}

/** What can be said and shown of a video at once. */
export type OnFound = (facts: Prepared['facts'], filmstrip: Filmstrip | null) => Promise<void>;

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
 * What is quick: looks at a file, and makes what a photo needs, or the decoded sound of what moves. @throws ProblemError
 * `unsupported-media`, with a sentence, when the file was looked at and is no media; any other error says nothing about the file.
 */
export async function begin(work: PrepareWork, onFound?: OnFound): Promise<Begun> {
  const { folder, id, fileName, onStep, signal } = work;
  const original = folder.file(id, 'original');
  onStep('reading', 0);
  if ((await stat(original)).size === 0) throw new ProblemError('unsupported-media', `“${fileName}” is empty: it has no bytes in it.`);
  const kind = await sniff(original);
  try {
    const found = kind === 'other' ? await moving(work, null, onFound) : await pictures(work, kind, onFound);
    return { ...found, sha256: await hashFile(original, signal) };
  } catch (error) {
    if (madeNothingOf(error)) throw undecodable(fileName, '');
    throw error;
  }
}

/**
 * What takes long: makes the proxy of what moves. @param begun what was found at first
 * @throws ProblemError `unsupported-media` when the file was looked at whole and is no media
 */
export async function finish(work: PrepareWork, begun: Pick<Prepared, 'facts' | 'source'>): Promise<Prepared> {
  const { folder, id, fileName, onStep, signal } = work;
  const { facts, source } = begun;
  const { standIn } = source;
  const from = folder.file(id, standIn ?? 'original');
  onStep('proxy', 0);
  const making = makeProxy({ folder, id, from, facts, source, signal, onProgress: (p) => onStep('proxy', p) });
  const pictures = await making.catch((error: unknown) => {
    throw madeNothingOf(error) ? undecodable(fileName, source.codec) : error;
  });
  if (!facts.rate) return { facts, source, frames: null, note: noteOf(source, facts.length) };
  const read = await readFrameTimes(folder.file(id, proxyName(facts)), facts.rate, signal);
  if (read.count !== pictures) throw new Error(`the proxy of ${id} holds ${read.count} frames of ${pictures} that were made`);
  if (read.count === 0 || !read.frames)
    throw new ProblemError('unsupported-media', `“${fileName}” has a picture track with no picture in it.`);
  if (read.count === 1 && !facts.hasSound && !standIn) return photo(work, 'other');
  // How long the last of some pictures is shown no video file made of them says.
  const length = standIn ? facts.length : read.end;
  return { facts: { ...facts, length }, source, frames: read.frames, note: noteOf(source, read.end) };
}

type Found = Omit<Begun, 'sha256'>;

/** A file of pictures: a photo, or a clip when there are several. */
async function pictures(work: PrepareWork, kind: Sniffed, onFound: OnFound | undefined): Promise<Found> {
  const { folder, id, onStep, signal } = work;
  onStep('proxy', 0);
  if (kind === 'picture') {
    const counted = await countPictures(folder.file(id, 'original'), signal);
    if (counted.pages > 1 && counted.delay.length > 1) {
      const { name, seconds } = await makeMoving(folder, id, counted, signal);
      const found = await moving(work, name, onFound);
      return { ...found, facts: { ...found.facts, length: fromSeconds(seconds) } };
    }
  }
  return { ...(await photo(work, kind)), state: 'whole' };
}

async function photo({ folder, id, onStep, signal }: PrepareWork, kind: Sniffed): Promise<Prepared> {
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

/** A video or a sound, as far as it can be used without a proxy; `standIn` is read instead of the original. */
async function moving(work: PrepareWork, standIn: MovingName | null, onFound: OnFound | undefined): Promise<Found> {
  const { folder, id, fileName, signal } = work;
  const from = folder.file(id, standIn ?? 'original');
  const probed = await probe(from, fileName, signal);
  const facts = { ...probed.facts, ...(standIn === 'moving.mov' ? { alpha: true as const } : {}) };
  // Kept as RGB: what scales it goes by way of this, and back.
  const source = { ...probed.source, ...(standIn ? { standIn } : {}), ...(facts.alpha ? { matrix: 'smpte170m' as const } : {}) };
  const first = facts.kind === 'video' ? await firstPicture(folder, id, facts, from, source, signal) : null;
  if (facts.kind === 'video') await onFound?.(facts, first);
  const found: Found = { facts, source, frames: null, note: source.coding ?? null, state: 'waits' };
  const heard = facts.hasSound ? makeSound({ folder, id, from, source, signal }) : Promise.resolve(0);
  if (facts.kind === 'sound') {
    facts.length = fromSamples(await heard);
    if (facts.length <= 0) throw new ProblemError('unsupported-media', `“${fileName}” lasts no time at all.`);
    return { ...found, note: noteOf(source, facts.length), state: 'usable' };
  }
  const [read] = await Promise.all([probed.asItIs && first && facts.rate ? readFrameTimes(from, facts.rate, signal) : null, heard]);
  if (!read?.frames || read.count < 2 || noteOf(source, read.end) !== null) return found;
  return { ...found, facts: { ...facts, length: read.end }, frames: read.frames, state: 'usable' };
}

/** What is to be known of an item of which so much could be read (flicks); null when there is nothing. */
const noteOf = ({ claimed, coding }: SourceFacts, read: Flicks): string | null =>
  [shortfall(claimed, read), coding].filter(Boolean).join(' ') || null;

/** Says how much of a file could be read, when it is less than the file says it holds. Flicks. */
function shortfall(claimed: Flicks | undefined, read: Flicks): string | null {
  if (claimed === undefined || claimed - read < Math.max(fromSeconds(0.5), claimed * 0.02)) return null;
  return `Only ${formatSeconds(read)} of ${formatSeconds(claimed)} could be read: the rest of the file is missing or damaged.`;
}
