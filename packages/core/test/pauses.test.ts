import fc from 'fast-check';
import { pauseLevel, pausesIn, PeakCollector, quietStretches } from '../analyse';
import { seamAt, seamsOf } from '../piece';
import { frameLength, fromSeconds, onGrid, toSamples } from '../time';
import { addFrames, does, emptyPiece, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });

/** Peaks of material that is loud but for some stretches, in seconds. */
function speech(length: number, pauses: [number, number][]): ReturnType<PeakCollector['finish']> {
  const samples = new Float32Array(length * 48_000);
  for (let i = 0; i < samples.length; i += 1) {
    const quiet = pauses.some(([a, b]) => i >= a * 48_000 && i < b * 48_000);
    samples[i] = (quiet ? 0.001 : 0.5) * (i % 2 ? 1 : -1);
  }
  const collector = new PeakCollector(256);
  collector.push({ left: samples, right: samples });
  return collector.finish();
}

describe('pauses', () => {
  const peaks = speech(12, [
    [2, 3],
    [5, 5.3],
    [8, 10],
  ]);
  const piece = addFrames(emptyPiece(), VIDEO, 30, 330);
  const clip = piece.tracks[0]!.clips[0]!;

  it('are the quiet stretches long enough, less the breath on either side, on frames', () => {
    const found = pausesIn(piece, clip, peaks, { level: -40, least: fromSeconds(0.5), breath: fromSeconds(0.1) });
    expect(found.map((p) => [p.from / F, p.to / F])).toEqual([
      [33, 56], // its end falls inside a bin, which counts as loud
      [213, 267],
    ]);
    for (const pause of found) expect(onGrid(pause.from, piece.format.rate) && onGrid(pause.to, piece.format.rate)).toBe(true);
  });

  it('taken out shorten the piece by just their lengths and keep every loud sample', () => {
    const parts = pausesIn(piece, clip, peaks, { level: -40, least: fromSeconds(0.5), breath: fromSeconds(0.1) });
    const shorter = does(piece, 'takeOutParts', { parts });
    const length = parts.reduce((sum, p) => sum + p.to - p.from, 0);
    expect(shorter.tracks[0]!.clips.reduce((sum, c) => sum + c.length, 0)).toBe(330 * F - length);
    const shown = (seconds: number) =>
      shorter.tracks[0]!.clips.some((c) => c.from <= fromSeconds(seconds) && c.from + c.length > fromSeconds(seconds));
    for (const loud of [1.5, 1.99, 3.01, 4, 5.1, 7.99, 10.01, 11.9]) expect([loud, shown(loud)]).toEqual([loud, true]);
  });

  it('of any level and length lie within the clip, in order and apart', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -60, max: -6 }),
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 0, max: 10 }),
        (level, least, breath) => {
          const found = pausesIn(piece, clip, peaks, { level, least: fromSeconds(least / 10), breath: fromSeconds(breath / 20) });
          let end = clip.start;
          for (const pause of found) {
            expect(pause.from).toBeGreaterThanOrEqual(end);
            expect(pause.to).toBeGreaterThan(pause.from);
            end = pause.to;
          }
          expect(end).toBeLessThanOrEqual(clip.start + clip.length);
        },
      ),
    );
  });

  it('are looked for between the speech and the noise of the material itself', () => {
    const level = pauseLevel(peaks);
    expect(level).toBeLessThan(-6);
    expect(level).toBeGreaterThan(-40);
    expect(pausesIn(piece, clip, peaks, { level, least: fromSeconds(0.5), breath: 0 })).toHaveLength(2);
  });

  it('are found to the bin, and none in silence that is not asked for', () => {
    const [first] = quietStretches(peaks, 0, toSamples(fromSeconds(12)), -40);
    expect(Math.abs((first?.from ?? 0) - 96_000)).toBeLessThanOrEqual(256);
    expect(quietStretches(peaks, 0, 48_000, -40)).toEqual([]);
  });
});

describe('a seam', () => {
  const two = addFrames(addFrames(emptyPiece(), VIDEO, 30, 60), VIDEO, 150, 60);
  const after = two.tracks[0]!.clips[1]!;

  it('knows both clips, what is left on either side, and where the sound changes hands', () => {
    const seam = seamAt(two, after.id)!;
    expect([seam.join / F, seam.unusedBefore / F, Math.floor(seam.unusedAfter / F), seam.handOver]).toEqual([60, 150, 280, 60 * F]);
    const early = does(two, 'soundEdge', { clip: after.id, edge: 'head', to: 50 * F });
    expect(seamAt(early, after.id)!.handOver).toBe(50 * F);
    expect(seamsOf(early.tracks[0]!).map((c) => c.id)).toEqual([after.id]);
  });

  it('is not where clips stand apart', () => {
    const apart = does(two, 'move', { clips: [after.id], track: 'main', to: 90 * F, how: 'place', rest: 'leave' });
    expect(seamAt(apart, after.id)).toBeNull();
    expect(seamsOf(apart.tracks[0]!)).toEqual([]);
  });
});
