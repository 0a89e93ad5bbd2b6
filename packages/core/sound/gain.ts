import { LEVEL_MIN, soundSpan, speedOf, timeOfKey, type Clip } from '../piece';
import { EASES, FADES, keys, valueOf, type Curve } from '../properties';
import type { Flicks } from '../time';
import { gainOf } from './stereo';

/** A clip on some ruler: samples of the piece, or flicks of the timeline. */
interface Standing {
  /** Where its sound begins and ends there. */
  start: number;
  end: number;
  /** Where a moment of its material lies. */
  of(moment: Flicks): number;
  /** Units in a flick. */
  unit: number;
}

const DB = Math.LN10 / 20;

/**
 * How loud a clip's sound is made at every place of a ruler: its level and envelope, with its fades, as a factor. Depends on nothing
 * but the place, so that a range worked out in two pieces is equal to the whole.
 */
export function gainCurve(clip: Clip, standing: Standing): (at: number) => number {
  const level = levelCurve(clip, standing);
  const { start, end, unit } = standing;
  const [into, out] = [valueOf(clip, 'fadeIn') * unit, valueOf(clip, 'fadeOut') * unit];
  if (into === 0 && out === 0) return level;
  const [rise, fall] = [FADES[valueOf(clip, 'fadeInCurve')], FADES[valueOf(clip, 'fadeOutCurve')]];
  return (at) => {
    let gain = level(at);
    if (at - start < into) gain *= rise(Math.max(0, (at - start) / into));
    if (end - at < out) gain *= fall(Math.max(0, (end - at) / out));
    return gain;
  };
}

/** Level and envelope together; between two points of the envelope it goes evenly in dB. */
function levelCurve(clip: Clip, { of }: Standing): (at: number) => number {
  const curve: Curve = valueOf(clip, 'envelope');
  if (typeof curve === 'number') {
    const gain = gainOf(clip.level + curve);
    return () => gain;
  }
  // Going backwards, the last point of the material is the first on the ruler.
  const way = speedOf(clip) < 0 ? -1 : 1;
  const inOrder = keys.keysOf(way < 0 ? keys.mirrored(curve, 0, 0) : curve);
  const points = inOrder.map(({ at, value, ease }) => ({ at: of(at * way), db: clip.level + value, ease: EASES[ease] }));
  const [first] = points;
  const last = points.at(-1);
  let i = 0; // where the last place was found: they are mostly asked for one after the other
  return (at) => {
    if (!first || !last) return 1;
    if (at <= first.at) return gainOf(first.db);
    if (at >= last.at) return gainOf(last.db);
    while (i > 0 && (points[i] as typeof first).at > at) i -= 1;
    while (i < points.length - 2 && (points[i + 1] as typeof first).at <= at) i += 1;
    const [from, to] = [points[i] as typeof first, points[i + 1] as typeof first];
    const db = from.db + (to.db - from.db) * from.ease((at - from.at) / (to.at - from.at));
    return db <= LEVEL_MIN ? 0 : Math.exp(db * DB);
  };
}

/** How loud a clip's sound is made at each moment of its material (flicks): what a waveform is drawn with. */
export function materialGain(clip: Clip): (moment: Flicks) => number {
  const { start, end } = soundSpan(clip);
  const gain = gainCurve(clip, { start, end, of: (moment) => timeOfKey(clip, moment), unit: 1 });
  return (moment) => gain(timeOfKey(clip, moment));
}
