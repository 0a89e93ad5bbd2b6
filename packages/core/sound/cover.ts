import { covers, valueOf, type Cover } from '../properties';
import { ascending, SAMPLE_RATE, toSamples } from '../time';
import type { Processor } from './chain';
import { coverSound } from './effects';
import { atPace } from './paced';
import type { Sounding } from './sounding';
import { gainOf, type Stereo } from './stereo';

/** The ramps with which what covers comes and goes, in samples: 5 ms. */
const RAMP = 240;

/** Sound is garbled by turning it round piece by piece, each so long that no word is left: 180 ms, in samples. */
const PIECE = Math.round(SAMPLE_RATE * 0.18);
/** The ramps between such pieces: 2.5 ms. */
const PIECE_RAMP = 120;

/** What covers one stretch at a sample of it; `input(n)` is a side of the sound at the same count. */
type Filler = (n: number, input: (n: number) => number) => number;

function fillerOf(cover: Cover, from: number, to: number): Filler {
  const { with: kind } = cover;
  if (kind === 'silence') return () => 0;
  if (covers.sounds(kind)) {
    const height = gainOf(cover.level);
    return (n) => height * coverSound(kind, n - from);
  }
  return (n, input) => {
    const first = from + Math.floor((n - from) / PIECE) * PIECE;
    const last = Math.min(to, first + PIECE) - 1;
    const edge = Math.min(1, (Math.min(n - first, last - n) + 1) / PIECE_RAMP);
    return edge * input(first + last - n);
  };
}

/** Covers stretches of a clip's sound: silenced, under a tone or another sound, or garbled. Counts in samples of the material at the clip's pace, so that a cut moves nothing. */
export function coverer({ clip, shift, pace }: Sounding): Processor[] {
  const all = covers.listOf(valueOf(clip, 'covers')).map((cover) => {
    const [from, to] = ascending(atPace(pace, toSamples(cover.from)), atPace(pace, toSamples(cover.to)));
    return { from, to, garbled: cover.with === 'garble', fill: fillerOf(cover, from, to) };
  });
  if (all.length === 0) return [];
  const reach = all.some((one) => one.garbled) ? PIECE : 0;
  return [
    {
      before: reach,
      after: reach,
      process(sound, begin) {
        const count = sound.left.length - reach * 2;
        const side = (samples: Float32Array): Float32Array => {
          const out = samples.slice(reach, reach + count);
          const input = (m: number) => samples[m - shift - begin + reach] ?? 0;
          for (const { from, to, fill } of all) {
            const first = Math.max(0, from - shift - begin);
            const last = Math.min(count, to - shift - begin);
            for (let i = first; i < last; i += 1) {
              const m = begin + i + shift;
              const cover = Math.min(1, (m - from) / RAMP, (to - 1 - m) / RAMP);
              out[i] = (out[i] as number) * (1 - cover) + fill(m, input) * cover;
            }
          }
          return out;
        };
        const made: Stereo = { left: side(sound.left), right: side(sound.right) };
        return made;
      },
    },
  ];
}
