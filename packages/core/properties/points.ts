import type { Flicks } from '../time';
import { valueAt, type Curve } from './curve';
import { keysOf, type Key } from './keys';
import { withinLevels } from './level';

/** The points of an envelope are the keys of its curve. */
export const pointsOf = keysOf;

const curveOf = (keys: readonly Key[]): Curve =>
  keys.length === 0 ? 0 : { keys: keys.map((key) => ({ ...key, value: withinLevels(key.value) })) };
/** What a hand sets is set to a tenth of a dB. */
const tenth = (value: number) => Math.round(value * 10) / 10;

/** With a point where the line is, at a moment of the material; one that is there already stays. */
export function withPoint(curve: Curve, at: Flicks): Curve {
  const keys = pointsOf(curve);
  if (keys.some((key) => key.at === at)) return curve;
  const added: Key = { at, value: valueAt(curve, at), ease: 'even' };
  return curveOf([...keys, added].sort((a, b) => a.at - b.at));
}

export const withoutPoint = (curve: Curve, n: number): Curve => curveOf(pointsOf(curve).filter((_, i) => i !== n));

/** With point `n` later (in flicks of the material) and louder (dB), but not past its neighbours. */
export function movedPoint(curve: Curve, n: number, by: Flicks, louder: number): Curve {
  const keys = pointsOf(curve);
  const [least, most] = [(keys[n - 1]?.at ?? -Infinity) + 1, (keys[n + 1]?.at ?? Infinity) - 1];
  return curveOf(
    keys.map((key, i) =>
      i === n ? { ...key, at: Math.round(Math.max(least, Math.min(most, key.at + by))), value: tenth(key.value + louder) } : key,
    ),
  );
}

/** With the points on either side of a moment louder by so many dB: those two alone, or the one where it is before or after all. */
export function raised(curve: Curve, at: Flicks, louder: number): Curve {
  const keys = pointsOf(curve);
  const after = keys.findIndex((key) => key.at > at);
  const pair = after === -1 ? [keys.length - 1] : [after - 1, after];
  return curveOf(keys.map((key, i) => (pair.includes(i) ? { ...key, value: tenth(key.value + louder) } : key)));
}

/** Louder by so many dB (quieter, below 0) between two moments of the material, with slopes of a length outside of them; the rest stays as it is. */
export function between(curve: Curve, from: Flicks, to: Flicks, louder: number, slope: Flicks): Curve {
  const edges = [from - slope, from, to, to + slope];
  const kept = edges.reduce(withPoint, curve);
  return curveOf(pointsOf(kept).map((key) => (key.at >= from && key.at <= to ? { ...key, value: key.value + louder } : key)));
}

/** Without the points that can go and leave the line within so many dB of where it was. */
export function simplified(curve: Curve, within: number): Curve {
  const keys = [...pointsOf(curve)];
  for (let i = 1; i < keys.length - 1;) {
    const fewer = curveOf(keys.filter((_, k) => k !== i));
    const gone = keys[i] as Key;
    const near = pointsOf(curve).every((key) => Math.abs(valueAt(fewer, key.at) - key.value) <= within);
    if (near && gone.ease !== 'hold') keys.splice(i, 1);
    else i += 1;
  }
  return curveOf(keys);
}

/** The same points so many flicks of the material later. */
export const moved = (curve: Curve, by: Flicks): Curve => curveOf(pointsOf(curve).map((key) => ({ ...key, at: key.at + Math.round(by) })));
