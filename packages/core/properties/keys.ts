import type { Flicks } from '../time';
import { changes, valueAt, type Curve, type Ease } from './curve';

export type Key = Extract<Curve, object>['keys'][number];

/** The keys of a curve, in order; none where it is the same throughout. */
export const keysOf = (curve: Curve): readonly Key[] => (typeof curve === 'number' ? [] : curve.keys);

/** The key of a curve at a moment of the material, if there is one. */
export const keyAt = (curve: Curve, at: Flicks): Key | undefined => keysOf(curve).find((key) => key.at === at);

const ordered = (keys: Key[]): Curve => ({ keys: keys.sort((a, b) => a.at - b.at) });

/** With a value at a moment: throughout where the curve does not change; else by a key there, made or changed. */
export function withValue(curve: Curve, at: Flicks, value: number): Curve {
  return changes(curve) ? withKey(curve, at, value) : value;
}

/** With a key at a moment, of the value that the curve has there or of another one. New keys start and end slowly. */
export function withKey(curve: Curve, at: Flicks, value = valueAt(curve, at), ease: Ease = keyAt(curve, at)?.ease ?? 'slowBoth'): Curve {
  return ordered([...keysOf(curve).filter((key) => key.at !== at), { at, value, ease }]);
}

/** Without the key at a moment; the last one leaves its value throughout. */
export function withoutKey(curve: Curve, at: Flicks): Curve {
  const keys = keysOf(curve).filter((key) => key.at !== at);
  return keys.length === 0 ? valueAt(curve, at) : { keys };
}

/** With the key of one moment at another; one that stood there gives way. */
export function withKeyMoved(curve: Curve, from: Flicks, to: Flicks): Curve {
  const key = keyAt(curve, from);
  return key ? ordered([...keysOf(curve).filter((one) => one.at !== from && one.at !== to), { ...key, at: to }]) : curve;
}

/** With the way from the key of a moment on to the next. */
export function withEase(curve: Curve, at: Flicks, ease: Ease): Curve {
  return keyAt(curve, at) ? withKey(curve, at, valueAt(curve, at), ease) : curve;
}

/** The same change the other way round between two moments: its keys mirrored in time, each way on as it was. */
export function mirrored(curve: Curve, from: Flicks, to: Flicks): Curve {
  const all = keysOf(curve);
  const turned = all.map((key, n): Key => ({ at: from + to - key.at, value: key.value, ease: EASED_BACK[(all[n - 1] ?? key).ease] }));
  return all.length === 0 ? curve : ordered(turned);
}

/** How a change is eased that goes the other way. */
const EASED_BACK: Record<Ease, Ease> = { even: 'even', slowStart: 'slowEnd', slowEnd: 'slowStart', slowBoth: 'slowBoth', hold: 'hold' };

/** The same keys so many flicks of the material later. */
export const later = (curve: Curve, by: Flicks): Curve =>
  typeof curve === 'number' ? curve : { keys: curve.keys.map((key) => ({ ...key, at: key.at + by })) };
