import fc from 'fast-check';
import { loopIn, roundAt, stretches, within } from '../src/preview/rounds';

const loops = fc
  .record({ from: fc.nat(500), length: fc.integer({ min: 1, max: 300 }) })
  .map(({ from, length }) => ({ from, to: from + length }));

describe('what is played again and again', () => {
  it('goes on one by one, and from its end to its start', () => {
    fc.assert(
      fc.property(loops, fc.nat(700), (loop, before) => {
        const begin = Math.max(0, loop.to - 1 - before);
        const all = Array.from({ length: 1000 }, (_, n) => within(begin + n, loop));
        expect(all[0]).toBe(begin);
        expect(all.slice(1).filter((here, n) => here !== (all[n]! + 1 === loop.to ? loop.from : all[n]! + 1))).toEqual([]);
      }),
    );
  });

  it('is a whole number of rounds and the rest, whatever it is counted from', () => {
    fc.assert(
      fc.property(loops, fc.nat(400), fc.nat(2000), (loop, before, count) => {
        const from = Math.max(0, loop.to - 1 - before);
        const all = stretches(from, from + count, loop);
        const one = (at: number) => all.flatMap((part) => Array.from({ length: part.to - part.from }, (_, n) => part.from + n))[at];
        expect(all.reduce((sum, part) => sum + part.to - part.from, 0)).toBe(count);
        for (const n of [0, Math.floor(count / 2), count - 1]) if (n >= 0 && n < count) expect(one(n)).toBe(within(from + n, loop));
        for (const part of all.slice(1)) expect(part.from).toBe(loop.from);
      }),
    );
  });

  it('is counted in rounds; without it all goes on', () => {
    const loop = { from: 10, to: 14 };
    expect([0, 13, 14, 17, 18].map((at) => roundAt(at, loop))).toEqual([0, 0, 1, 1, 2]);
    expect([roundAt(99, null), within(99, null)]).toEqual([0, 99]);
    expect(stretches(3, 9, null)).toEqual([{ from: 3, to: 9 }]);
    expect(loopIn({ from: 10, to: 14 }, (time) => Math.floor(time / 10))).toBeNull();
    expect(loopIn({ from: 10, to: 40 }, (time) => Math.floor(time / 10))).toEqual({ from: 1, to: 4 });
  });
});
