import {
  findClip,
  isHeard,
  isMusicTrack,
  keyTime,
  soundSpan,
  timelineAt,
  timelines,
  underOf,
  type Clip,
  type Piece,
  type Timeline,
  type Track,
} from '../piece';
import { points, valueAt, valueOf, withinLevels, type Curve, type Under } from '../properties';
import { firstWhere, type Flicks } from '../time';
import { lufs, type HearingReader } from './hearing';
import { around, clipEnergy, speechOf, STEP, type Speech } from './speaking';
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

/** From one point of a line to the next, in steps, and how much a point may be off before it is needed, in dB. */
const SPACING = 5;
const NEAR = 0.2;

/** The lowest a line goes, in dB. */
const DEEPEST = -50;

/** What was worked out for a piece: the lines, and what speaks on each timeline on which anything makes way. */
interface Worked {
  lines: DuckLines;
  speech: ReadonlyMap<Timeline, Speech>;
}

const known = new WeakMap<HearingReader, WeakMap<Piece, Worked>>();

/**
 * The lines of all clips of a piece that make way for speech: a pure function of the piece and what was heard in its material. Each
 * timeline by itself; what speaks within a nest speaks where the nest stands.
 */
export const duckLines = (piece: Piece, hearing: HearingReader): DuckLines => workOut(piece, hearing).lines;

function workOut(piece: Piece, hearing: HearingReader): Worked {
  const mine = known.get(hearing) ?? new WeakMap<Piece, Worked>();
  known.set(hearing, mine);
  const there = mine.get(piece);
  if (there) return there;
  const lines = new Map<string, readonly DuckPoint[]>();
  const speech = new Map<Timeline, Speech>();
  for (const [, timeline] of timelines(piece)) {
    const ducked = timeline.tracks.flatMap((track) =>
      track.clips.flatMap((clip) => {
        const under = underOf(clip, track);
        return under && isHeard(clip, piece.media[clip.media]) ? [{ clip, track, under }] : [];
      }),
    );
    if (ducked.length === 0) continue;
    const spoken = speechOf(piece, timeline, hearing);
    speech.set(timeline, spoken);
    for (const { clip, track, under } of ducked) lines.set(clip.id, lineOf(piece, clip, track, under, spoken, hearing));
  }
  const worked = { lines, speech };
  mine.set(piece, worked);
  return worked;
}

/** Whether anything in a piece makes way for speech, so that what was heard in its material must be known. */
export const makesWay = (piece: Piece) =>
  timelines(piece).some(([, { tracks }]) => tracks.some((track) => track.clips.some((clip) => underOf(clip, track) !== null)));

/** The line of one clip. */
function lineOf(piece: Piece, clip: Clip, track: Track, under: Under, speech: Speech, hearing: HearingReader): DuckPoint[] {
  const span = soundSpan(clip);
  const nest = piece.nests?.[clip.media] !== undefined;
  const own = clipEnergy(clip, track, hearing);
  const points: DuckPoint[] = [];
  for (const [from, to] of downs(speech.spans, under)) {
    if (to + under.up <= span.start || from - under.down >= span.end) continue;
    const wish = (at: Flicks) => {
      const step = Math.floor(at / STEP);
      const [voice, music] = [around((k) => speech.energy.get(k) ?? 0, step), around(own, step)];
      // What cannot be measured, a nest, goes down by as much as is asked.
      if (music <= 0) return nest ? -under.below : 0;
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

/** The envelope with which a clip sounds as it does with its line, without one: what was worked out, in points for the hand. */
export function envelopeWith(clip: Clip, line: readonly DuckPoint[]): Curve {
  const span = soundSpan(clip);
  const own = valueOf(clip, 'envelope');
  const turns = line.map((point) => point.at).filter((at) => at > span.start && at < span.end);
  const kept = points.pointsOf(own).map((key) => timelineAt(clip, key.at));
  const times = [...new Set([span.start, ...turns, ...kept, span.end])].sort((a, b) => a - b);
  const keys = times.map((at) => {
    const moment = keyTime(clip, at);
    return { at: moment, value: withinLevels(valueAt(own, moment) + duckAt(line, at)), ease: 'even' as const };
  });
  keys.sort((a, b) => a.at - b.at);
  return points.simplified({ keys: keys.filter((key, i) => i === 0 || key.at > (keys[i - 1]?.at ?? 0)) }, NEAR / 2);
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
  const { lines, speech: spoken } = workOut(piece, hearing);
  const [line, speech] = [lines.get(id), found && spoken.get(found.timeline)];
  if (!found || !under || !line || !speech) return null;
  const own = clipEnergy(found.clip, found.track, hearing);
  const lean = isMusicTrack(found.track) ? (piece.sound?.lean ?? 0) : 0;
  const ducked = (step: number) => own(step) * gainOf(duckAt(line, (step + 0.5) * STEP)) ** 2;
  const voiceAt = (step: number) => speech.energy.get(step) ?? 0;
  const both = (step: number) => (voiceAt(step) > 0 ? ducked(step) : 0);
  let [voice, music, steps, kept] = [0, 0, 0, 0];
  for (const [step, power] of speech.energy) {
    if (own(step) <= 0 || power <= 0) continue;
    [voice, music, steps] = [voice + power, music + ducked(step), steps + 1];
    if (lufs(around(voiceAt, step)) - lufs(around(both, step)) + lean >= under.below - 1) kept += 1;
  }
  return steps === 0 || music <= 0 ? null : { over: lufs(voice) - lufs(music) + lean, kept: kept / steps };
}
