import { heardTracks, isMusicTrack, materialStart, pieceLength, type Piece, type Timeline, type Track } from '../piece';
import { valueOf } from '../properties';
import { toSamples, type Flicks } from '../time';
import { reachOf, through, type Processor, type SoundSource } from './chain';
import { coverer, coverItems } from './cover';
import type { DuckLines } from './ducking';
import { balance, fader, fadeWhole, sides } from './fader';
import { limiter } from './limiter';
import { paced, paceReach } from './paced';
import { soundingClips, type Sounding } from './sounding';
import { silence, type PcmReader, type Stereo } from './stereo';

/** What is done to a clip's sound, in order. A new processor of clips is one line here. */
function clipChain(one: Sounding, origin: Flicks, lines: DuckLines | undefined, read: PcmReader): Processor[] {
  return [...coverer(one, read), fader(one, origin, lines?.get(one.clip.id))];
}

/** What is done to all that sounds on a track. */
const trackChain = (piece: Piece, track: Track): Processor[] => balance(levelOf(piece, track), track.pan ?? 0);

/** How loud all that sounds on a track is made: its fader, and how far the piece leans away from music. dB. */
const levelOf = (piece: Piece, track: Track) => (track.level ?? 0) - (isMusicTrack(track) ? (piece.sound?.lean ?? 0) : 0);

/** What is done to the piece as a whole, last of all. */
function pieceChain(piece: Piece, options: MixOptions = {}): Processor[] {
  const { level = 0, fadeIn = 0, fadeOut = 0, unlimited } = piece.sound ?? {};
  const fades = fadeWhole(toSamples(pieceLength(piece)), toSamples(fadeIn), toSamples(fadeOut));
  return [...balance(level, 0), ...fades, ...(unlimited ? [] : [limiter(options.limited)])];
}

/** What a mix is made with besides the piece, and who hears what goes through it, for meters. */
export interface MixOptions {
  /** How far what makes way for speech is taken down ({@link duckLines}); missing: nothing makes way. */
  lines?: DuckLines | undefined;
  /** What one track adds to the piece: samples from `from` on. */
  track?(id: string, sound: Stereo, from: number): void;
  /** What one clip of the piece's own timeline adds: samples from `from` on. */
  clip?(id: string, sound: Stereo, from: number): void;
  /** How much the limiter took away at most, as a factor. */
  limited?(gain: number): void;
}

/**
 * What is heard from sample `from` up to sample `to`: a pure function of the piece and the decoded material, so the preview and
 * the export hear the same. Cutting a range in two and joining the results gives the same samples.
 */
export function mix(piece: Piece, from: number, to: number, read: PcmReader, options: MixOptions = {}): Stereo {
  const whole: SoundSource = (first, last) => mixTimeline(piece, piece, 0, first, last, read, options);
  return through(pieceChain(piece, options), whole, from, to) ?? silence(to - from);
}

/** The samples of a timeline that begins at `origin` (flicks) of the piece's own: those of nests are counted on that, too. */
function mixTimeline(
  piece: Piece,
  timeline: Timeline,
  origin: Flicks,
  from: number,
  to: number,
  read: PcmReader,
  options: MixOptions,
): Stereo {
  const out = silence(to - from);
  for (const track of heardTracks(timeline)) {
    const sound = through(trackChain(piece, track), (first, last) => mixTrack(piece, track, origin, first, last, read, options), from, to);
    if (!sound) continue;
    options.track?.(track.id, sound, from);
    addInto(out, sound, 0);
  }
  return out;
}

/** What sounds on one track; null where nothing does. */
function mixTrack(
  piece: Piece,
  track: Track,
  origin: Flicks,
  from: number,
  to: number,
  read: PcmReader,
  { lines, clip: onClip }: MixOptions,
): Stereo | null {
  const all = soundingClips(piece, track, from, to, origin);
  const [only] = all;
  if (!only) return null;
  const soundOf = (one: Sounding, first: number, last: number) => {
    const sound = through(clipChain(one, origin, lines, read), sourceOf(piece, one, origin, read, lines), first, last);
    if (sound) onClip?.(one.clip.id, sound, first);
    return sound;
  };
  if (all.length === 1 && only.start <= from && only.end >= to) {
    const whole = soundOf(only, from, to);
    if (!whole || whole.left.length === to - from) return whole;
  }
  const out = silence(to - from);
  for (const one of all) {
    const first = Math.max(from, one.start);
    const sound = soundOf(one, first, Math.min(to, one.end));
    if (sound) addInto(out, sound, first - from);
  }
  return out;
}

/** Where a nest's own timeline begins on the one whose samples are counted; at a pace of its own it is mixed by itself, from its own beginning. */
const nestOrigin = ({ clip, pace }: Sounding, origin: Flicks) => (pace.speed === 1 ? origin + materialStart(clip) : 0);

/** What was found out of material at a pace, for as long as whoever reads it is there. */
const knownOf = new WeakMap<PcmReader, Map<string, Map<number, Int16Array>>>();

function known(read: PcmReader, media: string, speed: number): Map<number, Int16Array> {
  const all = knownOf.get(read) ?? new Map<string, Map<number, Int16Array>>();
  knownOf.set(read, all);
  const name = `${speed} ${media}`;
  const one = all.get(name) ?? new Map<number, Int16Array>();
  all.set(name, one);
  return one;
}

/** The material of a clip as a source on the timeline it stands on, at its pace: decoded sound, or the mix of a nest. */
function sourceOf(piece: Piece, one: Sounding, origin: Flicks, read: PcmReader, lines?: DuckLines): SoundSource {
  const { clip, shift, pace } = one;
  const nest = piece.nests?.[clip.media];
  const own: SoundSource = nest
    ? (from, to) => mixTimeline(piece, nest, nestOrigin(one, origin), from, to, read, { lines })
    : (from, to) => readFrom(read, clip.media, from, to);
  if (pace.speed === 1) return nest ? own : (from, to) => own(from + shift, to + shift);
  const there = paced(own, pace, nest ? undefined : known(read, clip.media, pace.speed));
  return (from, to) => there(from + shift, to + shift);
}

/** Samples [from, to) of decoded material; before it there is nothing. */
function readFrom(read: PcmReader, media: string, from: number, to: number): Stereo | null {
  if (from >= 0) return read(media, from, to - from);
  const sound = to > 0 ? read(media, 0, to) : null;
  const out = silence(to - from);
  if (sound) addInto(out, sound, -from);
  return out;
}

function addInto(out: Stereo, sound: Stereo, place: number): void {
  addSide(out.left, sound.left, place);
  addSide(out.right, sound.right, place);
}

function addSide(out: Float32Array, sound: Float32Array, place: number): void {
  const count = Math.min(sound.length, out.length - place);
  const fours = count - (count % 4);
  // Four at a time takes half as long: going round costs more than adding.
  for (let i = 0, k = place; i < fours; i += 4, k += 4) {
    out[k] = (out[k] as number) + (sound[i] as number);
    out[k + 1] = (out[k + 1] as number) + (sound[i + 1] as number);
    out[k + 2] = (out[k + 2] as number) + (sound[i + 2] as number);
    out[k + 3] = (out[k + 3] as number) + (sound[i + 3] as number);
  }
  for (let i = fours; i < count; i += 1) out[place + i] = (out[place + i] as number) + (sound[i] as number);
}

/** The stretches of media items that are heard in [from, to), within nests too: what must be fetched before mixing. Samples. */
export function neededSound(piece: Piece, from: number, to: number): { media: string; from: number; to: number }[] {
  const chain = pieceChain(piece);
  return neededBy(piece, piece, 0, from - reachOf(chain, 'before'), to + reachOf(chain, 'after'));
}

function neededBy(
  piece: Piece,
  timeline: Timeline,
  origin: Flicks,
  from: number,
  to: number,
): { media: string; from: number; to: number }[] {
  return heardTracks(timeline).flatMap((track) =>
    soundingClips(piece, track, from, to, origin).flatMap((one) => {
      const chain = clipChain(one, origin, undefined, () => null);
      const [first, last] = [Math.max(from, one.start) - reachOf(chain, 'before'), Math.min(to, one.end) + reachOf(chain, 'after')];
      const nest = piece.nests?.[one.clip.media];
      const [begin, end] = paceReach(one.pace, first + one.shift, last + one.shift);
      const items = coverItems(one, first, last);
      if (!nest) return [{ media: one.clip.media, from: Math.max(0, begin), to: end }, ...items];
      const inside =
        one.pace.speed === 1 ? neededBy(piece, nest, nestOrigin(one, origin), first, last) : neededBy(piece, nest, 0, begin, end);
      return [...inside, ...items];
    }),
  );
}

/** Something that sounds at one moment: its clip (within nests, the clips on the way to it, joined by `/`), the sample of its material and how fast that goes by, what is made of its two sides as factors. */
export interface Heard {
  clip: string;
  media: string;
  sample: number;
  /** How fast it goes through that, below 0 backwards; missing: as it is. */
  speed?: number;
  left: number;
  right: number;
}

/** All that is heard at one sample, within nests too; ramps, crossfades, fades and envelopes left out. */
export function heardAt(piece: Piece, sample: number): Heard[] {
  return heardIn(piece, piece, 0, sample, '', 1, [1, 1]);
}

function heardIn(
  piece: Piece,
  timeline: Timeline,
  origin: Flicks,
  sample: number,
  way: string,
  pace: number,
  so: [number, number],
): Heard[] {
  return heardTracks(timeline).flatMap((track) =>
    soundingClips(piece, track, sample, sample + 1, origin).flatMap((one) => {
      const [clip, whole] = [sides(one.clip.level, valueOf(one.clip, 'pan')), sides(levelOf(piece, track), track.pan ?? 0)];
      const [left, right] = [so[0] * clip[0] * whole[0], so[1] * clip[1] * whole[1]];
      const nest = piece.nests?.[one.clip.media];
      const speed = pace * one.pace.speed;
      const own = one.pace.speed === 1 ? sample + one.shift : Math.round((sample + one.shift) * one.pace.speed);
      const inside = one.pace.speed === 1 ? sample : own;
      if (nest) return heardIn(piece, nest, nestOrigin(one, origin), inside, `${way}${one.clip.id}/`, speed, [left, right]);
      return [{ clip: way + one.clip.id, media: one.clip.media, sample: own, ...(speed === 1 ? {} : { speed }), left, right }];
    }),
  );
}
