import type { Processor } from './chain';
import { gainOf } from './stereo';
import type { Sounding } from './sounding';

/** A clip's level, and its coming in and going out: the two sides of a crossfade sum to one where both have material enough. */
export function fader({ clip, start, silentAt, rampIn, rampOut }: Sounding): Processor {
  const gain = gainOf(clip.level);
  return {
    before: 0,
    after: 0,
    process(input, from) {
      const count = input.left.length;
      const out = { left: new Float32Array(count), right: new Float32Array(count) };
      for (let i = 0; i < count; i += 1) {
        const n = from + i;
        let g = gain;
        if (n - start < rampIn) g *= (n - start) / rampIn;
        if (silentAt - n < rampOut) g *= (silentAt - n) / rampOut;
        out.left[i] = (input.left[i] as number) * g;
        out.right[i] = (input.right[i] as number) * g;
      }
      return out;
    },
  };
}
