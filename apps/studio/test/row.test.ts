import { VideoSampleSink } from 'mediabunny';
import { Pace } from '../src/preview/row';

/** A decoder behind a pace: it has packets for ever, and gives a frame for each of them once it has had `delay` more. */
function decoder(delay: number) {
  const pace = new Pace();
  const counts = { packets: 0, most: 0, taken: 0 };
  const frames: (() => void)[] = [];
  let over = false;
  const fed = (async () => {
    while (!over) {
      await pace.room();
      counts.packets += 1;
      counts.most = Math.max(counts.most, counts.packets - counts.taken);
      if (counts.packets > delay) frames.shift()?.();
      // As a decoder gives its frames: not in the same turn.
      await new Promise((resolve) => setImmediate(resolve));
    }
  })();
  const take = async () => {
    const ready = counts.packets - delay > counts.taken;
    await pace.take(ready ? Promise.resolve() : new Promise<void>((resolve) => frames.push(resolve)));
    counts.taken += 1;
  };
  const end = () => {
    over = true;
    pace.end();
    return fed;
  };
  return { counts, take, end };
}

const turns = async (n: number) => {
  for (let i = 0; i < n; i += 1) await new Promise((resolve) => setImmediate(resolve));
};

describe('decoding in a row', () => {
  it('stands between the library and its packets: a version that takes them elsewhere would fill memory again without a word', () => {
    expect(Object.getOwnPropertyNames(VideoSampleSink.prototype)).toContain('_createPacketSink');
  });

  it('goes eight frames ahead of the one that was taken, and no further', async () => {
    const { counts, take, end } = decoder(0);
    for (let n = 1; n <= 30; n += 1) {
      await take();
      await turns(20);
      expect(counts.packets - n).toBe(8);
    }
    expect(counts.most).toBeLessThanOrEqual(9);
    await end();
  });

  it('gives a decoder that wants many packets before its first frame as many as it wants', async () => {
    const { counts, take, end } = decoder(25);
    for (let n = 1; n <= 10; n += 1) await take();
    expect(counts.packets).toBeGreaterThanOrEqual(35);
    await end();
  });

  it('ends what waits when nobody takes any more', async () => {
    const { counts, end } = decoder(0);
    await turns(20);
    expect(counts.packets).toBe(8);
    await end();
    expect(counts.packets).toBeLessThanOrEqual(9);
  });
});
