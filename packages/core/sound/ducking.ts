import {
  findClip,
  heardTracks,
  isHeard,
  isMusicTrack,
  keyTime,
  materialStart,
  sampleShift,
  soundSpan,
  timelines,
  underOf,
  type Clip,
  type Piece,
  type Timeline,
  type Track,
} from '../piece';
import type { Under } from '../properties';
import { firstWhere, FLICKS_PER_SAMPLE, toSamples, type Flicks } from '../time';
import { materialGain } from './gain';
import { energyAt, LOUDNESS_STEP, lufs, type HearingReader } from './hearing';
import { gainOf } from './stereo';

/** How far a clip's sound is taken down at one moment of its timeline. */
export interface DuckPoint {
  /** Flicks of the clip's own timeline. */
  at: Flicks;
  /** dB, 0 or below. */
  db: number;
}

/** The lines of all clips that make way for speech, by their ids. */
export type DuckLines = ReadonlyMap<string, readonly DuckPoint[]>;

/** A step in which loudness is known, in flicks, and how far around a moment it is taken together: 1.5 s on either side. */
const STEP = LOUDNESS_STEP * FLICKS_PER_SAMPLE;
const AROUND = 15;

/** From one point of a line to the next, in steps, and how much a point may be off before it is needed, in dB. */
const SPACING = 5;
const NEAR = 0.2;

/** The lowest a line goes, in dB. */
const DEEPEST = -50;

/** Energies on a timeline, by number of step. */
type Energy = Map<number, number>;

/** What speaks on a timeline: its energy by step, and when, in flicks. */
interface Speech {
  energy: Energy;
  spans: [Flicks, Flicks][];
}

const known = new WeakMap<HearingReader, WeakMap<Piece, DuckLines>>();

/**
 * The lines of all clips of a piece that make way for speech: a pure function of the piece and what was heard in its material. Each
 * timeline by itself; what speaks within a nest speaks where the nest stands.
 */
export function duckLines(piece: Piece, hearing: HearingReader): DuckLines {
  const mine = known.get(hearing) ?? new WeakMap<Piece, DuckLines>();
  known.set(hearing, mine);
  const there = mine.get(piece);
  if (there) return there;
  const lines = new Map<string, readonly DuckPoint[]>();
  for (const [, timeline] of timelines(piece)) {
    const ducked = timeline.tracks.flatMap((track) =>
      track.clips.flatMap((clip) => {
        const under = underOf(clip, track);
        return under && isHeard(clip, piece.media[clip.media]) ? [{ clip, track, under }] : [];
      }),
    );
    if (ducked.length === 0) continue;
    const speech = speechOf(piece, timeline, hearing);
    for (const { clip, track, under } of ducked) lines.set(clip.id, lineOf(piece, clip, track, under, speech, hearing));
  }
  mine.set(piece, lines);
  return lines;
}

/** Whether anything in a piece makes way for speech, so that what was heard in its material must be known. */
export const makesWay = (piece: Piece) =>
  timelines(piece).some(([, { tracks }]) => tracks.some((track) => track.clips.some((clip) => underOf(clip, track) !== null)));

/** Whether what speaks on a track counts as speech. */
const maySpeak = (track: Track) => track.role === undefined || track.role === 'speech';

/** All that speaks on a timeline and makes way for nobody. */
function speechOf(piece: Piece, timeline: Timeline, hearing: HearingReader): Speech {
  const energy: Energy = new Map();
  const spans: [Flicks, Flicks][] = [];
  gather(piece, timeline, { energy, spans }, { shift: 0, from: 0, to: Infinity, gain: 1 }, hearing);
  return { energy, spans: joined(spans) };
}

/** How a nest's timeline stands on the one that is looked at. */
interface Standing {
  shift: Flicks;
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
      const [from, to] = [Math.max(standing.from, span.start + standing.shift), Math.min(standing.to, span.end + standing.shift)];
      if (to <= from) continue;
      const gain = standing.gain * gainOf(track.level ?? 0);
      const nest = piece.nests?.[clip.media];
      if (nest) {
        const shift = standing.shift + materialStart(clip);
        gather(piece, nest, into, { shift, from, to, gain: gain * gainOf(clip.level) }, hearing);
        continue;
      }
      const heard = hearing(clip.media);
      if (!heard) continue;
      const loud = materialGain(clip);
      const moved = (sample: number) => (sample - sampleShift(clip)) * FLICKS_PER_SAMPLE + standing.shift;
      for (const [first, last] of heard.speech) {
        const [begin, end] = [Math.max(from, moved(first)), Math.min(to, moved(last))];
        if (end <= begin) continue;
        into.spans.push([begin, end]);
        for (let step = Math.floor(begin / STEP); step * STEP < end; step += 1) {
          const moment = keyTime(clip, step * STEP - standing.shift);
          const material = Math.floor(toSamples(moment) / LOUDNESS_STEP);
          const power = energyAt(heard, material) * (gain * loud(moment)) ** 2;
          into.energy.set(step, (into.energy.get(step) ?? 0) + power);
        }
      }
    }
  }
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
function around(energy: (step: number) => number, step: number): number {
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
  const loud = materialGain({ ...clip, fadeIn: undefined, fadeOut: undefined });
  const gain = gainOf(track.level ?? 0);
  const span = soundSpan(clip);
  return (step) => {
    const at = step * STEP;
    if (at < span.start || at >= span.end) return 0;
    const moment = keyTime(clip, at);
    return energyAt(heard, Math.floor(toSamples(moment) / LOUDNESS_STEP)) * (gain * loud(moment)) ** 2;
  };
}

/** All of a clip's energies, step by step from its beginning to its end. */
export function clipEnergies(clip: Clip, track: Track, hearing: HearingReader): number[] {
  const own = clipEnergy(clip, track, hearing);
  const span = soundSpan(clip);
  const [first, last] = [Math.ceil(span.start / STEP), Math.floor(span.end / STEP)];
  return Array.from({ length: Math.max(0, last - first) }, (_, i) => own(first + i));
}

/** The line of one clip. */
function lineOf(piece: Piece, clip: Clip, track: Track, under: Under, speech: Speech, hearing: HearingReader): DuckPoint[] {
  const span = soundSpan(clip);
  const own = piece.nests?.[clip.media] ? () => 0 : clipEnergy(clip, track, hearing);
  const points: DuckPoint[] = [];
  for (const [from, to] of downs(speech.spans, under)) {
    if (to + under.up <= span.start || from - under.down >= span.end) continue;
    const wish = (at: Flicks) => {
      const step = Math.floor(at / STEP);
      const [voice, music] = [around((k) => speech.energy.get(k) ?? 0, step), around(own, step)];
      // What cannot be measured, a nest, goes down by as much as is asked.
      if (music <= 0) return own(step) === 0 && piece.nests?.[clip.media] ? -under.below : 0;
      return voice <= 0 ? null : Math.max(DEEPEST, Math.min(0, lufs(voice) - under.below - lufs(music)));
    };
    const stretch: DuckPoint[] = [];
    const [first, last] = [Math.max(from, span.start), Math.min(to, span.end)];
    for (let at = first; ; at = Math.min(last, at + SPACING * STEP)) {
      const db = wish(at) ?? stretch.at(-1)?.db ?? wish(from + under.early) ?? 0;
      stretch.push({ at, db });
      if (at >= last) break;
    }
    const [begin, end] = [stretch[0] as DuckPoint, stretch.at(-1) as DuckPoint];
    points.push(
      { at: from - under.down, db: 0 },
      { at: from, db: begin.db },
      ...thinned(stretch),
      { at: to, db: end.db },
      { at: to + under.up, db: 0 },
    );
  }
  return inOrder(points);
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

/** When it is down, in flicks: all through speech, from a little before, to a while after; pauses too short to come up in are left down. */
function downs(spans: readonly [Flicks, Flicks][], { early, down, up, hold }: Under): [Flicks, Flicks][] {
  const out: [Flicks, Flicks][] = [];
  for (const [from, to] of spans) {
    const last = out.at(-1);
    if (last && from - early - down < last[1] + up) last[1] = to + hold;
    else out.push([from - early, to + hold]);
  }
  return out;
}

/** Without the points that lie on the way between their neighbours. */
function thinned(points: readonly DuckPoint[]): DuckPoint[] {
  const kept: DuckPoint[] = [];
  for (let i = 0; i < points.length;) {
    kept.push(points[i] as DuckPoint);
    let next = i + 1;
    while (next + 1 < points.length && onTheWay(points, i, next + 1)) next += 1;
    i = next;
  }
  return kept;
}

function onTheWay(points: readonly DuckPoint[], from: number, to: number): boolean {
  const [a, b] = [points[from] as DuckPoint, points[to] as DuckPoint];
  for (let k = from + 1; k < to; k += 1) {
    const one = points[k] as DuckPoint;
    if (Math.abs(a.db + ((b.db - a.db) * (one.at - a.at)) / (b.at - a.at) - one.db) > NEAR) return false;
  }
  return true;
}

const inOrder = (points: readonly DuckPoint[]) => points.filter((one, i) => i === 0 || one.at > (points[i - 1] as DuckPoint).at);

/** How far a line is down at a time of its timeline, in dB. */
export function duckAt(line: readonly DuckPoint[], at: Flicks): number {
  const next = firstWhere(line, (point) => point.at > at);
  const [before, after] = [line[next - 1], line[next]];
  if (!before) return after ? (line[0] as DuckPoint).db : 0;
  if (!after) return before.db;
  return before.db + ((after.db - before.db) * (at - before.at)) / (after.at - before.at);
}

/** How far speech stands over a clip that makes way for it, in LU, and how much of the time within 1 LU of what is asked, or further; null where nobody speaks over it. */
export interface Clearance {
  over: number;
  kept: number;
}

/** What a clip's line comes to, of the loudness of both. */
export function clearanceOf(piece: Piece, id: string, hearing: HearingReader): Clearance | null {
  const found = findClip(piece, id);
  const under = found && underOf(found.clip, found.track);
  const line = duckLines(piece, hearing).get(id);
  if (!found || !under || !line) return null;
  const speech = speechOf(piece, found.timeline, hearing);
  const own = clipEnergy(found.clip, found.track, hearing);
  const lean = isMusicTrack(found.track) ? (piece.sound?.lean ?? 0) : 0;
  let [voice, music, steps, kept] = [0, 0, 0, 0];
  for (const [step, power] of speech.energy) {
    const sounding = own(step) * gainOf(duckAt(line, (step + 0.5) * STEP)) ** 2;
    if (own(step) <= 0 || power <= 0) continue;
    [voice, music, steps] = [voice + power, music + sounding, steps + 1];
    const ducked = (k: number) => own(k) * gainOf(duckAt(line, (k + 0.5) * STEP)) ** 2;
    const spoken = (k: number) => speech.energy.get(k) ?? 0;
    const both = (k: number) => (spoken(k) > 0 ? ducked(k) : 0);
    if (lufs(around(spoken, step)) - lufs(around(both, step)) + lean >= under.below - 1) kept += 1;
  }
  return steps === 0 || music <= 0 ? null : { over: lufs(voice) - lufs(music) + lean, kept: kept / steps };
}
