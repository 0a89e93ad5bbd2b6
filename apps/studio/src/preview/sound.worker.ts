import '../api/registry';
import { Loudness } from '@flimzy/core/analyse';
import { pieceLength, type Piece } from '@flimzy/core/piece';
import { withinLevels } from '@flimzy/core/properties';
import { duckLines, mix, neededSound, peakOf, WAV_HEADER, type Stereo } from '@flimzy/core/sound';
import { SAMPLE_RATE, toSamples } from '@flimzy/core/time';
import { addressOf } from '../api/client';
import type { Measured } from '../open/engine';
import { Ahead, BLOCK, STEP, type Mixed } from './ahead';
import { fromBlocks } from './blocks';
import { Heard } from './heard';
import { CONTROL, CONTROL_INTS, RING_FRAMES, type SoundOrder, type SoundReport } from './messages';

/** Decoded sound comes in chunks of one second; so many are kept (384 kB each). */
const CHUNK = SAMPLE_RATE;
const CHUNKS_KEPT = 400;

/** How far ahead of the playhead is mixed, in sample frames: 1 s. */
const AHEAD = SAMPLE_RATE;

let origin = '';
let piece: Piece | null = null;
let control: Int32Array = new Int32Array(0);
let ring: Float32Array = new Float32Array(0);
let epoch = 0;
const chunks = new Map<string, Promise<Stereo> | Stereo>();

const report = (message: SoundReport) => self.postMessage(message);

/** Files of this device that stand in for what the server has not got yet: mono, as `wavHeader` says. */
const lent = new Map<string, Blob>();

async function readChunk(file: Blob, n: number): Promise<Stereo> {
  const first = WAV_HEADER + n * CHUNK * 4;
  const bytes = await file.slice(first, Math.min(first + CHUNK * 4, file.size)).arrayBuffer();
  const samples = new Float32Array(bytes, 0, bytes.byteLength >> 2);
  return { left: samples, right: samples };
}

async function fetchChunk(media: string, n: number): Promise<Stereo> {
  const file = lent.get(media);
  if (file) return readChunk(file, n);
  const response = await fetch(new URL(addressOf('mediaSound', { id: media }, { from: n * CHUNK, count: CHUNK }), origin));
  if (!response.ok) throw new Error('not there');
  const pcm = new Float32Array(await response.arrayBuffer());
  const count = pcm.length / 2;
  const sound: Stereo = { left: new Float32Array(count), right: new Float32Array(count) };
  for (let i = 0; i < count; i += 1) {
    sound.left[i] = pcm[i * 2] as number;
    sound.right[i] = pcm[i * 2 + 1] as number;
  }
  return sound;
}

/** Has a chunk fetched; silence stands in for one that cannot be. */
function want(media: string, n: number): Promise<Stereo> | Stereo {
  const key = `${media} ${n}`;
  const there = chunks.get(key);
  if (there) return there;
  const coming = fetchChunk(media, n).then(
    (sound) => {
      chunks.set(key, sound);
      return sound;
    },
    () => {
      chunks.delete(key);
      report({ type: 'trouble', sentence: 'Some sound could not be fetched; it plays as silence.' });
      return { left: new Float32Array(0), right: new Float32Array(0) };
    },
  );
  chunks.set(key, coming);
  for (const old of chunks.keys()) {
    if (chunks.size <= CHUNKS_KEPT) break;
    chunks.delete(old);
  }
  return coming;
}

/** Fetches all that sounds in [from, to). */
async function gather(doc: Piece, from: number, to: number): Promise<void> {
  const needed: Promise<Stereo>[] = [];
  for (const stretch of neededSound(doc, from, to))
    for (let n = Math.floor(stretch.from / CHUNK); n * CHUNK < stretch.to; n += 1) {
      const got = want(stretch.media, n);
      if (got instanceof Promise) needed.push(got);
    }
  await Promise.all(needed);
}

/** Decoded sound as far as it is there: what could not be fetched ends it, so that nothing is found out of silence that stands in for it. */
const read = (media: string, from: number, count: number): Stereo =>
  fromBlocks(CHUNK, from, from + count, (n) => {
    const chunk = chunks.get(`${media} ${n}`);
    return chunk && !(chunk instanceof Promise) ? chunk : null;
  });

/** When the piece is changed while it plays, what is mixed ahead is mixed again but for this much, which may be on its way out. Samples. */
const SPARE = 6_000;
let changed = false;
const heard = new Heard(() => (changed = true));

/** The clip whose own sound is measured. */
let watched: string | null = null;

/** The highest sample of every step of a block, which begins at sample `first` of what was mixed. */
function peaksOf({ left, right }: Stereo, first: number): number[] {
  return Array.from({ length: BLOCK / STEP }, (_, n) => {
    const [from, to] = [Math.max(0, first + n * STEP), Math.max(0, first + (n + 1) * STEP)];
    return peakOf({ left: left.subarray(from, to), right: right.subarray(from, to) });
  });
}

/** Mixes a block of a piece that begins at a sample. */
async function mixAt(doc: Piece, at: number): Promise<Mixed> {
  await Promise.all([gather(doc, at, at + BLOCK), heard.want(doc, origin)]);
  const tracks: Record<string, number[]> = {};
  const clip = new Array<number>(BLOCK / STEP).fill(0);
  let limited = 1;
  const sound = mix(doc, at, at + BLOCK, read, {
    lines: duckLines(doc, heard.reader),
    limited: (gain) => (limited = Math.min(limited, gain)),
    clip: (id, one, first) => {
      if (id === watched) peaksOf(one, at - first).forEach((peak, n) => (clip[n] = Math.max(clip[n] ?? 0, peak)));
    },
    track: (id, one, first) => (tracks[id] = peaksOf(one, at - first)),
  });
  return { sound, tracks, clip, limited };
}

/** Writes ahead of the playhead until another order comes. */
async function play(from: number, speed: number, mine: number): Promise<void> {
  let written = 0;
  let told = false;
  changed = false;
  const ahead = new Ahead(speed, (at) => mixAt(piece as Piece, at));
  const meter = new Loudness(); // what is mixed again, since the piece was changed, is counted again: up to a second
  while (piece && epoch === mine) {
    const played = Atomics.load(control, CONTROL.played);
    if (changed) {
      changed = false;
      ahead.forget();
      written = Math.min(written, played + SPARE);
      Atomics.store(control, CONTROL.written, written);
    }
    if (written - played >= AHEAD) {
      await new Promise((resolve) => setTimeout(resolve, 30));
      continue;
    }
    const mixed = await ahead.block(from, written, () => epoch === mine);
    if (!mixed || epoch !== mine) return;
    const { sound, tracks, clip } = mixed;
    for (let i = 0; i < BLOCK; i += 1) {
      const slot = ((written + i) % RING_FRAMES) * 2;
      ring[slot] = sound.left[i] as number;
      ring[slot + 1] = sound.right[i] as number;
    }
    meter.push(sound);
    const { momentary, shortTerm, integrated, peak } = meter;
    const loudness = { momentary, shortTerm, integrated, peak };
    report({ type: 'levels', epoch: mine, at: written, step: STEP, tracks, clip, limited: takenAway(mixed.limited), loudness });
    written += BLOCK;
    Atomics.store(control, CONTROL.written, written);
    if (!told && (written >= BLOCK * 2 || from + written * speed >= toSamples(pieceLength(piece)))) {
      told = true;
      report({ type: 'ready', epoch: mine });
    }
  }
}

/** What a gain takes away, in dB. */
const takenAway = (gain: number) => Math.max(0, -20 * Math.log10(Math.max(1e-6, gain)));

/** The piece that is measured now; another, or none, ends it. */
let measuring = 0;

/** Mixes all of a piece; null when another is measured meanwhile. */
async function mixWhole(doc: Piece, ticket: number, onShare: (share: number) => void): Promise<Measured | null> {
  const meter = new Loudness();
  const length = toSamples(pieceLength(doc));
  let least = 1;
  for (let at = 0; at < length; at += BLOCK) {
    const to = Math.min(length, at + BLOCK);
    await Promise.all([gather(doc, at, to), heard.want(doc, origin)]);
    await new Promise((resolve) => setTimeout(resolve, 0)); // what plays goes first
    if (measuring !== ticket) return null;
    meter.push(mix(doc, at, to, read, { lines: duckLines(doc, heard.reader), limited: (gain) => (least = Math.min(least, gain)) }));
    onShare(to / length);
  }
  return { integrated: meter.integrated, peak: meter.peak, limited: takenAway(least), level: doc.sound?.level ?? 0 };
}

/** Passes in which a level is looked for that brings a piece to a loudness: what the limiter takes away is only known afterwards. */
const PASSES = 4;

async function measure(doc: Piece, target: number | null, ticket: number): Promise<Measured | null> {
  measuring = ticket;
  const share = (pass: number) => (done: number) =>
    report({ type: 'measuring', ticket, share: target === null ? done : (pass + done) / PASSES });
  let figures = await mixWhole(doc, ticket, share(0));
  for (let pass = 1; target !== null && figures && pass < PASSES; pass += 1) {
    const off = target - figures.integrated;
    if (!Number.isFinite(off) || Math.abs(off) < 0.05) break;
    const level = Math.round(withinLevels(figures.level + off) * 100) / 100;
    if (level === figures.level) break;
    figures = await mixWhole({ ...doc, sound: { ...doc.sound, level } }, ticket, share(pass));
  }
  return figures;
}

self.onmessage = ({ data }: MessageEvent<SoundOrder>) => {
  switch (data.type) {
    case 'start':
      origin = data.origin;
      control = new Int32Array(data.shared, 0, CONTROL_INTS);
      ring = new Float32Array(data.shared, CONTROL_INTS * 4);
      break;
    case 'piece':
      piece = data.piece;
      void heard.want(piece, origin);
      changed = true;
      break;
    case 'watch':
      watched = data.clip;
      changed = true; // what was mixed ahead was not measured
      break;
    case 'lend':
      if (data.file) lent.set(data.media, data.file);
      else lent.delete(data.media);
      break;
    case 'play':
      epoch = data.epoch;
      void play(data.from, data.speed, data.epoch);
      break;
    case 'pause':
      epoch = -1;
      break;
    case 'measure':
      void measure(data.piece, data.target, data.ticket).then((figures) => report({ type: 'measured', ticket: data.ticket, figures }));
  }
};
