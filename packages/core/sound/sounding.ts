import {
  BLEND_MAX,
  EDGE_MAX,
  flowsOn,
  indexAt,
  isHeard,
  sampleShift,
  soundSpan,
  speedOf,
  unusedMaterial,
  type Clip,
  type Piece,
  type Track,
} from '../piece';
import { valueOf, type FadeCurve } from '../properties';
import { FLICKS_PER_SAMPLE, toSamples, type Flicks } from '../time';
import type { SoundPace } from './paced';
import { gainOf } from './stereo';

/** A clip whose sound does not run on from its neighbour starts and ends with a ramp this long, in samples (5 ms), so that no cut clicks. */
export const EDGE_RAMP = 240;

/** One clip's sound: its stretch in samples of the timeline, ramps (or crossfades) included. */
export interface Sounding {
  clip: Clip;
  start: number;
  end: number;
  /** Samples over which it comes in and goes out, and where it is out; 0 where it runs on. */
  rampIn: number;
  rampOut: number;
  silentAt: number;
  /** How it does, where another sound goes or comes meanwhile. */
  curveIn: FadeCurve;
  curveOut: FadeCurve;
  /** What is added to a sample of the timeline to get that of the material, counted at the clip's pace. */
  shift: number;
  pace: SoundPace;
}

/** Whether `after` goes on exactly where `before` ends, in time and material: a plain split, which must not be heard. */
export function runsOn(before: Clip | undefined, after: Clip | undefined): boolean {
  if (!before || !after || before.silent || after.silent) return false;
  return soundSpan(before).end === soundSpan(after).start && flowsOn(before, after);
}

/** How far outside its picture a clip's sound is looked for, in flicks: as far as sound edges and crossfades reach. */
const REACH = EDGE_MAX + BLEND_MAX;

/**
 * The clips of a track that sound in [from, to), in samples. Where sounds meet they change hands: at a plain cut with a short ramp on
 * either side, at a sound edge with its crossfade. A later clip's sound ends that of all before it.
 *
 * @param origin where the track's timeline begins on the one whose samples are counted, in flicks: a nest's is not on a sample
 */
export function soundingClips(piece: Piece, track: Track, from: number, to: number, origin: Flicks = 0): Sounding[] {
  const found: Sounding[] = [];
  const { clips } = track;
  for (let i = Math.max(0, indexAt(track, from * FLICKS_PER_SAMPLE - origin - REACH) - 1); i < clips.length; i += 1) {
    const clip = clips[i] as Clip;
    if (clip.start + origin - REACH >= to * FLICKS_PER_SAMPLE) break;
    const one = sounding(piece, clips, i, origin);
    if (one && one.start < to && one.end > from) found.push(one);
  }
  return found;
}

function sounding(piece: Piece, clips: readonly Clip[], i: number, origin: Flicks): Sounding | null {
  const clip = clips[i] as Clip;
  const media = piece.media[clip.media];
  if (!media || !isHeard(clip, media) || gainOf(clip.level) === 0) return null;
  const [before, after] = [giver(piece, clips, i, origin), taker(piece, clips, i, origin)];
  const [start, own] = samplesOf(clip, origin);
  const end = after ? Math.max(start, samplesOf(after, origin)[0]) : own;
  if (end <= start) return null;
  const shift = sampleShift(clip, origin);
  const pace: SoundPace = { speed: speedOf(clip), pitch: valueOf(clip, 'pitch') };
  const length = Math.floor(media.length / FLICKS_PER_SAMPLE / Math.abs(pace.speed));
  const [first, last] = pace.speed < 0 ? [-length, 0] : [0, length];
  const plain = Math.min(EDGE_RAMP, Math.floor((end - start) / 2));
  const join = before ? half(clip) : 0;
  const leave = after ? half(after) : 0;
  const early = Math.max(0, Math.min(join, start + shift - first));
  const late = Math.max(0, Math.min(leave, media.kind === 'nest' ? leave : last - shift - end));
  const whole = media.kind === 'nest'; // where its inside begins or ends, the clips in there have ramps of their own
  const unused = unusedMaterial(clip, media);
  const into = (over: number, extra: number) => (over > 0 ? extra + Math.min(over, Math.floor((end - start) / 2)) : plain);
  return {
    clip,
    start: start - early,
    end: end + late,
    rampIn: runsOn(before, clip) || (whole && unused.head === 0) ? 0 : into(join, early),
    rampOut: runsOn(clip, after) || (whole && unused.tail === 0) ? 0 : into(leave, late),
    curveIn: join > 0 ? valueOf(clip, 'blendCurve') : 'even',
    curveOut: leave > 0 && after ? valueOf(after, 'blendCurve') : 'even',
    silentAt: leave > 0 ? end + late : end - 1,
    shift,
    pace,
  };
}

/** When a clip's own sound would start and end, were it alone: samples of the timeline. */
function samplesOf(clip: Clip, origin: Flicks): [number, number] {
  const span = soundSpan(clip);
  return [toSamples(span.start + origin), toSamples(span.end + origin)];
}

const heard = (piece: Piece, clip: Clip) => isHeard(clip, piece.media[clip.media]);
const half = (clip: Clip) => Math.floor(toSamples(clip.blend ?? 0) / 2);

/** The clip to which one gives over before (or where) its sound ends: of all later ones that start by then, the first to. */
function taker(piece: Piece, clips: readonly Clip[], i: number, origin: Flicks): Clip | undefined {
  const clip = clips[i] as Clip;
  const own = samplesOf(clip, origin)[1];
  const past = soundSpan(clip).end + EDGE_MAX;
  let first: Clip | undefined;
  for (let j = i + 1; j < clips.length && (clips[j] as Clip).start <= past; j += 1) {
    const other = clips[j] as Clip;
    const [start] = samplesOf(other, origin);
    if (start <= own && heard(piece, other) && (!first || start <= samplesOf(first, origin)[0])) first = other;
  }
  return first;
}

/** The clip that gives over to one: the last before it that is still heard until then. */
function giver(piece: Piece, clips: readonly Clip[], i: number, origin: Flicks): Clip | undefined {
  const [start] = samplesOf(clips[i] as Clip, origin);
  for (let k = i - 1; k >= 0; k -= 1) {
    const other = clips[k] as Clip;
    if (other.start + other.length + EDGE_MAX < soundSpan(clips[i] as Clip).start) return undefined;
    const [begins, ends] = samplesOf(other, origin);
    if (!heard(piece, other) || begins >= start) continue;
    return ends >= start ? other : undefined;
  }
  return undefined;
}
