import { covers, LEVEL_MAX, valueOf, type Cover, type CoverItem } from '../properties';
import { ascending, SAMPLE_RATE, toSamples } from '../time';
import type { Processor } from './chain';
import { coverSound } from './effects';
import { atPace } from './paced';
import type { Sounding } from './sounding';
import { gainOf, silence, type PcmReader, type Stereo } from './stereo';

/** The ramps with which what covers comes and goes, in samples: 5 ms. */
const RAMP = 240;

/** Sound is garbled by turning it round piece by piece, each so long that no word is left: 180 ms, in samples. */
const PIECE = Math.round(SAMPLE_RATE * 0.18);
/** The ramps between such pieces: 2.5 ms. */
const PIECE_RAMP = 120;

/** What covers one stretch at a sample of it; `input(n)` is a side of the sound at the same count. */
type Filler = (n: number, input: (n: number) => number) => number;

/** Gives what fills samples [first, last) of a cover on either side. */
type Fill = (first: number, last: number) => Record<keyof Stereo, Filler>;

const both = (fill: Filler) => () => ({ left: fill, right: fill });

function fillOf(cover: Cover, from: number, to: number, read: PcmReader): Fill {
  const { with: kind, item } = cover;
  if (item) return (first, last) => itemFrom(item, cover.level, first, last, from, read);
  if (kind === 'silence' || kind === 'own') return both(() => 0);
  if (covers.sounds(kind)) {
    const height = gainOf(cover.level);
    return both((n) => height * coverSound(kind, n - from));
  }
  return both((n, input) => {
    const first = from + Math.floor((n - from) / PIECE) * PIECE;
    const last = Math.min(to, first + PIECE) - 1;
    const edge = Math.min(1, (Math.min(n - first, last - n) + 1) / PIECE_RAMP);
    return edge * input(first + last - n);
  });
}

/** The stretches of an item that fill samples [first, last) of a cover that begins at `from`, where each goes: the item again and again. */
function turnsOf(
  item: CoverItem,
  first: number,
  last: number,
  from: number,
): { at: number; begin: number; count: number; length: number }[] {
  const length = toSamples(item.length);
  const turns = [];
  for (let at = first; at < last;) {
    const begin = (at - from) % length;
    const count = Math.min(length - begin, last - at);
    turns.push({ at, begin, count, length });
    at += count;
  }
  return turns;
}

/** An item's sound on either side for samples [first, last) of a cover, as loud as is asked for; it comes and goes with ramps whenever it begins anew. */
function itemFrom(
  item: CoverItem,
  level: number,
  first: number,
  last: number,
  from: number,
  read: PcmReader,
): Record<keyof Stereo, Filler> {
  const height = gainOf(Math.min(LEVEL_MAX, level - item.height));
  const out = silence(last - first);
  for (const { at, begin, count, length } of turnsOf(item, first, last, from)) {
    const sound = read(item.media, begin, count);
    for (let i = 0; i < (sound?.left.length ?? 0); i += 1) {
      const edge = height * Math.min(1, (begin + i) / RAMP, (length - 1 - begin - i) / RAMP);
      out.left[at - first + i] = edge * (sound?.left[i] ?? 0);
      out.right[at - first + i] = edge * (sound?.right[i] ?? 0);
    }
  }
  return { left: (n) => out.left[n - first] ?? 0, right: (n) => out.right[n - first] ?? 0 };
}

/** The covers of a clip with their stretches in samples of its material at its pace. */
function coveringsOf({ clip, pace }: Sounding): { cover: Cover; from: number; to: number }[] {
  return covers.listOf(valueOf(clip, 'covers')).map((cover) => {
    const [from, to] = ascending(atPace(pace, toSamples(cover.from)), atPace(pace, toSamples(cover.to)));
    return { cover, from, to };
  });
}

/** The stretches of items that cover what sounds of a clip in [first, last), samples of the timeline. */
export function coverItems(one: Sounding, first: number, last: number): { media: string; from: number; to: number }[] {
  return coveringsOf(one).flatMap(({ cover: { item }, from, to }) => {
    if (!item) return [];
    const turns = turnsOf(item, Math.max(from, first + one.shift), Math.min(to, last + one.shift), from);
    return turns.map(({ begin, count }) => ({ media: item.media, from: begin, to: begin + count }));
  });
}

/** Covers stretches of a clip's sound: silenced, under a tone or another sound, or garbled. Counts in samples of the material at the clip's pace, so that a cut moves nothing. */
export function coverer(one: Sounding, read: PcmReader): Processor[] {
  const { shift } = one;
  const all = coveringsOf(one).map(({ cover, from, to }) => ({
    from,
    to,
    garbled: cover.with === 'garble',
    fill: fillOf(cover, from, to, read),
  }));
  if (all.length === 0) return [];
  const reach = all.some((one) => one.garbled) ? PIECE : 0;
  return [
    {
      before: reach,
      after: reach,
      process(sound, begin) {
        const count = sound.left.length - reach * 2;
        const here = all.flatMap(({ from, to, fill }) => {
          const [first, last] = [Math.max(0, from - shift - begin), Math.min(count, to - shift - begin)];
          return first < last ? [{ from, to, first, last, fill: fill(first + begin + shift, last + begin + shift) }] : [];
        });
        const side = (name: keyof Stereo): Float32Array => {
          const samples = sound[name];
          const out = samples.slice(reach, reach + count);
          const input = (m: number) => samples[m - shift - begin + reach] ?? 0;
          for (const { from, to, first, last, fill } of here) {
            for (let i = first; i < last; i += 1) {
              const m = begin + i + shift;
              const cover = Math.min(1, (m - from) / RAMP, (to - 1 - m) / RAMP);
              out[i] = (out[i] as number) * (1 - cover) + fill[name](m, input) * cover;
            }
          }
          return out;
        };
        const made: Stereo = { left: side('left'), right: side('right') };
        return made;
      },
    },
  ];
}
