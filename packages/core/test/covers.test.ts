import { covers, type CoverKind } from '../properties';
import { copyClips } from '../edits';
import { mix, neededSound, type PcmReader } from '../sound';
import { frameLength, fromSeconds } from '../time';
import { addFrames, does, emptyPiece, MUSIC, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });
const S = 48_000;

/** Material of a tone of 300 Hz at 0.3. */
const read: PcmReader = (_, from, count) => {
  const left = Float32Array.from({ length: count }, (_u, i) => 0.3 * Math.sin((2 * Math.PI * 300 * (from + i)) / S));
  return { left, right: left };
};
const rms = (samples: Float32Array) => Math.sqrt(samples.reduce((sum, one) => sum + one * one, 0) / samples.length);
/** How much of a frequency is in some samples. */
const share = (samples: Float32Array, frequency: number) => {
  let [re, im] = [0, 0];
  samples.forEach((one, i) => {
    re += one * Math.cos((2 * Math.PI * frequency * i) / S);
    im += one * Math.sin((2 * Math.PI * frequency * i) / S);
  });
  return (2 * Math.hypot(re, im)) / samples.length;
};

const piece = addFrames(emptyPiece(), VIDEO, 30, 120); // its material begins at 1 s
const clip = piece.tracks[0]!.clips[0]!;
const covered = (kind: CoverKind) =>
  does(piece, 'set', { clips: [clip.id], values: { covers: [{ from: fromSeconds(2), to: fromSeconds(2.5), with: kind, level: -20 }] } });

describe('a covered stretch', () => {
  it('is silent, or a tone of the level asked for, and nothing else is touched', () => {
    const plain = mix(piece, 0, 4 * S, read).left;
    for (const kind of ['silence', 'tone', 'garble'] as const) {
      const { left } = mix(covered(kind), 0, 4 * S, read);
      expect(Buffer.compare(Buffer.from(left.slice(0, S).buffer), Buffer.from(plain.slice(0, S).buffer))).toBe(0);
      expect(Buffer.compare(Buffer.from(left.slice(1.5 * S).buffer), Buffer.from(plain.slice(1.5 * S).buffer))).toBe(0);
      const middle = left.slice(1.1 * S, 1.4 * S);
      expect(share(middle, 1000)).toBeCloseTo(kind === 'tone' ? 0.1 : 0, 2);
      if (kind !== 'garble') expect(share(middle, 300)).toBeCloseTo(0, 3);
      if (kind === 'silence') expect(rms(middle)).toBe(0);
      if (kind === 'garble') expect(rms(middle)).toBeGreaterThan(0.15);
      const steps = left.slice(0.9 * S, 1.6 * S).map((one, i, all) => (i === 0 ? 0 : Math.abs(one - all[i - 1]!)));
      expect(Math.max(...steps)).toBeLessThan(0.03); // it comes and goes without a click
    }
  });

  it('is under a sound of its own that is as loud as the tone, begins where it begins, and leaves nothing to be heard of what it covers', () => {
    const long = (kind: CoverKind, from: number) =>
      does(piece, 'set', {
        clips: [clip.id],
        values: { covers: [{ from: fromSeconds(from), to: fromSeconds(4.5), with: kind, level: -20 }] },
      });
    const kinds = (Object.keys(covers.KINDS) as CoverKind[]).filter((kind) => covers.sounds(kind) && kind !== 'own');
    expect(kinds.length).toBeGreaterThan(3);
    for (const kind of kinds) {
      const { left } = mix(long(kind, 1.5), 0, 4 * S, read);
      const inside = left.slice(0.51 * S, 3.49 * S);
      expect(rms(inside) / (0.1 / Math.SQRT2)).toBeGreaterThan(0.8);
      expect(rms(inside) / (0.1 / Math.SQRT2)).toBeLessThan(1.25);
      expect(Math.abs(share(inside, 300))).toBeLessThan(0.01); // nothing is left of what it covers
      const plain = mix(piece, 0, 4 * S, read).left;
      expect(Buffer.compare(Buffer.from(left.slice(0, 0.5 * S).buffer), Buffer.from(plain.slice(0, 0.5 * S).buffer))).toBe(0);
      const later = mix(long(kind, 2), 0, 4 * S, read).left;
      expect(Math.max(...later.slice(1.01 * S, 1.3 * S).map((one, i) => Math.abs(one - left[Math.round(0.51 * S) + i]!)))).toBeLessThan(
        1e-5,
      );
    }
  });

  it('turned round, no longer holds what was said: it does not follow the sound it covers', () => {
    const speech: PcmReader = (_, from, count) => {
      const left = Float32Array.from({ length: count }, (_u, i) => Math.sin(((from + i) / 900) ** 2 / 40) * 0.3);
      return { left, right: left };
    };
    const [plain, garbled] = [mix(piece, 52_800, 67_200, speech).left, mix(covered('garble'), 52_800, 67_200, speech).left];
    const alike = plain.reduce((sum, one, i) => sum + one * garbled[i]!, 0) / (rms(plain) * rms(garbled) * plain.length);
    expect(Math.abs(alike)).toBeLessThan(0.2);
  });

  it('stays where it is in the material when the clip is split, trimmed and moved, and mixes the same in parts', () => {
    const one = covered('garble');
    const split = does(one, 'split', { clips: [clip.id], at: 36 * F });
    const whole = mix(one, 0, 4 * S, read).left;
    expect([...mix(split, 0, 4 * S, read).left]).toEqual([...whole]);
    const [a, b] = [mix(one, 0, 55_555, read).left, mix(one, 55_555, 4 * S, read).left];
    expect(Buffer.compare(Buffer.concat([Buffer.from(a.buffer), Buffer.from(b.buffer)]), Buffer.from(whole.buffer))).toBe(0);
    const trimmed = does(covered('silence'), 'trim', { clip: clip.id, edge: 'head', to: 15 * F, rest: 'follow' });
    expect(rms(mix(trimmed, 28_800, 43_200, read).left)).toBe(0);
  });

  it('is under a sound of one’s own: from its beginning, as loud as is asked for, again when it ends, and mixed alike in parts', () => {
    const cover = { from: fromSeconds(2), to: fromSeconds(3.5), with: 'own' as const, level: -26 };
    const item = { media: MUSIC.id, length: fromSeconds(0.8), height: -20 };
    const values = { covers: [{ ...cover, item }] };
    const own = does(piece, 'set', { clips: [clip.id], values, bring: [MUSIC] });
    // A tone of 1 kHz on the left and of 2 kHz on the right, 0.2 high, that grows from nothing over 0.8 s.
    const all: PcmReader = (media, from, count) => {
      if (media !== MUSIC.id) return read(media, from, count);
      const side = (frequency: number) =>
        Float32Array.from(
          { length: count },
          (_, i) => ((0.2 * (from + i)) / (0.8 * S)) * Math.sin((2 * Math.PI * frequency * (from + i)) / S),
        );
      return { left: side(1_000), right: side(2_000) };
    };
    const { left, right } = mix(own, 0, 4 * S, all);
    // 6 dB under what it is: half as high. Where it has come to a half of its length, a half of 0.2 of that.
    const near = (samples: Float32Array, at: number, hz: number) => share(samples.slice((at - 0.05) * S, (at + 0.05) * S), hz);
    expect(near(left, 1 + 0.4, 1_000)).toBeCloseTo(0.2 / 2 / 2, 2);
    expect(near(right, 1 + 0.4, 2_000)).toBeCloseTo(0.2 / 2 / 2, 2);
    expect(near(left, 1 + 0.7, 1_000)).toBeCloseTo((0.2 / 2) * (0.7 / 0.8), 2);
    expect(near(left, 1 + 0.8 + 0.4, 1_000)).toBeCloseTo(0.2 / 2 / 2, 2); // once more
    expect(near(left, 1 + 0.4, 300)).toBeCloseTo(0, 3);
    const parts = [mix(own, 0, 77_777, all), mix(own, 77_777, 4 * S, all)].map((one) => Buffer.from(one.left.buffer));
    expect(Buffer.compare(Buffer.concat(parts), Buffer.from(left.buffer))).toBe(0);
    // No sample is asked for that was not said to be needed.
    const needed = neededSound(own, 1.2 * S, 2.1 * S);
    mix(own, 1.2 * S, 2.1 * S, (media, from, count) => {
      if (media === MUSIC.id) expect(needed.some((one) => one.media === media && one.from <= from && from + count <= one.to)).toBe(true);
      return all(media, from, count);
    });
    const lengths = needed.filter(({ media }) => media === MUSIC.id).map((one) => one.to - one.from);
    expect(lengths.map((one) => Math.round((one / S) * 20) / 20)).toEqual([0.6, 0.3]); // and little more than that
    // What covers goes along with a copy, and a piece that does not know it takes no such cover.
    expect(copyClips(own, [clip.id])!.media.map(({ id }) => id)).toEqual([VIDEO.id, MUSIC.id]);
    expect(() => does(piece, 'set', { clips: [clip.id], values })).toThrow('no sound of this piece');
    expect(() => does(piece, 'set', { clips: [clip.id], values: { covers: [cover] } })).toThrow();
  });

  it('can be changed, moved and taken back, keeps out of its neighbours, and is refused upside down', () => {
    const first = { from: 100, to: 200, with: 'tone' as const, level: -20 };
    const two = covers.withCover([first], { ...first, from: 150, to: 400 }, null)!;
    expect(covers.listOf(two).map(({ from, to }) => [from, to])).toEqual([
      [100, 200],
      [200, 400],
    ]);
    expect(covers.withCover(two, { ...first, from: 120, to: 180 }, null)).toBeNull();
    expect(covers.listOf(covers.withCover(two, { ...first, to: 190 }, 0)!)[0]!.to).toBe(190);
    expect(covers.withoutCover([first], 0)).toBe('none');
    expect(covers.coverAt(two, 390, 0)).toBe(1);
    expect(() => does(piece, 'set', { clips: [clip.id], values: { covers: [{ ...first, to: 50 }] } })).toThrow();
    expect(does(covered('tone'), 'set', { clips: [clip.id], values: { covers: 'none' } }).tracks[0]!.clips[0]!.covers).toBeUndefined();
  });
});
