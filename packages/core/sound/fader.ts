import { timelineAt } from '../piece';
import { FLICKS_PER_SAMPLE, type Flicks } from '../time';
import { FADES, valueOf } from '../properties';
import type { Processor } from './chain';
import { duckAt, type DuckPoint } from './ducking';
import { gainCurve } from './gain';
import type { Sounding } from './sounding';
import { gainOf, type Stereo } from './stereo';

const alone = (process: Processor['process']): Processor => ({ before: 0, after: 0, process });

/** Samples from one gain that is worked out to the next, on a grid of the timeline; between them it goes evenly. */
const GRID = 32;

/** Sound times a curve of gain, worked out on the grid, and a factor for each side. */
function shaped({ left, right }: Stereo, from: number, gain: (n: number) => number, toLeft: number, toRight: number): Stereo {
  const count = left.length;
  const [outLeft, outRight] = [new Float32Array(count), new Float32Array(count)];
  let block = Math.floor(from / GRID);
  let a = gain(block * GRID);
  for (let i = 0; i < count; block += 1) {
    const b = gain((block + 1) * GRID);
    const step = (b - a) / GRID;
    const last = Math.min(count, (block + 1) * GRID - from);
    for (let k = from + i - block * GRID; i < last; i += 1, k += 1) {
      const g = a + step * k;
      outLeft[i] = (left[i] as number) * g * toLeft;
      outRight[i] = (right[i] as number) * g * toRight;
    }
    a = b;
  }
  return { left: outLeft, right: outRight };
}

/**
 * A clip's level, envelope and fades, how far it is taken down under speech, where it stands between left and right, and its coming in
 * and going out: the two sides of an even crossfade sum to one where both have material enough.
 *
 * @param origin where the clip's timeline begins on the one whose samples are counted, in flicks
 */
export function fader(
  { clip, start, end: ends, silentAt, rampIn, rampOut, curveIn, curveOut }: Sounding,
  origin: Flicks,
  line?: readonly DuckPoint[],
): Processor {
  const of = (moment: Flicks) => (timelineAt(clip, moment) + origin) / FLICKS_PER_SAMPLE;
  const own = gainCurve(clip, { start, end: ends, of, unit: 1 / FLICKS_PER_SAMPLE });
  const gain = line ? (n: number) => own(n) * gainOf(duckAt(line, n * FLICKS_PER_SAMPLE - origin)) : own;
  const [toLeft, toRight] = sides(0, valueOf(clip, 'pan'));
  return alone((input, from) => {
    const out = shaped(input, from, gain, toLeft, toRight);
    const end = from + input.left.length;
    const ramp = (first: number, last: number, share: (n: number) => number) => {
      for (let n = Math.max(from, first); n < Math.min(end, last); n += 1) {
        out.left[n - from] = (out.left[n - from] as number) * share(n);
        out.right[n - from] = (out.right[n - from] as number) * share(n);
      }
    };
    const [rise, fall] = [FADES[curveIn], FADES[curveOut]];
    ramp(start, start + rampIn, (n) => rise((n - start) / rampIn));
    ramp(silentAt - rampOut + 1, end, (n) => fall((silentAt - n) / rampOut));
    return out;
  });
}

/** What a level (dB) and a place between left and right make of the two sides, as factors. In the middle both stay; to one side the other goes. */
export function sides(level: number, pan: number): [left: number, right: number] {
  const gain = gainOf(level);
  const other = gain * Math.cos((pan * Math.PI) / 2);
  return [pan > 0 ? other : gain, pan < 0 ? other : gain];
}

function scaled(samples: Float32Array, factor: number): Float32Array {
  const out = new Float32Array(samples.length);
  for (let i = 0; i < out.length; i += 1) out[i] = (samples[i] as number) * factor;
  return out;
}

/** A level and a place between left and right, of a track or of the whole. */
export function balance(level: number, pan: number): Processor[] {
  if (level === 0 && pan === 0) return [];
  const [left, right] = sides(level, pan);
  return [alone((input: Stereo) => ({ left: scaled(input.left, left), right: scaled(input.right, right) }))];
}

/** The fades of a whole piece. Samples. */
export function fadeWhole(length: number, into: number, out: number): Processor[] {
  if (into === 0 && out === 0) return [];
  return [
    alone((input, from) => {
      const shape = (samples: Float32Array) => samples.map((one, i) => one * share(from + i, into) * share(length - (from + i), out));
      return { left: shape(input.left), right: shape(input.right) };
    }),
  ];
}

/** With equal power. */
const share = (passed: number, of: number) => (passed >= of ? 1 : Math.sin((Math.max(0, passed / of) * Math.PI) / 2));
