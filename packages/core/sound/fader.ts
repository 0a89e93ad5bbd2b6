import { timelineAt } from '../piece';
import { FLICKS_PER_SAMPLE, type Flicks } from '../time';
import type { Processor } from './chain';
import { gainCurve } from './gain';
import type { Sounding } from './sounding';
import { gainOf, type Stereo } from './stereo';

const alone = (process: Processor['process']): Processor => ({ before: 0, after: 0, process });

/**
 * A clip's level, envelope and fades, and its coming in and going out: the two sides of a crossfade sum to one where both have
 * material enough.
 *
 * @param origin where the clip's timeline begins on the one whose samples are counted, in flicks
 */
export function fader({ clip, start, end, silentAt, rampIn, rampOut }: Sounding, origin: Flicks): Processor {
  const of = (moment: Flicks) => (timelineAt(clip, moment) + origin) / FLICKS_PER_SAMPLE;
  const gain = gainCurve(clip, { start, end, of, unit: 1 / FLICKS_PER_SAMPLE });
  return alone((input, from) => {
    const count = input.left.length;
    const out = { left: new Float32Array(count), right: new Float32Array(count) };
    for (let i = 0; i < count; i += 1) {
      const n = from + i;
      let g = gain(n);
      if (n - start < rampIn) g *= (n - start) / rampIn;
      if (silentAt - n < rampOut) g *= (silentAt - n) / rampOut;
      out.left[i] = (input.left[i] as number) * g;
      out.right[i] = (input.right[i] as number) * g;
    }
    return out;
  });
}

/** What a level (dB) and a place between left and right make of the two sides, as factors. In the middle both stay; to one side the other goes. */
export function sides(level: number, pan: number): [left: number, right: number] {
  const gain = gainOf(level);
  const other = gain * Math.cos((pan * Math.PI) / 2);
  return [pan > 0 ? other : gain, pan < 0 ? other : gain];
}

/** A level and a place between left and right, of a clip or of a track. */
export function balance(level: number, pan: number): Processor[] {
  if (level === 0 && pan === 0) return [];
  const [left, right] = sides(level, pan);
  const by = (samples: Float32Array, factor: number) => samples.map((one) => one * factor);
  return [alone((input: Stereo) => ({ left: by(input.left, left), right: by(input.right, right) }))];
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
