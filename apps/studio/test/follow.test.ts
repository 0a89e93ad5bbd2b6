import { fromSeconds, type Flicks } from '@flimzy/core/time';
import fc from 'fast-check';
import { follow } from '../src/preview/follow';

const rate = { num: 30, den: 1 };
const FRAMES = 90;
const FRAME = 1000 / 30;

/**
 * Plays three seconds with a clock of its own, which goes after `stands` ms: frame `n` takes `cost(n)` ms to draw. Gives when what was
 * shown, and the figures.
 */
async function played(cost: (n: number) => number, speed = 1, doc: (ms: number) => number = () => 0, stands = 0) {
  let ms = 0;
  const seen: { n: number; ms: number; doc: number }[] = [];
  const clock = (): Flicks => Math.round(fromSeconds((Math.max(0, ms - stands) / 1000) * speed));
  const figures = await follow<number>({
    clock,
    going: () => ms >= stands,
    speed,
    playing: () => ({ rate, final: FRAMES - 1, end: fromSeconds(FRAMES / 30) }),
    draw: (n) => {
      const of = doc(ms);
      ms += cost(n);
      return Promise.resolve(of);
    },
    fits: (of) => of === doc(ms),
    show: (of, n) => seen.push({ n, ms, doc: of }),
    now: () => ms,
    wait: () => {
      ms += 4;
      return Promise.resolve();
    },
  });
  return { seen, figures, frames: seen.map(({ n }) => n) };
}

const ALL = Array.from({ length: FRAMES }, (_, n) => n);

describe('a preview that plays', () => {
  it('shows every frame, each when it is due, though some take longer to draw than they last', async () => {
    const { seen, frames, figures } = await played((n) => (n % 5 === 3 ? 55 : 20));
    expect(frames).toEqual(ALL);
    expect(figures).toEqual({ due: FRAMES - 1, shown: FRAMES - 1, late: 0 });
    for (const { n, ms } of seen.slice(1)) expect(ms - n * FRAME).toBeLessThan(FRAME);
  });

  it('has some ready before two that take long, and shows those in time as well', async () => {
    const { seen, frames } = await played((n) => (n % 12 === 8 || n % 12 === 9 ? 55 : 12));
    expect(frames).toEqual(ALL);
    for (const { n, ms } of seen) expect(ms - n * FRAME).toBeLessThan(FRAME);
  });

  it('comes to rest after each frame it shows, so that it is seen before the next one is drawn', async () => {
    const order: string[] = [];
    let n = 0;
    await follow<null>({
      clock: () => fromSeconds(9),
      going: () => true,
      speed: 1,
      playing: () => (n < 3 ? { rate, final: FRAMES - 1, end: fromSeconds(FRAMES / 30) } : null),
      draw: () => {
        order.push('drawn');
        return Promise.resolve(null);
      },
      fits: () => true,
      show: () => {
        order.push('shown');
        n += 1;
      },
      now: () => 0,
      wait: () => {
        order.push('rest');
        return Promise.resolve();
      },
    });
    expect(order.slice(0, 3)).toEqual(['drawn', 'shown', 'rest']);
  });

  it('draws the first ones while the clock still stands, however long they take, and then misses none of them', async () => {
    const slow = (n: number) => (n < 4 ? 90 : 25);
    const { seen, frames, figures } = await played(slow, 1, undefined, 400);
    expect(frames).toEqual(ALL);
    expect(figures.late).toBe(0);
    expect(seen[0]!.ms).toBe(90);
    for (const { n, ms } of seen.slice(1)) expect(ms).toBeGreaterThanOrEqual(400 + n * FRAME - 0.001);
    expect((await played(slow)).figures.late).toBeGreaterThan(2);
  });

  it('goes on with the next one after a single slow one', async () => {
    const { frames } = await played((n) => (n === 30 ? 130 : 5));
    const after = frames.filter((n) => n > 30);
    expect([frames.includes(30), after[0]! <= 34]).toEqual([true, true]);
    expect(after).toEqual(ALL.slice(after[0]));
  });

  it('passes over what cannot be there in time, is never a frame ahead nor ever further behind, and ends on the last one', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.integer({ min: 0, max: 120 }), { minLength: 7, maxLength: 7 }),
        fc.constantFrom(0.5, 1, 2),
        async (costs, speed) => {
          const { seen, frames, figures } = await played((n) => costs[n % costs.length]!, speed);
          expect(frames.at(-1)).toBe(FRAMES - 1);
          expect(figures.shown + figures.late).toBe(figures.due);
          const slowest = Math.max(...costs) + 8;
          for (const { n, ms } of seen) {
            expect(n * FRAME).toBeLessThanOrEqual(ms * speed + 0.001);
            if (n < FRAMES - 1) expect(ms * speed - n * FRAME).toBeLessThan(2 * slowest * speed + FRAME);
          }
        },
      ),
      { seed: 7 },
    );
  });

  it('draws anew what was drawn of a piece that has changed since', async () => {
    const { seen } = await played(
      () => 10,
      1,
      (ms) => Math.floor(ms / 250),
    );
    for (const { ms, doc } of seen) expect(doc).toBe(Math.floor(ms / 250));
  });
});
