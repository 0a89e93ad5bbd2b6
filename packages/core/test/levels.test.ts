import fc from 'fast-check';
import type { EditParams } from '../edits';
import { clipEnd, keyTime, type Clip, type Piece } from '../piece';
import { valueOf } from '../properties';
import { limiter, materialGain, mix, through, type PcmReader, type Stereo } from '../sound';
import { FLICKS_PER_SAMPLE, FLICKS_PER_SECOND, toSamples } from '../time';
import { does } from './making';
import { F, heard, id, main, three } from './three';

/** Material that is 1 throughout: what comes out is the gain. */
const ones: PcmReader = (_media, _from, count) => ({ left: new Float32Array(count).fill(1), right: new Float32Array(count).fill(1) });
const alone = (piece: Piece): Piece => ({ ...piece, tracks: [piece.tracks[0]!] });
const S = 1_600; // samples in a frame
/** How loud a clip is at a time of the timeline. */
const clipGain = (clip: Clip) => (time: number) => materialGain(clip)(keyTime(clip, time));

describe('fades of a clip', () => {
  it('rise and fall as long and as their curve says, and clip and timeline say the same', () => {
    const faded = does(three(), 'set', {
      clips: [id(three(), 1)],
      values: { fadeIn: 30 * F, fadeInCurve: 'even', fadeOut: 15 * F, fadeOutCurve: 'slowStart' },
    });
    const out = mix(alone(faded), 0, toSamples(180 * F), ones).left;
    const clip = main(faded)[1]!;
    expect(out[60 * S + 15 * S]).toBeCloseTo(0.5, 4);
    expect(out[60 * S + 3 * S]).toBeCloseTo(0.1, 4);
    expect(out[100 * S]).toBe(1);
    expect(out[150 * S - 7.5 * S]).toBeCloseTo(0.25, 4);
    const gain = clipGain(clip);
    for (const frame of [61, 70, 89, 90, 120, 140, 149]) expect(gain(frame * F + FLICKS_PER_SAMPLE)).toBeCloseTo(out[frame * S + 1]!, 4);
  });

  it('stay with the ends that they are of when the clip is cut, and with the sound when it is detached and attached', () => {
    const faded = does(three(), 'set', { clips: [id(three(), 1)], values: { fadeIn: 30 * F, fadeOut: 15 * F, pan: 0.5, level: -3 } });
    const cut = does(faded, 'split', { clips: [id(faded, 1)], at: 100 * F });
    expect(main(cut).map(({ fadeIn, fadeOut }) => [fadeIn, fadeOut])).toEqual([
      [undefined, undefined],
      [30 * F, undefined],
      [undefined, 15 * F],
      [undefined, undefined],
    ]);
    expect(heard(cut)).toEqual(heard(faded));
    const apart = does(faded, 'detach', { clips: [id(faded, 1)] });
    expect(heard(apart).map((v) => v.toFixed(6))).toEqual(heard(faded).map((v) => v.toFixed(6)));
    expect(valueOf(main(apart)[1]!, 'fadeIn')).toBe(0);
    const again = does(apart, 'attach', { clips: [id(apart, 1)] });
    expect(main(again)[1]).toMatchObject({ fadeIn: 30 * F, fadeOut: 15 * F, pan: 0.5, level: -3 });
  });
});

describe('a fade within a nest', () => {
  it('goes when the nest is unnested with that end cut off, and stays at the end that is shown', () => {
    const faded = does(three(), 'set', { clips: [id(three(), 0)], values: { fadeIn: 20 * F, fadeOut: 10 * F } });
    const nested = does(faded, 'nest', { clips: [id(faded, 0)], name: 'Inside' });
    const short = does(nested, 'trim', { clip: id(nested, 0), edge: 'head', to: 40 * F, rest: 'stay' });
    const { fadeIn, fadeOut } = main(does(short, 'unnest', { clip: id(short, 0) }))[0]!;
    expect([fadeIn, fadeOut]).toEqual([undefined, 10 * F]);
  });
});

describe('an envelope', () => {
  const at = (clip: Clip, frame: number) => clip.from + frame * F;
  const shaped = () => {
    const clip = main(three())[1]!;
    const keys = [
      { at: at(clip, 20), value: 0, ease: 'even' as const },
      { at: at(clip, 30), value: -12, ease: 'even' as const },
      { at: at(clip, 50), value: -60, ease: 'hold' as const },
      { at: at(clip, 60), value: 6, ease: 'even' as const },
    ];
    return does(three(), 'set', { clips: [clip.id], values: { envelope: { keys }, level: -6 } });
  };

  it('is heard as it is drawn: evenly in dB between its points, on top of the level', () => {
    const out = mix(alone(shaped()), 0, toSamples(180 * F), ones).left;
    const db = (frame: number) => 20 * Math.log10(out[(60 + frame) * S] as number);
    expect(db(10)).toBeCloseTo(-6, 3);
    expect(db(25)).toBeCloseTo(-12, 3);
    expect(db(30)).toBeCloseTo(-18, 3);
    expect(out[(60 + 55) * S]).toBe(0);
    expect(db(70)).toBeCloseTo(0, 3);
  });

  it('moves with the material when the clip is trimmed, split, slipped or moved', () => {
    const piece = shaped();
    const was = clipGain(main(piece)[1]!);
    const cut = does(piece, 'split', { clips: [id(piece, 1)], at: 95 * F });
    expect(heard(cut)).toEqual(heard(piece));
    const trimmed = does(piece, 'trim', { clip: id(piece, 1), edge: 'head', to: 80 * F, rest: 'stay' });
    expect(clipGain(main(trimmed)[1]!)(85 * F)).toBe(was(85 * F));
    const slipped = does(piece, 'slip', { clips: [id(piece, 1)], by: 4 * F });
    expect(clipGain(main(slipped)[1]!)(85 * F)).toBe(was(89 * F));
  });
});

describe('what is ganged', () => {
  it('is made louder and softer together, by as much each, within what there is', () => {
    const piece = does(does(three(), 'set', { clips: [id(three(), 1)], values: { level: -10 } }), 'gang', {
      clips: [id(three(), 0), id(three(), 1)],
    });
    const levels = (of: Piece) => main(of).map((clip) => clip.level);
    expect(levels(does(piece, 'set', { clips: [id(piece, 0)], values: { level: 4 } }))).toEqual([4, -6, 0]);
    expect(levels(does(piece, 'set', { clips: [id(piece, 1)], values: { level: 14 } }))).toEqual([14, 14, 0]);
    expect(levels(does(piece, 'set', { clips: [id(piece, 0), id(piece, 1)], values: { level: 2 } }))).toEqual([2, 2, 0]);
    expect(levels(does(piece, 'set', { clips: [id(piece, 2)], values: { level: 2 } }))).toEqual([0, -10, 2]);
    const apart = does(piece, 'ungang', { clips: [id(piece, 1)] });
    expect(levels(does(apart, 'set', { clips: [id(piece, 0)], values: { level: 4 } }))).toEqual([4, -10, 0]);
    expect(() => does(piece, 'gang', { clips: [id(piece, 0)] })).toThrow('two clips');
  });

  it('goes for the faders, mute and solo of tracks too, but not for a locked one', () => {
    const ganged = ['main', 'sound-1'].reduce((p, track) => does(p, 'setTrack', { track, set: { gang: true } }), three());
    const set = (values: EditParams<'setTrack'>['set'], on = ganged) => does(on, 'setTrack', { track: 'main', set: values });
    expect(set({ level: -6 }).tracks.map((track) => track.level)).toEqual([-6, -6]);
    expect(set({ muted: true }).tracks.map((track) => track.muted)).toEqual([true, true]);
    expect(set({ solo: true }).tracks.map((track) => track.solo)).toEqual([true, true]);
    expect(set({ pan: 0.5 }).tracks.map((track) => track.pan)).toEqual([0.5, undefined]);
    const locked = does(ganged, 'setTrack', { track: 'sound-1', set: { locked: true } });
    expect(set({ level: -6 }, locked).tracks.map((track) => track.level)).toEqual([-6, undefined]);
  });
});

describe('pan and the faders of tracks', () => {
  it('leave the middle as it is, take the other side away, and multiply', () => {
    const first = id(three(), 0);
    const sides = (piece: Piece) => {
      const { left, right } = mix(alone(piece), 30 * S, 30 * S + 1, ones);
      return [left[0]!, right[0]!];
    };
    expect(sides(three())).toEqual([1, 1]);
    const panned = does(three(), 'set', { clips: [first], values: { pan: -0.5 } });
    expect(sides(panned)[0]).toBe(1);
    expect(sides(panned)[1]).toBeCloseTo(Math.SQRT1_2, 6);
    const lowered = does(panned, 'setTrack', { track: 'main', set: { level: -20, pan: 1 } });
    expect(sides(lowered)[0]).toBeCloseTo(0, 6);
    expect(sides(lowered)[1]).toBeCloseTo(0.1 * Math.SQRT1_2, 6);
    expect(does(lowered, 'setTrack', { track: 'main', set: { level: 0 } }).tracks[0]).not.toHaveProperty('level');
  });

  it('the whole piece comes in and goes', () => {
    const faded = does(does(three(), 'setSound', { fadeIn: 10 * F }), 'setSound', { fadeOut: 20 * F });
    const end = Math.max(...faded.tracks.flatMap((track) => track.clips.map(clipEnd))) / F;
    const out = mix({ ...faded, tracks: [faded.tracks[1]!] }, 0, toSamples(end * F), ones).left;
    expect(out[5 * S]).toBeCloseTo(Math.SQRT1_2, 4);
    expect(out[100 * S]).toBe(1);
    expect(out[(end - 10) * S]).toBeCloseTo(Math.SQRT1_2, 3);
  });
});

/** Sound of code, by its number of sample: sines, bursts, noise, clicks, all far too loud. */
const HOSTILE: Record<string, (n: number) => number> = {
  'a sine of 997 Hz': (n) => 4 * Math.sin((2 * Math.PI * 997 * n) / 48_000),
  'a sine between samples': (n) => 1.4 * Math.sin((Math.PI / 2) * n + Math.PI / 4),
  'a high sine': (n) => 3 * Math.sin((2 * Math.PI * 19_001 * n) / 48_000),
  bursts: (n) => (n % 4_800 < 480 ? 5 : 0.05) * Math.sin((2 * Math.PI * 220 * n) / 48_000),
  clicks: (n) => (n % 3_001 === 7 ? 8 : 0),
  steps: (n) => (n % 2_000 < 1_000 ? 2 : -2),
};
const sound = (wave: (n: number) => number, from: number, to: number): Stereo => {
  const left = Float32Array.from({ length: to - from }, (_, i) => wave(from + i));
  return { left, right: left.map((one) => one * 0.5) };
};

/** A plain windowed sinc over 128 samples, for each of eight places between two of them. */
const KERNEL = Array.from({ length: 8 }, (_, p) =>
  Float64Array.from({ length: 128 }, (__, k) => {
    const x = k - 63 - p / 8;
    return (0.5 + 0.5 * Math.cos((Math.PI * x) / 65)) * (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
  }),
);

/** The highest value 8 × between samples. */
function peakBetween(samples: Float32Array, from: number, to: number): number {
  let peak = 0;
  for (let i = from; i < to; i += 1)
    for (const kernel of KERNEL) {
      let sum = 0;
      for (let k = 0; k < 128; k += 1) sum += samples[i + k - 63]! * kernel[k]!;
      peak = Math.max(peak, Math.abs(sum));
    }
  return peak;
}

describe('the limiter', () => {
  it.each(Object.keys(HOSTILE))('lets %s through no higher than −1 dBTP, measured 8 × between samples', (name) => {
    const source = (from: number, to: number) => sound(HOSTILE[name]!, from, to);
    const { left } = through([limiter()], source, 0, 12_000)!;
    const peak = peakBetween(left, 1_000, 11_000);
    expect(20 * Math.log10(peak)).toBeLessThanOrEqual(-1);
    expect(left.every(Number.isFinite)).toBe(true);
    expect(20 * Math.log10(peak)).toBeGreaterThan(-4);
  });

  it('leaves what is under the ceiling bit for bit, and gives the same however a range is cut', () => {
    const quiet = (from: number, to: number) => sound((n) => 0.85 * Math.sin(n / 30), from, to);
    expect(through([limiter()], quiet, 1_000, 9_000)).toEqual(quiet(1_000, 9_000));
    fc.assert(
      fc.property(fc.constantFrom(...Object.keys(HOSTILE)), fc.integer({ min: 1, max: 5_999 }), fc.nat(50_000), (name, cut, begin) => {
        const source = (from: number, to: number) => sound(HOSTILE[name]!, from, to);
        const [whole, first, second] = [
          through([limiter()], source, begin, begin + 6_000)!.left,
          through([limiter()], source, begin, begin + cut)!.left,
          through([limiter()], source, begin + cut, begin + 6_000)!.left,
        ];
        expect(Buffer.compare(Buffer.from(Float32Array.of(...first, ...second).buffer), Buffer.from(whole.buffer))).toBe(0);
      }),
      { numRuns: 25 },
    );
  });

  it('is on unless it is switched off, and says how much it does', () => {
    const loud = does(does(three(), 'setSound', { limited: true }), 'set', { clips: [id(three(), 0)], values: { level: 12 } });
    let least = 1;
    const limited = mix(loud, 0, FLICKS_PER_SECOND / FLICKS_PER_SAMPLE, ones, { limited: (gain) => (least = Math.min(least, gain)) });
    expect(Math.max(...limited.left)).toBeLessThanOrEqual(10 ** (-1 / 20));
    expect(20 * Math.log10(least)).toBeLessThan(-12);
    const off = does(loud, 'setSound', { limited: false });
    expect(Math.max(...mix(off, 0, 48_000, ones).left)).toBeGreaterThan(3);
  });
});
