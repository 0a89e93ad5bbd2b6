import fc from 'fast-check';
import {
  formatTimecode,
  frameAt,
  frameLength,
  frameStart,
  fromSeconds,
  nearestRate,
  nominalRate,
  parseTimecode,
  rateName,
  RATES,
  toGrid,
  toSamples,
  toSeconds,
} from '../time';
import { rates } from './making';

describe('exact time', () => {
  it('gives every rate of a piece a whole number of flicks a frame', () => {
    for (const rate of RATES) expect(Number.isInteger(frameLength(rate))).toBe(true);
    expect(frameLength({ num: 30_000, den: 1_001 })).toBe(23_543_520);
    expect(() => frameLength({ num: 29_970, den: 1_001 })).toThrow(RangeError);
  });

  it('never loses a frame between number and time, over ten hours', () => {
    fc.assert(
      fc.property(
        rates,
        fc.nat(2_000_000),
        (rate, n) => frameAt(frameStart(n, rate), rate) === n && frameAt(frameStart(n + 1, rate) - 1, rate) === n,
      ),
    );
  });

  it('puts the end of ten minutes of 29.97 on the sample it belongs to', () => {
    const end = frameStart(17_982, { num: 30_000, den: 1_001 });
    expect(toSamples(end)).toBe(Math.round((17_982 * 1_001 * 48_000) / 30_000));
    expect(toSeconds(end)).toBeCloseTo(599.9994, 6);
  });

  it('snaps to the nearest boundary, which is never more than half a frame away', () => {
    fc.assert(fc.property(rates, fc.nat(1e12), (rate, time) => Math.abs(toGrid(time, rate) - time) <= frameLength(rate) / 2));
  });

  it('knows the usual rates by their measured values', () => {
    expect(nearestRate(29.97)).toEqual({ num: 30_000, den: 1_001 });
    expect(nearestRate(25.001)).toEqual({ num: 25, den: 1 });
    expect(rateName({ num: 30_000, den: 1_001 })).toBe('29.97');
    expect(rateName({ num: 24_000, den: 1_001 })).toBe('23.976');
  });
});

describe('timecode', () => {
  const thirty = { num: 30, den: 1 };

  it('reads back what it writes, at every rate', () => {
    fc.assert(
      fc.property(
        rates,
        fc.nat(500_000),
        (rate, n) => parseTimecode(formatTimecode(frameStart(n, rate), rate), rate) === frameStart(n, rate),
      ),
    );
  });

  it('names the frame that shows, not the one to come', () => {
    expect(formatTimecode(fromSeconds(1) - 1, thirty)).toBe('0:00.29');
    expect(formatTimecode(fromSeconds(3661.5), thirty)).toBe('1:01:01.15');
  });

  it.each([
    ['4', 4 * 30],
    ['4.12', 4 * 30 + 12],
    ['1:02.03', 62 * 30 + 3],
    ['15f', 15],
    ['.15', 15],
    [' 1:00 ', 60 * 30],
  ])('takes “%s” as people mean it', (text, frames) => {
    expect(parseTimecode(text, thirty)).toBe(frameStart(frames, thirty));
  });

  it('takes a sign as a step from where one is', () => {
    expect(parseTimecode('+10f', thirty, frameStart(5, thirty))).toBe(frameStart(15, thirty));
    expect(parseTimecode('-1', thirty, frameStart(45, thirty))).toBe(frameStart(15, thirty));
  });

  it.each(['', 'abc', '1:2:3:4', '4.30', '--1', ':', '+'])('refuses “%s”', (text) => {
    expect(parseTimecode(text, thirty)).toBeNull();
  });

  it('counts 29.97 without dropping: frame 1 800 reads one minute', () => {
    const rate = { num: 30_000, den: 1_001 };
    expect(nominalRate(rate)).toBe(30);
    expect(formatTimecode(frameStart(1_800, rate), rate)).toBe('1:00.00');
  });
});
