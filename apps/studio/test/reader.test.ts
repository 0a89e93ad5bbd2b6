import { fromSeconds } from '@flimzy/core/time';
import { ClipReader } from '../src/preview/reader';
import type { VideoSource } from '../src/preview/sources';

/** A video of 60 even frames at 30 fps that counts what is decoded of it and what is left open. */
function fakeVideo() {
  const counts = { decoded: 0, open: 0 };
  const sample = (n: number) => {
    counts.decoded += 1;
    counts.open += 1;
    return { timestamp: n / 30, close: () => (counts.open -= 1), rotation: 0, toVideoFrame: () => ({ n }) };
  };
  const at = (seconds: number) => Math.max(0, Math.min(59, Math.floor(seconds * 30 + 1e-6)));
  const sink = { getSample: (seconds: number) => Promise.resolve(sample(at(seconds))) };
  const rowFrom = (from: number) => {
    let n = at(from);
    return { next: () => Promise.resolve(n < 60 ? sample(n++) : null), close: () => Promise.resolve() };
  };
  const frames = { first: 0, num: 30, den: 1, count: 60 };
  const source = { ready: () => Promise.resolve({ frames, sink, rowFrom }) } as unknown as VideoSource;
  return { source, counts };
}

const played = async (reader: ClipReader, order: readonly number[], backwards: boolean) => {
  const shown: number[] = [];
  for (const n of order) shown.push((await reader.frameAt(fromSeconds(n / 30), true, backwards))!.frame);
  return shown;
};

describe('reading the frames of a clip', () => {
  it('gives them one by one backwards, decodes hardly more than are shown, and leaves none open', async () => {
    const { source, counts } = fakeVideo();
    const reader = new ClipReader(source);
    const order = Array.from({ length: 60 }, (_, i) => 59 - i);
    expect(await played(reader, order, true)).toEqual(order);
    expect(counts.decoded).toBeLessThanOrEqual(61);
    expect(counts.open).toBeLessThanOrEqual(16);
    expect(await played(reader, [0, 1, 2, 3], false)).toEqual([0, 1, 2, 3]);
    reader.close();
    await new Promise((resolve) => setTimeout(resolve, 0));
    expect(counts.open).toBe(0);
  });

  it('stands ready to go on from a frame that is looked at, which stays, and closes what it got ready', async () => {
    const { source, counts } = fakeVideo();
    const reader = new ClipReader(source);
    await reader.getReady(fromSeconds(0)); // of what was never shown nothing is read
    expect(counts.decoded).toBe(0);
    expect((await reader.frameAt(fromSeconds(20 / 30), false))!.frame).toBe(20);
    await reader.getReady(fromSeconds(21 / 30));
    await reader.getReady(fromSeconds(21 / 30));
    const ready = counts.decoded;
    expect(await played(reader, [20, 21], false)).toEqual([20, 21]);
    expect(counts.decoded).toBe(ready + 1); // it was there, and the one after says that no later one is meant
    expect(await played(reader, [22, 23], false)).toEqual([22, 23]);
    expect((await reader.frameAt(fromSeconds(5 / 30), false))!.frame).toBe(5);
    await reader.getReady(fromSeconds(6 / 30));
    expect((await reader.frameAt(fromSeconds(40 / 30), false))!.frame).toBe(40);
    await reader.getReady(fromSeconds(41 / 30));
    reader.close();
    await new Promise((resolve) => setTimeout(resolve, 0));
    expect(counts.open).toBe(0);
  });

  it('plays on where getting ready failed: nothing is left of what failed', async () => {
    const { source, counts } = fakeVideo();
    const video = await source.ready();
    let failing = true;
    const rowFrom = (from: number) => {
      const row = video.rowFrom(from);
      return { ...row, next: () => (failing ? Promise.reject(new Error('the decoder was taken away')) : row.next()) };
    };
    const broken = { ready: () => Promise.resolve({ ...video, rowFrom }) } as unknown as VideoSource;
    const reader = new ClipReader(broken);
    expect((await reader.frameAt(fromSeconds(20 / 30), false))!.frame).toBe(20);
    await expect(reader.getReady(fromSeconds(21 / 30))).rejects.toThrow('taken away');
    failing = false;
    expect(await played(reader, [20, 21, 22], false)).toEqual([20, 21, 22]);
    reader.close();
    await new Promise((resolve) => setTimeout(resolve, 0));
    expect(counts.open).toBe(0);
  });

  it('plays on where a decoder that stood idle was taken away; one that fails at once is told', async () => {
    const { source, counts } = fakeVideo();
    const video = await source.ready();
    let [begun, taken] = [0, false];
    const rowFrom = (from: number) => {
      const row = video.rowFrom(from);
      const mine = (begun += 1);
      return { ...row, next: () => (taken && mine === 1 ? Promise.reject(new Error('taken away')) : row.next()) };
    };
    const idle = { ready: () => Promise.resolve({ ...video, rowFrom }) } as unknown as VideoSource;
    const reader = new ClipReader(idle);
    expect(await played(reader, [10, 11, 12], false)).toEqual([10, 11, 12]);
    taken = true;
    expect(await played(reader, [14, 15, 16], false)).toEqual([14, 15, 16]);
    expect(begun).toBe(2);
    reader.close();
    const failing = { ...video, rowFrom: () => ({ next: () => Promise.reject(new Error('no decoder')), close: () => Promise.resolve() }) };
    const broken = new ClipReader({ ready: () => Promise.resolve(failing) } as unknown as VideoSource);
    await expect(broken.frameAt(0, true)).rejects.toThrow('no decoder');
    broken.close();
    await new Promise((resolve) => setTimeout(resolve, 0));
    expect(counts.open).toBe(0);
  });

  it('gives every second one at double speed, either way, and the one asked for after a jump', async () => {
    const { source, counts } = fakeVideo();
    const reader = new ClipReader(source);
    const down = Array.from({ length: 25 }, (_, i) => 50 - 2 * i);
    expect(await played(reader, down, true)).toEqual(down);
    expect(await played(reader, [...down].reverse(), false)).toEqual([...down].reverse());
    expect((await reader.frameAt(fromSeconds(31 / 30), false))!.frame).toBe(31);
    expect(await played(reader, [30, 29, 12], true)).toEqual([30, 29, 12]);
    reader.close();
    await new Promise((resolve) => setTimeout(resolve, 0));
    expect(counts.open).toBe(0);
  });
});
