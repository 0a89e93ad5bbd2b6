import fc from 'fast-check';
import { coarser, PeakCollector } from '../analyse';
import { EDGE_RAMP, gainOf, mix, peakOf, type PcmReader } from '../sound';
import { frameLength, toSamples } from '../time';
import { addFrames, does, emptyPiece, MUSIC, play, VIDEO, wishes } from './making';

const F = frameLength({ num: 30, den: 1 });

/** Material in which every sample tells its own place: a ramp that repeats. */
const read: PcmReader = (media, from, count) => {
  const value = (n: number) => (((n * (media === 'm' ? 7 : 3)) % 2000) / 2000 - 0.5) * 0.5;
  const left = Float32Array.from({ length: count }, (_, i) => value(from + i));
  return { left, right: left.map((v) => -v) };
};
const constant: PcmReader = (_, __, count) => ({ left: new Float32Array(count).fill(0.5), right: new Float32Array(count).fill(0.5) });

const joinOf = (a: Float32Array, b: Float32Array) =>
  Float32Array.from({ length: a.length + b.length }, (_, i) => (i < a.length ? a[i]! : b[i - a.length]!));
const same = (a: Float32Array, b: Float32Array) => Buffer.compare(Buffer.from(a.buffer), Buffer.from(b.buffer)) === 0;

describe('the mix', () => {
  it('is the same however the range is cut', () => {
    fc.assert(
      fc.property(wishes(15), fc.nat(200_000), fc.integer({ min: 2, max: 30_000 }), fc.nat(1000), (list, from, length, cut) => {
        const piece = play(addFrames(emptyPiece(), MUSIC, 0, 400, 'sound-1'), list);
        const at = from + 1 + Math.floor((cut / 1001) * (length - 1));
        const whole = mix(piece, from, from + length, read);
        const [a, b] = [mix(piece, from, at, read), mix(piece, at, from + length, read)];
        expect(same(joinOf(a.left, b.left), whole.left) && same(joinOf(a.right, b.right), whole.right)).toBe(true);
      }),
      { numRuns: 40 },
    );
  });

  it('plays the sample that belongs to the picture', () => {
    const piece = addFrames(emptyPiece(), VIDEO, 30, 60);
    const out = mix(piece, 20_000, 20_010, read);
    const source = read('v', toSamples(30 * F) + 20_000, 10);
    expect([...out.left]).toEqual([...source!.left]);
  });

  it('cannot be told from the uncut clip after a split', () => {
    const piece = addFrames(emptyPiece(), VIDEO, 30, 60);
    const cut = does(piece, 'split', { clips: [piece.tracks[0]!.clips[0]!.id], at: 31 * F });
    const end = toSamples(60 * F);
    expect([...mix(cut, 0, end, read).left]).toEqual([...mix(piece, 0, end, read).left]);
  });

  it('starts and ends a clip with a short ramp, so that no cut clicks', () => {
    const piece = addFrames(emptyPiece(), VIDEO, 30, 60);
    const { left } = mix(piece, 0, toSamples(60 * F), constant);
    expect(left[0]).toBe(0);
    expect(left.at(-1)).toBeCloseTo(0, 6);
    expect(left[EDGE_RAMP]).toBe(0.5);
    const steps = left.subarray(1).map((one, i) => Math.abs(one - left[i]!));
    expect(steps.reduce((most, one) => Math.max(most, one), 0)).toBeLessThan(0.5 / EDGE_RAMP + 1e-6);
  });

  it('turns levels in dB into factors; −60 is silence, muted tracks too', () => {
    expect(gainOf(0)).toBe(1);
    expect(gainOf(-6)).toBeCloseTo(0.5012, 4);
    expect(gainOf(-60)).toBe(0);
    const piece = addFrames(emptyPiece(), VIDEO, 0, 60);
    const quiet = does(piece, 'set', { clips: [piece.tracks[0]!.clips[0]!.id], values: { level: -20 } });
    expect(peakOf(mix(quiet, 5000, 6000, constant))).toBeCloseTo(0.05, 6);
    quiet.tracks[0]!.muted = true;
    expect(peakOf(mix(quiet, 5000, 6000, constant))).toBe(0);
  });
});

describe('waveform peaks', () => {
  it('show how high sound goes between samples and on one side alone, whatever pieces it comes in', () => {
    // A quarter of the sampling rate, sampled 45° beside its highest: every sample is 0.707 of that.
    const tone = Float32Array.from({ length: 4_000 }, (_, n) => 0.9 * Math.sin((Math.PI / 2) * n + Math.PI / 4));
    const silence = new Float32Array(tone.length);
    const peaksOf = (cuts: number[]) => {
      const collector = new PeakCollector(256);
      [0, ...cuts].forEach((from, i) => {
        const to = cuts[i] ?? tone.length;
        collector.push({ left: silence.subarray(from, to), right: tone.subarray(from, to) });
      });
      return collector.finish();
    };
    const { data } = peaksOf([]);
    const heights = Array.from({ length: data.length / 2 }, (_, b) => Math.max(-data[b * 2]!, data[b * 2 + 1]!) / 127);
    expect(heights).toHaveLength(16);
    for (const height of heights.slice(1, -1)) expect(height).toBeCloseTo(0.9, 1.5);
    for (const cuts of [
      [3, 7, 30],
      [255, 256, 257],
      [1_999, 2_048],
    ])
      expect(peaksOf(cuts)).toEqual({ bin: 256, data });
  });

  it('hold every sample between their low and high, at each resolution', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { minLength: 1, maxLength: 900 }),
        fc.integer({ min: 1, max: 64 }),
        (samples, bin) => {
          const collector = new PeakCollector(bin);
          const both = Float32Array.from(samples);
          const quiet = both.map((s) => s / 2);
          collector.push({ left: quiet.subarray(0, 100), right: both.subarray(0, 100) });
          collector.push({ left: quiet.subarray(100), right: both.subarray(100) });
          for (const peaks of [collector.finish()].flatMap((p) => [p, coarser(p, 4)])) {
            samples.forEach((s, i) => {
              const b = Math.floor(i / peaks.bin);
              expect(peaks.data[b * 2]! / 127 - 0.005).toBeLessThanOrEqual(s);
              expect(peaks.data[b * 2 + 1]! / 127 + 0.005).toBeGreaterThanOrEqual(s);
            });
          }
        },
      ),
    );
  });
});
