import '../api/registry';
import { Loudness } from '@flimzy/core/analyse';
import { pieceLength, type Piece } from '@flimzy/core/piece';
import { withinLevels } from '@flimzy/core/properties';
import { duckLines, mix, peakOf, silence, type Stereo } from '@flimzy/core/sound';
import { SAMPLE_RATE, toSamples } from '@flimzy/core/time';
import type { Loop, Measured } from '../open/engine';
import { Ahead, BLOCK, STEP, type Mixed } from './ahead';
import { Decoded } from './decoded';
import { Heard } from './heard';
import { CONTROL, CONTROL_INTS, RING_FRAMES, type SoundOrder, type SoundReport } from './messages';
import { stretches } from './rounds';

/** How far ahead of the playhead is mixed, in sample frames: 1 s. */
const AHEAD = SAMPLE_RATE;

let origin = '';
let piece: Piece | null = null;
let control: Int32Array = new Int32Array(0);
let ring: Float32Array = new Float32Array(0);
let epoch = 0;

const report = (message: SoundReport) => self.postMessage(message);

const decoded = new Decoded(
  () => origin,
  (sentence) => report({ type: 'trouble', sentence }),
);

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

const NO_STEPS: readonly number[] = new Array<number>(BLOCK / STEP).fill(0);
const louder = (steps: readonly number[], others: readonly number[]) => others.map((peak, n) => Math.max(steps[n] ?? 0, peak));

/** Mixes a block of what is played of a piece, which begins at a sample. */
async function mixAt(doc: Piece, begin: number, loop: Loop | null): Promise<Mixed> {
  const mixed: Mixed = { sound: silence(BLOCK), tracks: {}, clip: [...NO_STEPS], limited: 1 };
  const { sound, tracks } = mixed;
  let filled = 0;
  for (const { from, to } of stretches(begin, begin + BLOCK, loop)) {
    await Promise.all([decoded.gather(doc, from, to), heard.want(doc, origin)]);
    /** Where the block begins, in samples of this stretch. */
    const at = from - filled;
    const { left, right } = mix(doc, from, to, decoded.read, {
      lines: duckLines(doc, heard.reader),
      limited: (gain) => (mixed.limited = Math.min(mixed.limited, gain)),
      clip: (id, one, first) => {
        if (id === watched) mixed.clip = louder(mixed.clip, peaksOf(one, at - first));
      },
      track: (id, one, first) => (tracks[id] = louder(tracks[id] ?? NO_STEPS, peaksOf(one, at - first))),
    });
    sound.left.set(left, filled);
    sound.right.set(right, filled);
    filled += to - from;
  }
  return mixed;
}

/** Writes ahead of the playhead until another order comes. */
async function play(from: number, speed: number, loop: Loop | null, mine: number): Promise<void> {
  let written = 0;
  let told = false;
  changed = false;
  const ahead = new Ahead(speed, (at) => mixAt(piece as Piece, at, loop));
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
    await Promise.all([decoded.gather(doc, at, to), heard.want(doc, origin)]);
    await new Promise((resolve) => setTimeout(resolve, 0)); // what plays goes first
    if (measuring !== ticket) return null;
    meter.push(mix(doc, at, to, decoded.read, { lines: duckLines(doc, heard.reader), limited: (gain) => (least = Math.min(least, gain)) }));
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
      decoded.lend(data.media, data.file);
      break;
    case 'play':
      epoch = data.epoch;
      void play(data.from, data.speed, data.loop, data.epoch);
      break;
    case 'pause':
      epoch = -1;
      break;
    case 'measure':
      void measure(data.piece, data.target, data.ticket).then((figures) => report({ type: 'measured', ticket: data.ticket, figures }));
  }
};
