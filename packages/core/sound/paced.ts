import type { SoundSource } from './chain';
import { silence, type Stereo } from './stereo';

/** How a clip's sound goes through its material: so many times as fast, below 0 backwards; its pitch kept, or higher and lower with it. */
export interface SoundPace {
  speed: number;
  pitch: 'kept' | 'follows';
}

/** A sound's samples counted at its own pace: where a sample of the material comes to lie. */
export const atPace = ({ speed }: SoundPace, sample: number) => Math.round(sample / speed);

/**
 * A source of material as a source at another pace: sample n of it is what sounds n samples after the material's beginning would have
 * sounded (before it, going backwards). Depends on nothing but the material and the place, so that a range taken in two pieces is equal to
 * the same range taken whole, and halves of a clip sound as the whole did.
 *
 * @param known keeps what was found out of the material for whoever asks for the next range of it
 */
export function paced(source: SoundSource, pace: SoundPace, known?: Map<number, Int16Array>): SoundSource {
  const fast = Math.abs(pace.speed);
  const forwards = pace.speed < 0 ? backwards(source) : source;
  if (fast === 1) return (from, to) => exactly(forwards, from, to);
  return pace.pitch === 'kept' ? stretched(forwards, fast, known) : resampled(forwards, fast);
}

/** The samples of the material that decide [from, to) at a pace. */
export function paceReach({ speed, pitch }: SoundPace, from: number, to: number): [from: number, to: number] {
  const fast = Math.abs(speed);
  const [first, last] = fast === 1 ? [from, to] : pitch === 'kept' ? stretchReach(fast, from, to) : resampleReach(fast, from, to);
  return speed < 0 ? [-last, -first] : [first, last];
}

/** All the samples asked for: silence where a source has none. */
function exactly(source: SoundSource, from: number, to: number): Stereo {
  const sound = source(from, to);
  if (sound && sound.left.length === to - from) return sound;
  const out = silence(to - from);
  if (sound) {
    out.left.set(sound.left);
    out.right.set(sound.right);
  }
  return out;
}

/** The same sound from its end to its beginning: sample n of it is sample −1 − n. */
function backwards(source: SoundSource): SoundSource {
  return (from, to) => {
    const { left, right } = exactly(source, -to, -from);
    return { left: left.slice().reverse(), right: right.slice().reverse() };
  };
}

// Pitch and speed together: bandlimited interpolation (J. O. Smith, "Digital Audio Resampling", windowed sinc).

/** Zero crossings of the sinc on either side, and points of the table between two of them. */
const CROSSINGS = 16;
const FINE = 512;
const KAISER = 9;

/** The modified Bessel function of the first kind, of order 0. */
function bessel(x: number): number {
  let [sum, term] = [1, 1];
  for (let k = 1; term > sum * 1e-12; k += 1) sum += term *= (x / 2 / k) ** 2;
  return sum;
}

let table: Float64Array | null = null;

function sincTable(): Float64Array {
  if (table) return table;
  const made = new Float64Array(CROSSINGS * FINE + 2);
  for (let i = 0; i <= CROSSINGS * FINE; i += 1) {
    const u = i / FINE;
    const window = bessel(KAISER * Math.sqrt(Math.max(0, 1 - (u / CROSSINGS) ** 2))) / bessel(KAISER);
    made[i] = window * (u === 0 ? 1 : Math.sin(Math.PI * u) / (Math.PI * u));
  }
  return (table = made);
}

function resampleReach(fast: number, from: number, to: number): [number, number] {
  const reach = Math.ceil(CROSSINGS * Math.max(1, fast)) + 1;
  return [Math.floor(from * fast) - reach, Math.ceil(to * fast) + reach];
}

function resampled(source: SoundSource, fast: number): SoundSource {
  const weights = sincTable();
  const cut = Math.min(1, 1 / fast); // nothing above what the slower rate can hold
  const reach = CROSSINGS / cut;
  return (from, to) => {
    const [first, last] = resampleReach(fast, from, to);
    const { left, right } = exactly(source, first, last);
    const out = silence(to - from);
    for (let i = 0; i < to - from; i += 1) {
      const place = (from + i) * fast;
      const [begin, end] = [Math.ceil(place - reach), Math.floor(place + reach)];
      let [a, b] = [0, 0];
      for (let n = begin; n <= end; n += 1) {
        const at = Math.abs(n - place) * cut * FINE;
        const k = Math.floor(at);
        const low = weights[k] as number;
        const w = low + ((weights[k + 1] as number) - low) * (at - k);
        a += w * (left[n - first] as number);
        b += w * (right[n - first] as number);
      }
      out.left[i] = a * cut;
      out.right[i] = b * cut;
    }
    return out;
  };
}

// Speed alone: overlapping grains, each moved to where it continues the one before (W. Verhelst, M. Roelands, "An overlap-add technique
// based on waveform similarity", 1993). Here grains are counted from the material's beginning and every first of a row stays where it
// is, so that a place sounds the same from wherever one begins to listen.

/** Samples from one grain to the next (20 ms; a grain is two of them), and how far one is moved at most (12 ms). */
const HOP = 960;
const SEARCH = 576;
/** Grains of a row. */
const ROW = 50;
/** Samples taken as one where likeness is first looked for. */
const COARSE = 8;

/** Where a grain is taken from, if it is not moved: the middle of it keeps the pace. */
const placeOf = (grain: number, fast: number) => Math.round((grain + 1) * HOP * fast) - HOP;

const WINDOW = Float32Array.from({ length: HOP * 2 }, (_, i) => 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / HOP));

function stretchReach(fast: number, from: number, to: number): [number, number] {
  const [first, last] = [rowOf(Math.floor(from / HOP) - 1), rowOf(Math.floor((to - 1) / HOP))];
  return [placeOf(first * ROW, fast) - SEARCH, placeOf((last + 1) * ROW, fast) + 2 * HOP + SEARCH];
}

const rowOf = (grain: number) => Math.floor(grain / ROW);

function stretched(source: SoundSource, fast: number, known?: Map<number, Int16Array>): SoundSource {
  const rows = known ?? new Map<number, Int16Array>();
  return (from, to) => {
    const out = silence(to - from);
    const [first, last] = [Math.floor(from / HOP) - 1, Math.floor((to - 1) / HOP)];
    for (let row = rowOf(first); row <= rowOf(last); row += 1) {
      const moves = rows.get(row) ?? movesOf(source, fast, row, rows);
      for (let grain = Math.max(first, row * ROW); grain <= Math.min(last, row * ROW + ROW - 1); grain += 1) {
        const place = placeOf(grain, fast) + (moves[grain - row * ROW] as number);
        const begin = grain * HOP;
        const [a, b] = [Math.max(from, begin), Math.min(to, begin + 2 * HOP)];
        if (b <= a) continue;
        const { left, right } = exactly(source, place + a - begin, place + b - begin);
        for (let n = a; n < b; n += 1) {
          const w = WINDOW[n - begin] as number;
          out.left[n - from] = (out.left[n - from] as number) + w * (left[n - a] as number);
          out.right[n - from] = (out.right[n - from] as number) + w * (right[n - a] as number);
        }
      }
    }
    return out;
  };
}

/** How far each grain of a row is moved, in samples. Kept where the material for it was all there. */
function movesOf(source: SoundSource, fast: number, row: number, rows: Map<number, Int16Array>): Int16Array {
  const start = placeOf(row * ROW, fast) - SEARCH;
  const end = placeOf((row + 1) * ROW, fast) + 2 * HOP + SEARCH;
  const read = source(start, end);
  const { left, right } = exactly(() => read, start, end);
  const mono = left.map((one, i) => one + (right[i] as number));
  const rough = averaged(mono);
  const moves = new Int16Array(ROW);
  for (let k = 1; k < ROW; k += 1) {
    const grain = row * ROW + k;
    const goesOn = placeOf(grain - 1, fast) + (moves[k - 1] as number) + HOP - start;
    const wishes: [number, number][] = [[0, goesOn]];
    // The last of a row goes over into one that is not moved: it is to be like that one too.
    if (k === ROW - 1) wishes.push([HOP, placeOf(grain + 1, fast) - start]);
    moves[k] = bestMove(mono, rough, placeOf(grain, fast) - start, wishes);
  }
  if (read?.left.length === end - start) rows.set(row, moves);
  return moves;
}

function averaged(samples: Float32Array): Float32Array {
  const out = new Float32Array(Math.floor(samples.length / COARSE));
  for (let i = 0; i < out.length; i += 1) {
    let sum = 0;
    for (let k = 0; k < COARSE; k += 1) sum += samples[i * COARSE + k] as number;
    out[i] = sum;
  }
  return out;
}

/**
 * The move after which a grain is most like what it is laid over: roughly first, then to the sample.
 *
 * @param wishes where within the grain, and where in the samples what that part is to be like
 */
function bestMove(mono: Float32Array, rough: Float32Array, place: number, wishes: readonly [number, number][]): number {
  let [best, most] = [0, -Infinity];
  for (let move = -SEARCH; move <= SEARCH; move += COARSE) {
    let sum = 0;
    for (const [part, like] of wishes)
      sum += likeness(rough, Math.round((place + move + part) / COARSE), Math.round(like / COARSE), HOP / COARSE, 1);
    if (sum > most) [best, most] = [move, sum];
  }
  const middle = best;
  most = -Infinity;
  for (let move = Math.max(-SEARCH, middle - COARSE); move <= Math.min(SEARCH, middle + COARSE); move += 1) {
    let sum = 0;
    for (const [part, like] of wishes) sum += likeness(mono, place + move + part, like, HOP, 2);
    if (sum > most) [best, most] = [move, sum];
  }
  return best;
}

/** How alike two stretches are, whatever their loudness: −1 to 1; 0 where one is silent. */
function likeness(samples: Float32Array, a: number, b: number, count: number, step: number): number {
  let [both, one, other] = [0, 0, 0];
  for (let i = 0; i < count; i += step) {
    const [x, y] = [samples[a + i] ?? 0, samples[b + i] ?? 0];
    both += x * y;
    one += x * x;
    other += y * y;
  }
  return one > 0 && other > 0 ? both / Math.sqrt(one * other) : 0;
}
