import fc from 'fast-check';
import { fromSeconds, frameLength } from '@flimzy/core/time';
import { rates } from '../../../packages/core/test/making';
import { binFor, waveformPath } from '../src/material/peaks';
import { rulerLabel, rulerStep, toPixels, toTime } from '../src/timeline/scale';

describe('the ruler', () => {
  it('never sets labels closer than they can be read, at any zoom', () => {
    fc.assert(fc.property(rates, fc.integer({ min: 3, max: 2400 }), (rate, zoom) => toPixels(rulerStep(zoom, rate), zoom) >= 44));
  });

  it('shows frames when there is room for them, and only then', () => {
    const rate = { num: 30, den: 1 };
    expect(rulerStep(2400, rate)).toBe(frameLength(rate));
    expect(rulerLabel(fromSeconds(2), rulerStep(48, rate), rate)).toBe('0:02');
    expect(rulerLabel(fromSeconds(2.5), rulerStep(400, rate), rate)).toBe('0:02.15');
  });

  it('is where the pixels are: time and place turn into each other', () => {
    fc.assert(
      fc.property(
        fc.nat(1e7),
        fc.integer({ min: 3, max: 2400 }),
        (px, zoom) => Math.abs(toPixels(toTime(px, zoom), zoom) - px) < 1e-6 * Math.max(1, px),
      ),
    );
  });
});

describe('the waveform', () => {
  const loudAt = (second: number) => {
    const data = new Int8Array(2 * 188 * 10);
    const b = Math.round((second * 48_000) / 256);
    data[b * 2] = -120;
    data[b * 2 + 1] = 120;
    return data;
  };

  it('is widest at the place of the loudest sound', () => {
    const { outline } = waveformPath(loudAt(4), 256, fromSeconds(3), 400, 40, 100, () => 1);
    const points = [...outline.matchAll(/([\d.]+) ([\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])] as const);
    const widest = points.reduce((best, p) => (p[0] > best[0] ? p : best));
    expect(Math.abs(widest[1] - 100)).toBeLessThan(3);
  });

  it('is as wide as the sound is made loud there, and barred where that is more than full', () => {
    const at = (second: number) => (moment: number) => (Math.abs(moment - fromSeconds(second)) < fromSeconds(0.1) ? 2 : 0.1);
    const loud = waveformPath(loudAt(4), 256, fromSeconds(3), 400, 40, 100, at(4));
    expect(Number(/^M0 ([\d.]+)/.exec(loud.over)?.[1])).toBeCloseTo(100, -1);
    expect(waveformPath(loudAt(4), 256, fromSeconds(3), 400, 40, 100, at(5)).over).toBe('');
  });

  it('takes coarser peaks when zoomed out', () => {
    expect(binFor(2400)).toBe(256);
    expect(binFor(48)).toBe(256);
    expect(binFor(5)).toBe(16_384);
  });
});
