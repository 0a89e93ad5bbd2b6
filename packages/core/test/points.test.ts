import fc from 'fast-check';
import { points, valueAt, type Curve } from '../properties';

const curves = fc
  .uniqueArray(fc.record({ at: fc.integer({ min: 0, max: 10_000 }), value: fc.integer({ min: -400, max: 100 }) }), {
    selector: (key) => key.at,
    maxLength: 12,
  })
  .map((keys): Curve =>
    keys.length === 0
      ? 0
      : { keys: keys.sort((a, b) => a.at - b.at).map(({ at, value }) => ({ at, value: value / 10, ease: 'even' as const })) },
  );
const moments = fc.integer({ min: -500, max: 10_500 });

describe('points of an envelope', () => {
  it('are added on the line and change nothing; taken away again the line is as it was', () => {
    fc.assert(
      fc.property(curves, moments, moments, (curve, at, look) => {
        const more = points.withPoint(curve, at);
        expect(Math.abs(valueAt(more, look) - valueAt(curve, look))).toBeLessThanOrEqual(0.0001);
        const n = points.pointsOf(more).findIndex((key) => key.at === at);
        if (points.pointsOf(more).length > points.pointsOf(curve).length) expect(points.withoutPoint(more, n)).toEqual(curve);
      }),
    );
  });

  it('stay in order and within what a level can be, however they are pulled', () => {
    fc.assert(
      fc.property(curves, fc.nat(11), fc.integer(), fc.integer({ min: -90, max: 90 }), (curve, n, by, louder) => {
        const keys = points.pointsOf(points.movedPoint(curve, n, by % 20_000, louder));
        keys.forEach((key, i) => {
          if (i > 0) expect(key.at).toBeGreaterThan(keys[i - 1]!.at);
          expect(key.value).toBeGreaterThanOrEqual(-60);
          expect(key.value).toBeLessThanOrEqual(14);
        });
      }),
    );
  });

  it('of a quieter stretch lower it by as much as was asked, and nothing beyond its slopes', () => {
    fc.assert(
      fc.property(curves, fc.integer({ min: 100, max: 9_000 }), fc.integer({ min: 1, max: 900 }), moments, (curve, from, length, look) => {
        const to = from + length;
        const quieter = points.between(curve, from, to, -6, 50);
        const change = valueAt(quieter, look) - valueAt(curve, look);
        if (look >= from && look <= to) expect(change).toBeCloseTo(-6, 4);
        if (look <= from - 50 || look >= to + 50) expect(Math.abs(change)).toBeLessThanOrEqual(0.0001);
      }),
    );
    expect(points.between(0, 100, 200, -12, 10)).toEqual({
      keys: [
        { at: 90, value: 0, ease: 'even' },
        { at: 100, value: -12, ease: 'even' },
        { at: 200, value: -12, ease: 'even' },
        { at: 210, value: 0, ease: 'even' },
      ],
    });
  });

  it('are fewer when simplified, and the line stays within what was asked of every one that was there', () => {
    fc.assert(
      fc.property(curves, (curve) => {
        const simple = points.simplified(curve, 1);
        expect(points.pointsOf(simple).length).toBeLessThanOrEqual(points.pointsOf(curve).length);
        for (const key of points.pointsOf(curve)) expect(Math.abs(valueAt(simple, key.at) - key.value)).toBeLessThanOrEqual(1.0001);
      }),
    );
    const line: Curve = { keys: [0, 10, 20, 30].map((at) => ({ at, value: at / 10, ease: 'even' as const })) };
    expect(points.pointsOf(points.simplified(line, 0.1))).toHaveLength(2);
  });

  it('on either side of a finger are raised together, no other', () => {
    const line: Curve = { keys: [0, 10, 20, 30].map((at) => ({ at, value: 0, ease: 'even' as const })) };
    expect(points.pointsOf(points.raised(line, 15, 3)).map((key) => key.value)).toEqual([0, 3, 3, 0]);
    expect(points.pointsOf(points.raised(line, 40, 3)).map((key) => key.value)).toEqual([0, 0, 0, 3]);
  });
});
