import fc from 'fast-check';
import { clicks, delayOf, LONGEST_DELAY, VoiceCheck } from '../analyse';
import { EditRefused } from '../edits';
import { clipEnd, takesWith, type MediaFacts, type Piece } from '../piece';
import { frameLength, fromSeconds, SAMPLE_RATE as S } from '../time';
import { addFrames, does, emptyPiece, MUSIC, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });
const take = (n: number, seconds: number): MediaFacts => ({
  ...MUSIC,
  id: `take-${n}`,
  name: `Narration ${n}`,
  length: fromSeconds(seconds),
});
const start = () => addFrames(emptyPiece(), VIDEO, 0, 240);
const of = { of: 'one', at: 60 * F };
const narration = (piece: Piece) => piece.tracks.find((track) => track.name === 'Narration')!;
const spans = (piece: Piece) => narration(piece).clips.map((clip) => [clip.media, clip.start / F, clipEnd(clip) / F]);

describe('a narration', () => {
  it('comes onto a track of its own, for speech, where it was spoken; nothing else moves', () => {
    const before = start();
    const piece = does(before, 'narrate', { media: take(1, 2.51), take: of });
    expect(spans(piece)).toEqual([['take-1', 60, 135]]);
    expect(narration(piece)).toMatchObject({ kind: 'sound', role: 'speech' });
    expect(piece.tracks.slice(0, before.tracks.length)).toEqual(before.tracks);
    expect(piece.shelf?.at(-1)).toMatchObject({ media: { id: 'take-1' }, take: of });
    // Another one goes beside it, and covers no more than it lasts.
    const more = does(piece, 'narrate', { media: take(2, 1), take: { of: 'two', at: 90 * F } });
    expect(spans(more)).toEqual([
      ['take-1', 60, 90],
      ['take-2', 90, 120],
      ['take-1', 120, 135],
    ]);
  });

  it('spoken again takes the place of the take before, which stays on the shelf', () => {
    const first = does(start(), 'narrate', { media: take(1, 3), take: of });
    const second = does(first, 'narrate', { media: take(2, 2), take: of, instead: narration(first).clips[0]!.id });
    expect(spans(second)).toEqual([['take-2', 60, 120]]);
    expect(takesWith(second, 'take-2').map((entry) => entry.media.id)).toEqual(['take-1', 'take-2']);
    expect(() => does(first, 'narrate', { media: take(2, 0.01), take: of })).toThrow(EditRefused);
  });

  it('is swapped for another take in step: a whole one for the whole, a trimmed end stays', () => {
    const first = does(start(), 'narrate', { media: take(1, 2), take: of });
    const both = does(first, 'narrate', { media: take(2, 3), take: of, instead: narration(first).clips[0]!.id });
    const id = () => narration(both).clips[0]!.id;
    const shorter = does(both, 'swapTake', { clip: id(), media: 'take-1' });
    expect(spans(shorter)).toEqual([['take-1', 60, 120]]);
    expect(spans(does(shorter, 'swapTake', { clip: id(), media: 'take-2' }))).toEqual([['take-2', 60, 150]]);
    const trimmed = does(both, 'trim', { clip: id(), edge: 'head', to: 75 * F, rest: 'stay' });
    const swapped = does(trimmed, 'swapTake', { clip: id(), media: 'take-1' });
    expect(spans(swapped)).toEqual([['take-1', 75, 120]]);
    expect(narration(swapped).clips[0]!.from).toBe(15 * F);
    const short = does(does(both, 'trim', { clip: id(), edge: 'tail', to: 90 * F, rest: 'stay' }), 'swapTake', {
      clip: id(),
      media: 'take-1',
    });
    expect(spans(short)).toEqual([['take-1', 60, 90]]);
    expect(() => does(both, 'swapTake', { clip: id(), media: 'm' })).toThrow(EditRefused);
    const late = does(both, 'trim', { clip: id(), edge: 'head', to: 130 * F, rest: 'stay' });
    expect(() => does(late, 'swapTake', { clip: id(), media: 'take-1' })).toThrow('ends before this clip begins');
  });
});

const noise = (seed: number, level: number) => {
  let state = seed + 1;
  return () => ((state = (state * 48271) % 2147483647) / 2147483647 - 0.5) * 2 * level;
};

describe('the delay from loudspeaker to microphone', () => {
  it('is found to the sample however loud, turned over, and over noise', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: LONGEST_DELAY - 100 }),
        fc.integer({ min: -40, max: 0 }),
        fc.boolean(),
        fc.nat(1e6),
        (late, db, over, seed) => {
          const gain = 10 ** (db / 20) * (over ? -1 : 1);
          const [played, hiss] = [clicks(), noise(seed, 0.2 * Math.abs(gain))];
          const recorded = Float32Array.from({ length: played.length + 1000 }, (_, i) => (played[i - late] ?? 0) * gain + hiss());
          expect(Math.abs((delayOf(recorded) ?? -1e6) - late)).toBeLessThanOrEqual(2);
        },
      ),
      { numRuns: 5 },
    );
  });

  it('is not made up where the clicks were not heard', () => {
    const length = clicks().length;
    expect(delayOf(new Float32Array(length))).toBeNull();
    for (const seed of [1, 2]) {
      const hiss = noise(seed, 0.3);
      expect(delayOf(Float32Array.from({ length }, hiss))).toBeNull();
      // A tone is like itself everywhere; two of the clicks are too few.
      expect(delayOf(Float32Array.from({ length }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 3000 * i) / S)))).toBeNull();
      expect(delayOf(clicks().map((one, i) => (i < 50_000 ? one : 0) + 0.1 * hiss()))).toBeNull();
    }
  });
});

/** Five seconds of a voice of syllables, 0.6 s spoken and 0.4 s not, with a pitch that wanders. */
const SPOKEN = ((): Float32Array => {
  let phase = 0;
  return Float32Array.from({ length: 5 * S }, (_, i) => {
    const t = i / S;
    phase += (2 * Math.PI * (120 + 25 * Math.sin(2 * Math.PI * 0.7 * t))) / S;
    const said = t % 1 < 0.6 ? Math.sin((Math.PI * (t % 1)) / 0.6) ** 2 : 0;
    return said * 0.4 * (Math.sin(phase) + Math.sin(2 * phase) / 2 + Math.sin(3 * phase) / 3 + Math.sin(6 * phase) / 6);
  });
})();
const voice = (level: number) => SPOKEN.map((one) => one * level);
const verdict = (samples: Float32Array, piece = 2_048) => {
  const check = new VoiceCheck();
  for (let at = 0; at < samples.length; at += piece) check.push(samples.subarray(at, at + piece));
  return check.reading;
};
const plus = (a: Float32Array, more: (i: number) => number) => a.map((one, i) => one + more(i));

describe('the check of a voice', () => {
  it('tells too quiet, fine and too loud apart, and silence from both', () => {
    expect(verdict(new Float32Array(5 * S)).verdict).toBe('nothing');
    expect(verdict(voice(0.01)).verdict).toBe('quiet');
    expect(verdict(voice(0.2)).verdict).toBe('fine');
    expect(verdict(voice(2)).verdict).toBe('loud');
    const { loudness } = verdict(voice(0.2));
    expect(verdict(voice(0.1)).loudness).toBeCloseTo(loudness - 6.02, 1);
    const otherwise = verdict(voice(0.2), 777); // however the sound is cut when it comes
    expect(otherwise.verdict).toBe('fine');
    expect(otherwise.loudness).toBeCloseTo(loudness, 6);
  });

  it('hears the hum of the mains under a voice and alone, at 50 and at 60 Hz, and takes no voice for one', () => {
    for (const mains of [50, 60]) {
      const hum = (i: number) => 0.01 * [1, 2, 3].reduce((sum, n) => sum + Math.sin((2 * Math.PI * mains * n * i) / S) / n, 0);
      expect(verdict(plus(voice(0.2), hum)).verdict).toBe('hum');
      expect(verdict(plus(new Float32Array(4 * S), hum)).verdict).toBe('hum');
    }
    expect(verdict(plus(voice(0.2), noise(5, 0.002))).verdict).toBe('fine');
    expect(verdict(plus(voice(0.2), noise(5, 0.08))).verdict).toBe('noisy');
  });
});
