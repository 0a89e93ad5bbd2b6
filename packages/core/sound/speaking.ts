import {
  heardTracks,
  isHeard,
  keyTime,
  materialStart,
  soundSpan,
  speedOf,
  timeOfKey,
  underOf,
  type Clip,
  type Piece,
  type Timeline,
  type Track,
} from '../piece';
import { ascending, FLICKS_PER_SAMPLE, fromSamples, toSamples, type Flicks } from '../time';
import { materialGain } from './gain';
import { energyAt, LOUDNESS_STEP, type Hearing, type HearingReader } from './hearing';
import { gainOf } from './stereo';

/** A step in which loudness is known, in flicks, and how far around a moment it is taken together: 1.5 s on either side. */
export const STEP = LOUDNESS_STEP * FLICKS_PER_SAMPLE;
const AROUND = 15;

/** Energies on a timeline, by number of step. */
type Energy = Map<number, number>;

/** What speaks on a timeline: its energy by step, and when, in flicks. */
export interface Speech {
  energy: Energy;
  spans: [Flicks, Flicks][];
}

/** Whether what speaks on a track counts as speech. */
const maySpeak = (track: Track) => track.role === undefined || track.role === 'speech';

/** All that speaks on a timeline and makes way for nobody. */
export function speechOf(piece: Piece, timeline: Timeline, hearing: HearingReader): Speech {
  const energy: Energy = new Map();
  const spans: [Flicks, Flicks][] = [];
  gather(piece, timeline, { energy, spans }, { shift: 0, lasts: 1, from: 0, to: Infinity, gain: 1 }, hearing);
  return { energy, spans: joined(spans) };
}

/** How a nest's timeline stands on the one that is looked at. */
interface Standing {
  /** Where on that one a time of this lies: it begins at `shift`, and lasts so many times as long (below 0: backwards). */
  shift: Flicks;
  lasts: number;
  from: Flicks;
  to: Flicks;
  /** As a factor. */
  gain: number;
}

function gather(piece: Piece, timeline: Timeline, into: Speech, standing: Standing, hearing: HearingReader): void {
  for (const track of heardTracks(timeline)) {
    if (!maySpeak(track)) continue;
    for (const clip of track.clips) {
      if (underOf(clip, track) || !isHeard(clip, piece.media[clip.media])) continue;
      const span = soundSpan(clip);
      const { shift, lasts } = standing;
      const outside = (time: Flicks) => shift + Math.round(time * lasts);
      const [starts, ends] = ascending(outside(span.start), outside(span.end));
      const [from, to] = [Math.max(standing.from, starts), Math.min(standing.to, ends)];
      if (to <= from) continue;
      const gain = standing.gain * gainOf(track.level ?? 0);
      const nest = piece.nests?.[clip.media];
      if (nest) {
        const inside = { shift: outside(materialStart(clip)), lasts: lasts / speedOf(clip), from, to, gain: gain * gainOf(clip.level) };
        gather(piece, nest, into, inside, hearing);
        continue;
      }
      const heard = hearing(clip.media);
      if (!heard) continue;
      const power = powerIn(heard, clip, gain);
      const moved = (sample: number) => outside(timeOfKey(clip, fromSamples(sample)));
      for (const [first, last] of heard.speech) {
        const [opens, closes] = ascending(moved(first), moved(last));
        const [begin, end] = [Math.max(from, opens), Math.min(to, closes)];
        if (end <= begin) continue;
        into.spans.push([begin, end]);
        for (const step of stepsWithin(begin, end))
          into.energy.set(step, (into.energy.get(step) ?? 0) + power(Math.round((step * STEP - shift) / lasts)));
      }
    }
  }
}

/** The steps that lie in a stretch as a whole; the one in its middle, where it is too short to hold any. */
function* stepsWithin(begin: Flicks, end: Flicks): Generator<number> {
  const [first, last] = [Math.ceil(begin / STEP), Math.floor(end / STEP)];
  if (last <= first) yield Math.floor((begin + end) / 2 / STEP);
  for (let step = first; step < last; step += 1) yield step;
}

/** The energy of a clip at a time of its timeline (flicks), as loud as it is made, and by another gain (a factor) besides. */
function powerIn(heard: Hearing, clip: Clip, gain: number): (at: Flicks) => number {
  const loud = materialGain(clip);
  return (at) => {
    const moment = keyTime(clip, at);
    return energyAt(heard, Math.floor(toSamples(moment) / LOUDNESS_STEP)) * (gain * loud(moment)) ** 2;
  };
}

function joined(spans: [Flicks, Flicks][]): [Flicks, Flicks][] {
  const out: [Flicks, Flicks][] = [];
  for (const [from, to] of spans.sort((a, b) => a[0] - b[0])) {
    const last = out.at(-1);
    if (last && from <= last[1]) last[1] = Math.max(last[1], to);
    else out.push([from, to]);
  }
  return out;
}

/** The energy around a step, of those steps that have any; 0 where none has. */
export function around(energy: (step: number) => number, step: number): number {
  let [sum, count] = [0, 0];
  for (let k = step - AROUND; k <= step + AROUND; k += 1) {
    const one = energy(k);
    if (one <= 0) continue;
    sum += one;
    count += 1;
  }
  return count === 0 ? 0 : sum / count;
}

/** A clip's own energy by step of its timeline, as loud as it is made apart from its line. */
export function clipEnergy(clip: Clip, track: Track, hearing: HearingReader): (step: number) => number {
  const heard = hearing(clip.media);
  if (!heard) return () => 0;
  const power = powerIn(heard, { ...clip, fadeIn: undefined, fadeOut: undefined }, gainOf(track.level ?? 0));
  const span = soundSpan(clip);
  return (step) => (step * STEP < span.start || step * STEP >= span.end ? 0 : power(step * STEP));
}

/** All of a clip's energies, step by step from its beginning to its end. */
export function clipEnergies(clip: Clip, track: Track, hearing: HearingReader): number[] {
  const own = clipEnergy(clip, track, hearing);
  const span = soundSpan(clip);
  const [first, last] = [Math.ceil(span.start / STEP), Math.floor(span.end / STEP)];
  return Array.from({ length: Math.max(0, last - first) }, (_, i) => own(first + i));
}

/** What of a track's time is taken for speech at most, when it is music. */
const MOSTLY_MUSIC = 0.2;

/** Whether what is on a track is music, as it says itself or, where it says nothing, by what was heard: sound that is not mostly speech. */
export function isMusic(piece: Piece, track: Track, hearing: HearingReader): boolean {
  if (track.role !== undefined) return track.role === 'music';
  if (track.kind === 'picture' || track.clips.length === 0) return false;
  const alone: Timeline = {
    tracks: [{ ...track, muted: false, under: undefined, clips: track.clips.map(({ under: _, ...clip }) => clip) }],
  };
  const spoken = speechOf(piece, alone, hearing).spans.reduce((sum, [from, to]) => sum + to - from, 0);
  return spoken < MOSTLY_MUSIC * track.clips.reduce((sum, clip) => sum + clip.length, 0);
}
