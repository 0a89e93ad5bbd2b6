import { BLEND_MAX, EDGE_MAX, indexAt, isHeard, LEVEL_MIN, soundSpan, type Clip, type Piece, type Timeline, type Track } from '../piece';
import { FLICKS_PER_SAMPLE, toSamples } from '../time';

/** Two channels of float samples at 48 kHz, equally long. */
export interface Stereo {
  left: Float32Array;
  right: Float32Array;
}

/**
 * Gives decoded sound of a media item: `count` samples from sample `from` of the material. Shorter (or null) where there is
 * none; what is missing is silence.
 */
export type PcmReader = (media: string, from: number, count: number) => Stereo | null;

/** A clip whose sound does not run on from its neighbour starts and ends with a ramp this long, in samples (5 ms), so that no cut clicks. */
export const EDGE_RAMP = 240;

/** dB to a factor; −60 and less is silence. */
export function gainOf(level: number): number {
  return level <= LEVEL_MIN ? 0 : 10 ** (level / 20);
}

/** Whether `after` goes on exactly where `before` ends, in time and material: a plain split, which must not be heard. */
export function runsOn(before: Clip | undefined, after: Clip | undefined): boolean {
  if (!before || !after || before.media !== after.media || before.silent || after.silent || before.hold !== undefined) return false;
  const edge = soundSpan(before).end;
  return edge === soundSpan(after).start && before.start - before.from === after.start - after.from && after.hold === undefined;
}

/** One clip's sound: its stretch in samples of the timeline, ramps (or crossfades) included. */
export interface Sounding {
  clip: Clip;
  start: number;
  end: number;
  /** Samples over which it comes in and goes out, and where it is out; 0 where it runs on. */
  rampIn: number;
  rampOut: number;
  silentAt: number;
  /** The sample of the material that sounds at `start`. */
  from: number;
}

/** How far outside its picture a clip's sound is looked for, in flicks: as far as sound edges and crossfades reach. */
const REACH = EDGE_MAX + BLEND_MAX;

/**
 * The clips of a track that sound in [from, to), in samples. Where the sounds of neighbours meet they change hands: at a plain
 * cut with a short ramp on either side, at a sound edge with its crossfade. A later clip's sound ends that of the one before.
 */
export function soundingClips(piece: Piece, track: Track, from: number, to: number): Sounding[] {
  const found: Sounding[] = [];
  const { clips } = track;
  for (let i = Math.max(0, indexAt(track, from * FLICKS_PER_SAMPLE - REACH) - 1); i < clips.length; i += 1) {
    const clip = clips[i] as Clip;
    if (clip.start - REACH >= to * FLICKS_PER_SAMPLE) break;
    const one = sounding(piece, clips, i);
    if (one && one.start < to && one.end > from) found.push(one);
  }
  return found;
}

function sounding(piece: Piece, clips: readonly Clip[], i: number): Sounding | null {
  const clip = clips[i] as Clip;
  const media = piece.media[clip.media];
  if (!media || !isHeard(clip, media) || gainOf(clip.level) === 0) return null;
  const [before, after] = [heardNeighbour(piece, clips[i - 1]), heardNeighbour(piece, clips[i + 1])];
  const span = soundSpan(clip);
  const start = toSamples(span.start);
  const own = toSamples(span.end);
  const end = after ? Math.min(own, Math.max(start, toSamples(soundSpan(after).start))) : own;
  if (end <= start) return null;
  const material = toSamples(clip.from) + start - toSamples(clip.start);
  const length = Math.floor(media.length / FLICKS_PER_SAMPLE);
  const plain = Math.min(EDGE_RAMP, Math.floor((end - start) / 2));
  const join = before && toSamples(soundSpan(before).end) >= start ? half(clip) : 0;
  const leave = after && own >= toSamples(soundSpan(after).start) ? half(after) : 0;
  const early = Math.max(0, Math.min(join, material));
  const late = Math.max(0, Math.min(leave, media.kind === 'nest' ? leave : length - material - (end - start)));
  const whole = media.kind === 'nest'; // where its inside begins or ends, the clips in there have ramps of their own
  return {
    clip,
    start: start - early,
    end: end + late,
    rampIn:
      runsOn(before, clip) || (whole && clip.from === 0) ? 0 : join > 0 ? early + Math.min(join, Math.floor((end - start) / 2)) : plain,
    rampOut:
      runsOn(clip, after) || (whole && clip.from + clip.length >= media.length)
        ? 0
        : leave > 0
          ? late + Math.min(leave, Math.floor((end - start) / 2))
          : plain,
    silentAt: leave > 0 ? end + late : end - 1,
    from: material - early,
  };
}

const heardNeighbour = (piece: Piece, clip: Clip | undefined) => (clip && isHeard(clip, piece.media[clip.media]) ? clip : undefined);
const half = (clip: Clip) => Math.floor(toSamples(clip.blend ?? 0) / 2);

/** The tracks of a timeline that are heard: all that are not muted, or only those on solo when there are any. */
export function heardTracks(timeline: Timeline): Track[] {
  const solo = timeline.tracks.filter((track) => track.solo);
  return (solo.length > 0 ? solo : timeline.tracks).filter((track) => !track.muted);
}

/**
 * What is heard from sample `from` up to sample `to`: a pure function of the piece and the decoded material, so the preview and
 * the export hear the same. Cutting a range in two and joining the results gives the same samples.
 */
export function mix(piece: Piece, from: number, to: number, read: PcmReader): Stereo {
  return mixTimeline(piece, piece, from, to, read);
}

function mixTimeline(piece: Piece, timeline: Timeline, from: number, to: number, read: PcmReader): Stereo {
  const out: Stereo = { left: new Float32Array(to - from), right: new Float32Array(to - from) };
  for (const track of heardTracks(timeline))
    for (const one of soundingClips(piece, track, from, to)) {
      const first = Math.max(from, one.start);
      const last = Math.min(to, one.end);
      const at = one.from + (first - one.start);
      const nest = piece.nests?.[one.clip.media];
      const pcm = nest ? mixTimeline(piece, nest, at, at + last - first, read) : read(one.clip.media, at, last - first);
      if (pcm) addInto(out, pcm, first - from, last - first, one, first);
    }
  return out;
}

/** Adds sound with its level and ramps; the two sides of a crossfade sum to one where both have material enough. */
function addInto(out: Stereo, pcm: Stereo, place: number, most: number, one: Sounding, first: number): void {
  const gain = gainOf(one.clip.level);
  const count = Math.min(most, pcm.left.length);
  for (let i = 0; i < count; i += 1) {
    const n = first + i;
    let g = gain;
    if (n - one.start < one.rampIn) g *= (n - one.start) / one.rampIn;
    if (one.silentAt - n < one.rampOut) g *= (one.silentAt - n) / one.rampOut;
    out.left[place + i] = (out.left[place + i] as number) + (pcm.left[i] as number) * g;
    out.right[place + i] = (out.right[place + i] as number) + (pcm.right[i] as number) * g;
  }
}

/** The stretches of media items that are heard in [from, to), within nests too: what must be fetched before mixing. Samples. */
export function neededSound(piece: Piece, from: number, to: number): { media: string; from: number; to: number }[] {
  return neededBy(piece, piece, from, to);
}

function neededBy(piece: Piece, timeline: Timeline, from: number, to: number): { media: string; from: number; to: number }[] {
  return heardTracks(timeline).flatMap((track) =>
    soundingClips(piece, track, from, to).flatMap((one) => {
      const first = one.from + Math.max(from, one.start) - one.start;
      const last = one.from + Math.min(to, one.end) - one.start;
      const nest = piece.nests?.[one.clip.media];
      return nest ? neededBy(piece, nest, first, last) : [{ media: one.clip.media, from: first, to: last }];
    }),
  );
}

/** Something that sounds at one moment: its clip (within nests, the clips on the way to it, joined by `/`), the sample of its material, its gain as a factor. */
export interface Heard {
  clip: string;
  media: string;
  sample: number;
  gain: number;
}

/** All that is heard at one sample, within nests too; ramps and crossfades left out. */
export function heardAt(piece: Piece, sample: number): Heard[] {
  return heardIn(piece, piece, sample, '', 1);
}

function heardIn(piece: Piece, timeline: Timeline, sample: number, way: string, gain: number): Heard[] {
  return heardTracks(timeline).flatMap((track) =>
    soundingClips(piece, track, sample, sample + 1).flatMap((one) => {
      const at = one.from + sample - one.start;
      const loud = gain * gainOf(one.clip.level);
      const nest = piece.nests?.[one.clip.media];
      if (nest) return heardIn(piece, nest, at, `${way}${one.clip.id}/`, loud);
      return [{ clip: way + one.clip.id, media: one.clip.media, sample: at, gain: loud }];
    }),
  );
}

/** Highest absolute sample of both channels, as a factor: 1 is full scale (0 dBFS). */
export function peakOf(sound: Stereo): number {
  let peak = 0;
  for (const channel of [sound.left, sound.right])
    for (let i = 0; i < channel.length; i += 1) peak = Math.max(peak, Math.abs(channel[i] as number));
  return peak;
}
