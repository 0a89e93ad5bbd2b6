import fc from 'fast-check';
import { EditRefused } from '../edits';
import { evaluate, pictureLayers, type PictureRef } from '../frame';
import { clipEnd, keyTime, materialSpan, speedOf, stepOffset, unusedOnTimeline, type Piece } from '../piece';
import { mix, neededSound, paced, paceReach, type PcmReader, type SoundPace, type SoundSource, type Stereo } from '../sound';
import { frameLength, frameStart, RATES, SAMPLE_RATE, toSamples } from '../time';
import { addFrames, does, emptyPiece, MUSIC, PHOTO, VIDEO } from './making';
import { F, id, main, three } from './three';

/** Material in which every sample tells its own place, to the sample. */
const read: PcmReader = (media, from, count) => {
  const left = Float32Array.from({ length: count }, (_, i) => ((((from + i) * 7919) % 9973) / 9973 - 0.5) * (media === 'm' ? 0.5 : 1));
  return { left, right: left };
};

const speeds = fc.oneof(
  fc.constantFrom(0.5, 2, -1, -2, 4, 1.5),
  fc.double({ min: 0.1, max: 8, noNaN: true }),
  fc.double({ min: -8, max: -0.1, noNaN: true }),
);
const unlimited = (piece: Piece) => does(piece, 'setSound', { limited: false });
const shownAt = (piece: Piece, n: number): PictureRef | undefined =>
  pictureLayers(evaluate(piece, frameStart(n, piece.format.rate)).layers)[0]?.picture;

describe('a clip at another speed', () => {
  it('is as long as its material lasts then, shows the same material, and what follows moves along or stays', () => {
    const piece = three();
    const [first, second] = [main(piece)[0]!, main(piece)[1]!];
    const fast = does(piece, 'setSpeed', { clips: [first.id], wish: { speed: 2 }, rest: 'follow' });
    expect(main(fast)[0]).toMatchObject({ start: 0, length: first.length / 2, from: first.from, speed: 2 });
    expect(main(fast)[1]!.start).toBe(first.length / 2);
    expect(materialSpan(main(fast)[0]!)).toEqual(materialSpan(first));
    const stayed = does(piece, 'setSpeed', { clips: [first.id], wish: { speed: 2 }, rest: 'stay' });
    expect(main(stayed)[1]).toEqual(second);
    expect(() => does(piece, 'setSpeed', { clips: [first.id], wish: { speed: 0.5 }, rest: 'stay' })).toThrow(/is in the way/);
    const back = does(fast, 'setSpeed', { clips: [first.id], wish: { speed: 1 }, rest: 'follow' });
    expect(main(back)).toEqual(main(piece));
  });

  it('gets the speed that a length asks for, or the length that a speed asks for, within its material', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...RATES),
        fc.integer({ min: 1, max: 200 }),
        speeds,
        fc.integer({ min: 1, max: 500 }),
        (rate, frames, speed, wish) => {
          const piece = addFrames(emptyPiece(rate), MUSIC, 3, frames, 'sound-1');
          const { id: clip, length, from } = piece.tracks.at(-1)!.clips[0]!;
          const frame = frameLength(rate);
          const change = (asked: { speed: number } | { length: number }) => {
            try {
              return does(piece, 'setSpeed', { clips: [clip], wish: asked, rest: 'follow' }).tracks.at(-1)!.clips[0]!;
            } catch (error) {
              if (error instanceof EditRefused) return null;
              throw error;
            }
          };
          const [faster, longer] = [change({ speed }), change({ length: wish * frame })];
          if (faster) {
            const { from: begins, to: ends } = materialSpan(faster);
            expect([begins, ends <= from + length, length + from - ends < frame * Math.abs(speedOf(faster))]).toEqual([from, true, true]);
            if (Math.abs(speed) <= frames) expect(speedOf(faster)).toBeCloseTo(speed, 6);
          }
          if (longer) expect(longer.length).toBe(wish * frame);
          else expect(Math.abs(frames / wish - 10) > 9.9).toBe(true); // slower or faster than there is
        },
      ),
    );
  });

  it('shows and sounds the same, to the flick and to the sample, after any number of splits at any rate', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...RATES),
        speeds,
        fc.constantFrom('kept' as const, 'follows' as const),
        fc.integer({ min: 0, max: 30 }),
        fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1, maxLength: 3 }),
        (rate, speed, pitch, at, cuts) => {
          const frame = frameLength(rate);
          const added = does(unlimited(emptyPiece(rate)), 'add', {
            track: 'main',
            media: VIDEO,
            at: at * frame,
            from: 5 * frame,
            length: 60 * frame,
          });
          const clip = main(added)[0]!.id;
          const pitched = does(added, 'set', { clips: [clip], values: { pitch } });
          const whole = does(pitched, 'setSpeed', { clips: [clip], wish: { speed }, rest: 'follow' });
          const end = clipEnd(main(whole)[0]!);
          const cut = cuts.reduce((piece, n) => {
            const time = (at + n) * frame;
            const under = main(piece).find((one) => one.start < time && clipEnd(one) > time);
            return under ? does(piece, 'split', { clips: [under.id], at: time }) : piece;
          }, whole);
          const last = Math.min(end, (at + 70) * frame);
          for (let n = at; n * frame < last; n += 1) expect(shownAt(cut, n)?.time).toBe(shownAt(whole, n)?.time);
          const [a, b] = [cut, whole].map((piece) => mix(piece, toSamples(at * frame), toSamples(last), read).left);
          expect(Buffer.compare(Buffer.from(a!.buffer), Buffer.from(b!.buffer))).toBe(0);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('runs backwards through the same frames', () => {
    const piece = three();
    const [, clip] = main(piece);
    const turned = does(piece, 'setSpeed', { clips: [clip!.id], wish: { speed: -1 }, rest: 'follow' });
    expect(main(turned)[1]).toMatchObject({ start: clip!.start, length: clip!.length, speed: -1 });
    const [begin, end] = [clip!.start / F, clipEnd(clip!) / F];
    for (let n = begin; n < end; n += 1) {
      const [there, back] = [shownAt(piece, n)!, shownAt(turned, end - 1 - (n - begin))!];
      // The end of a frame, where the other shows its beginning.
      expect(back.time - there.time).toBeGreaterThan(F * 0.9);
      expect(back.time - there.time).toBeLessThan(F);
    }
    const [room, before] = [unusedOnTimeline(main(turned)[1]!, VIDEO), unusedOnTimeline(clip!, VIDEO)];
    expect(room).toEqual({ head: before.tail, tail: before.head });
    const pulled = does(turned, 'trim', { clip: clip!.id, edge: 'tail', to: clipEnd(clip!) - 5 * F, rest: 'follow' });
    expect(materialSpan(main(pulled)[1]!)).toEqual({ from: clip!.from + 5 * F, to: clip!.from + clip!.length });
  });

  it('changes one stretch of a clip in one step, its detached sound along with it and in step, keys where they were', () => {
    const plain = addFrames(addFrames(emptyPiece(), VIDEO, 10, 90), VIDEO, 120, 60);
    const detached = does(plain, 'detach', { clips: [id(plain, 0)] });
    const keyed = does(detached, 'set', {
      clips: [id(plain, 0)],
      values: {
        scale: {
          keys: [
            { at: 40 * F, value: 1, ease: 'even' },
            { at: 60 * F, value: 2, ease: 'even' },
          ],
        },
      },
    });
    const part = { clips: [id(plain, 0)], wish: { speed: 3 }, within: { from: 30 * F, to: 60 * F }, rest: 'follow' as const };
    const made = does(keyed, 'setSpeed', part);
    expect(main(made).map((clip) => [clip.start / F, clip.length / F, clip.speed ?? 1])).toEqual([
      [0, 30, 1],
      [30, 10, 3],
      [40, 30, 1],
      [70, 60, 1],
    ]);
    const sounds = made.tracks.at(-1)!.clips;
    expect(sounds.map((clip) => [clip.start / F, clip.length / F, clip.speed ?? 1])).toEqual([
      [0, 30, 1],
      [30, 10, 3],
      [40, 30, 1],
    ]);
    for (const clip of [...main(made), ...sounds]) expect(stepOffset(made, clip)).toBe(0);
    expect(main(made)[1]!.scale).toEqual(main(keyed)[0]!.scale);
    expect(keyTime(main(made)[1]!, 35 * F)).toBe(55 * F);
    const left = does(keyed, 'setSpeed', { ...part, within: null, sound: 'stay' });
    expect(left.tracks.at(-1)!.clips[0]).toMatchObject({ start: 0, length: 90 * F });
    expect(left.tracks.at(-1)!.clips[0]!.link).toBeUndefined();
  });

  it('mixes what is between two frames of a slow clip of both, where that is wished', () => {
    const slow = does(three(), 'setSpeed', { clips: [id(three(), 0)], wish: { speed: 0.25 }, rest: 'follow' });
    const blended = does(slow, 'set', { clips: [id(slow, 0)], values: { between: 'blended' } });
    const lasts = frameLength(VIDEO.rate!);
    for (const n of [1, 2, 9]) {
      const [one, other] = pictureLayers(evaluate(blended, n * F).layers);
      const share = (shownAt(slow, n)!.time % lasts) / lasts;
      expect([one!.picture.time, other!.picture.time]).toEqual([shownAt(slow, n)!.time, shownAt(slow, n)!.time + lasts]);
      expect(other).toMatchObject({ opacity: share });
    }
    expect(pictureLayers(evaluate(slow, 9 * F).layers)).toHaveLength(1);
    const normal = does(blended, 'setSpeed', { clips: [id(slow, 0)], wish: { speed: 1 }, rest: 'follow' });
    expect(pictureLayers(evaluate(normal, 9 * F).layers)).toHaveLength(1);
  });

  it('is refused, and nothing changes, where there is nothing to run', () => {
    const piece = addFrames(three(), PHOTO, 0, 30);
    expect(() => does(piece, 'setSpeed', { clips: [id(piece, 3)], wish: { speed: 2 }, rest: 'follow' })).toThrow(/stands still/);
    expect(() => does(piece, 'setSpeed', { clips: [id(piece, 0)], wish: { length: F * 9_000 }, rest: 'follow' })).toThrow(/5 % to 2000 %/);
    expect(() =>
      does(piece, 'setSpeed', { clips: [id(piece, 0)], wish: { speed: 2 }, within: { from: 200 * F, to: 210 * F }, rest: 'follow' }),
    ).toThrow(/Nothing of the clip/);
  });

  it('changes what is inside a nest, seen and heard, when the nest runs at another speed', () => {
    const piece = unlimited(three());
    const nested = does(piece, 'nest', { clips: [id(piece, 0), id(piece, 1)], name: 'Inside' });
    const fast = does(nested, 'setSpeed', { clips: [id(nested, 0)], wish: { speed: 2 }, rest: 'follow' });
    const inside = (n: number) => [shownAt(fast, n)!.time, shownAt(fast, n)!.pace];
    for (const n of [0, 7, 25]) expect(inside(n)).toEqual([shownAt(piece, n * 2)!.time, 2]);
    expect(() => does(fast, 'unnest', { clip: id(fast, 0) })).toThrow(/Set it back to 100 %/);
    const [from, to] = [toSamples(5 * F), toSamples(9 * F)];
    const loud = mix(fast, from, to, read).left.reduce((sum, one) => sum + Math.abs(one), 0);
    expect(loud).toBeGreaterThan(0);
    const inMaterial = (n: number) => toSamples(main(piece)[0]!.from + n * F);
    const needed = neededSound(fast, from, to).filter(({ media }) => media === 'v');
    expect(needed.some(({ from: first, to: last }) => first <= inMaterial(10) && last >= inMaterial(18))).toBe(true);
  });
});

const tone =
  (hertz: number): SoundSource =>
  (from, to) => {
    const left = Float32Array.from({ length: to - from }, (_, i) => Math.sin((2 * Math.PI * hertz * (from + i)) / SAMPLE_RATE));
    return { left, right: left };
  };

/** How strongly a sound holds a tone: 1 for one of full scale. */
function strengthOf({ left }: Stereo, hertz: number): number {
  let [re, im] = [0, 0];
  left.forEach((one, i) => {
    const window = 1 - Math.cos((2 * Math.PI * i) / left.length);
    re += window * one * Math.cos((2 * Math.PI * hertz * i) / SAMPLE_RATE);
    im += window * one * Math.sin((2 * Math.PI * hertz * i) / SAMPLE_RATE);
  });
  return (2 * Math.hypot(re, im)) / left.length;
}

describe('sound at another pace', () => {
  it('keeps its pitch, or takes it along, at full strength and nothing else', () => {
    for (const speed of [0.5, 0.8, 1.25, 2, 3.7]) {
      const kept = paced(tone(440), { speed, pitch: 'kept' }, undefined)(48_000, 96_000)!;
      expect(strengthOf(kept, 440)).toBeGreaterThan(0.97);
      const moved = paced(tone(440), { speed, pitch: 'follows' })(48_000, 96_000)!;
      expect(strengthOf(moved, 440 * speed)).toBeGreaterThan(0.999);
      expect(strengthOf(moved, 440)).toBeLessThan(speed === 1 ? 1 : 0.001);
    }
    // What would be higher than can be heard is gone, not folded down.
    const high = paced(tone(15_000), { speed: 2, pitch: 'follows' })(48_000, 72_000)!;
    expect(high.left.reduce((most, one) => Math.max(most, Math.abs(one)), 0)).toBeLessThan(0.001);
  });

  it('is the same however the range is cut, and needs no more than it says', () => {
    const paces = fc.record({ speed: speeds, pitch: fc.constantFrom('kept' as const, 'follows' as const) });
    const noise: SoundSource = (from, to) => read('v', from, to - from);
    fc.assert(
      fc.property(paces, fc.integer({ min: -60_000, max: 60_000 }), fc.integer({ min: 2, max: 5_000 }), (pace: SoundPace, from, count) => {
        const middle = from + Math.floor(count / 3);
        const [low, high] = paceReach(pace, from, from + count);
        const watched: SoundSource = (first, last) => {
          expect(first).toBeGreaterThanOrEqual(low);
          expect(last).toBeLessThanOrEqual(high);
          return noise(first, last);
        };
        const whole = paced(watched, pace)(from, from + count)!.left;
        const parts = [paced(noise, pace)(from, middle)!.left, paced(noise, pace)(middle, from + count)!.left];
        expect(Buffer.compare(Buffer.from(Float32Array.of(...parts[0]!, ...parts[1]!).buffer), Buffer.from(whole.buffer))).toBe(0);
      }),
      { numRuns: 30 },
    );
  });

  it('runs backwards sample by sample', () => {
    const noise: SoundSource = (from, to) => read('v', from, to - from);
    const turned = paced(noise, { speed: -1, pitch: 'kept' })(-500, -100)!;
    expect([...turned.left]).toEqual([...noise(100, 500)!.left].reverse());
  });
});
