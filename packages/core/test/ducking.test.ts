import fc from 'fast-check';
import { Energies } from '../analyse';
import { findClip, type Piece } from '../piece';
import { points, UNDER } from '../properties';
import { clearanceOf, duckAt, duckLines, envelopeWith, lufs, mix, type Hearing, type HearingReader, type PcmReader } from '../sound';
import { frameLength, fromSeconds, toSeconds } from '../time';
import { addFrames, does, emptyPiece, MUSIC, play, VIDEO, wishes } from './making';

const F = frameLength({ num: 30, den: 1 });
const S = 48_000;

/** Speech of −20 LUFS at 2–5 s and 8–9 s of the video; music that swells slowly between −14 and −24 LUFS. */
const SPOKEN: [number, number][] = [
  [2 * S, 5 * S],
  [8 * S, 9 * S],
];
const musicLevel = (second: number) => -19 + 5 * Math.sin((second / 12) * 2 * Math.PI);
const HEARD: Record<string, Hearing> = {
  v: {
    loudness: Array.from({ length: 123 }, (_, i) => (SPOKEN.some(([a, b]) => i * 4800 >= a && i * 4800 < b) ? -200 : -700)),
    speech: SPOKEN,
  },
  m: { loudness: Array.from({ length: 300 }, (_, i) => Math.round(musicLevel(i / 10) * 10)), speech: [] },
};
const hearing: HearingReader = (media) => HEARD[media] ?? null;

/** The same as sound: a tone of 1 kHz (whose K-weighted loudness is its level, less 3 dB for one side of two) on both sides. */
const tone = (level: number, n: number) => 10 ** (level / 20) * Math.sin((2 * Math.PI * 1000 * n) / S);
const read: PcmReader = (media, from, count) => {
  const level = (n: number) => (media === 'm' ? musicLevel(n / S) : SPOKEN.some(([a, b]) => n >= a && n < b) ? -20 : -120);
  const left = Float32Array.from({ length: count }, (_, i) => tone(level(from + i), from + i));
  return { left, right: left };
};

function talkOverMusic(): Piece {
  const piece = addFrames(addFrames(emptyPiece(), VIDEO, 0, 360), MUSIC, 0, 360, 'sound-1');
  return does(piece, 'setTrack', { track: 'sound-1', set: { under: UNDER } });
}
const musicOf = (piece: Piece) => piece.tracks.find((track) => track.id === 'sound-1')!.clips[0]!;
const lineIn = (piece: Piece) => duckLines(piece, hearing).get(musicOf(piece).id)!;

/** Loudness of every 100 ms of a track alone. */
function loudnessOf(piece: Piece, track: string): number[] {
  const energies = new Energies();
  const alone = does(piece, 'setTrack', { track, set: { solo: true } });
  const unlimited = does(alone, 'setSound', { limited: false });
  energies.push(mix(unlimited, 0, 12 * S, read, { lines: duckLines(piece, hearing) }));
  return energies.steps.map(lufs);
}

describe('music under speech', () => {
  it('is below the speech by what was asked, within 1 LU, in what is mixed', () => {
    for (const below of [12, 18]) {
      const piece = does(talkOverMusic(), 'setTrack', { track: 'sound-1', set: { under: { ...UNDER, below } } });
      const [music, voice] = [loudnessOf(piece, 'sound-1'), loudnessOf(piece, 'main')];
      const spoken = music.map((_, i) => i).filter((i) => SPOKEN.some(([a, b]) => i * 4800 >= a + 4800 && (i + 1) * 4800 < b));
      const near = spoken.filter((i) => Math.abs(voice[i]! - music[i]! - below) <= 1);
      expect(near.length / spoken.length).toBeGreaterThan(0.95);
      expect(Math.abs(clearanceOf(piece, musicOf(piece).id, hearing)!.over - below)).toBeLessThan(1);
    }
  });

  it('takes the speech for as loud as it is, not as the steps are in which it begins and ends', () => {
    // Four words of 0.3 s, each half in the step before it and half in the one after: those hold 9 dB less.
    const words = [2, 3, 4, 5].map((second): [number, number] => [(second + 0.05) * S, (second + 0.35) * S]);
    const steps = Array.from({ length: 123 }, () => -700);
    for (const [from] of words) [-290, -200, -200, -290].forEach((one, k) => (steps[Math.floor(from / 4800) + k] = one));
    const said: HearingReader = (media) =>
      media === 'v' ? { loudness: steps, speech: words } : { loudness: steps.map(() => -190), speech: [] };
    const piece = talkOverMusic();
    const line = duckLines(piece, said).get(musicOf(piece).id)!;
    for (const second of [2.2, 3.2, 4.2, 5.2]) expect(duckAt(line, fromSeconds(second))).toBeCloseTo(-13, 1);
  });

  it('goes down before the speech and up after it, no faster than asked, and is left alone elsewhere', () => {
    const line = lineIn(talkOverMusic());
    const at = (seconds: number) => duckAt(line, fromSeconds(seconds));
    expect([at(1.4), at(7.2), at(11)]).toEqual([0, 0, 0]);
    expect(at(1.9)).toBeLessThan(-8);
    expect(at(5.7)).toBeLessThan(-8);
    const deepest = Math.min(...line.map((point) => point.db));
    const steepest = -deepest / toSeconds(UNDER.down);
    for (let n = 1; n < 1_200; n += 1) {
      const slope = (at(n / 100) - at((n - 1) / 100)) * 100;
      expect(Math.abs(slope)).toBeLessThanOrEqual(steepest + 0.01);
    }
  });

  it('goes where the speech goes, and is gone with it', () => {
    const piece = talkOverMusic();
    const video = piece.tracks[0]!.clips[0]!;
    const trimmed = does(piece, 'trim', { clip: video.id, edge: 'head', to: 60 * F, rest: 'follow' });
    expect(duckAt(lineIn(trimmed), fromSeconds(0.5))).toBeLessThan(-8);
    expect(duckAt(lineIn(trimmed), fromSeconds(4.7))).toBe(0);
    expect(lineIn(does(piece, 'setTrack', { track: 'main', set: { muted: true } }))).toEqual([]);
    expect(lineIn(does(piece, 'setTrack', { track: 'main', set: { role: 'effects' } }))).toEqual([]);
    expect(lineIn(does(piece, 'remove', { clips: [video.id], rest: 'leave' }))).toEqual([]);
  });

  it('can be for one clip alone, or not for one of a track; a clip under speech is none itself', () => {
    const piece = talkOverMusic();
    const plain = does(piece, 'setTrack', { track: 'sound-1', set: { under: null } });
    expect(duckLines(plain, hearing).size).toBe(0);
    const { id } = musicOf(plain);
    expect(lineIn(does(plain, 'set', { clips: [id], values: { under: UNDER } }))).toEqual(lineIn(piece));
    expect(duckLines(does(piece, 'set', { clips: [id], values: { under: 'off' } }), hearing).size).toBe(0);
    const both = does(piece, 'setTrack', { track: 'main', set: { under: UNDER } });
    expect(lineIn(both)).toEqual([]);
  });

  it('is heard the same from within a nest, and wherever mixing begins', () => {
    const piece = talkOverMusic();
    const nested = does(piece, 'nest', { clips: [piece.tracks[0]!.clips[0]!.id], name: 'Talk' });
    expect(lineIn(nested)).toEqual(lineIn(piece));
    const lines = duckLines(piece, hearing);
    const whole = mix(piece, 60_000, 160_000, read, { lines });
    const [one, two] = [mix(piece, 60_000, 101_234, read, { lines }), mix(piece, 101_234, 160_000, read, { lines })];
    expect(Buffer.compare(Buffer.from(whole.left.buffer), Buffer.concat([one, two].map(({ left }) => Buffer.from(left.buffer))))).toBe(0);
  });

  it('sounds the same once it is made points of, on top of what the hand had set', () => {
    const talk = talkOverMusic();
    const piece = does(talk, 'set', {
      clips: [musicOf(talk).id],
      values: { envelope: { keys: [0, 6].map((n) => ({ at: fromSeconds(n), value: -n, ease: 'even' as const })) } },
    });
    const { id } = musicOf(piece);
    const envelope = envelopeWith(musicOf(piece), lineIn(piece));
    const plain = does(does(piece, 'setTrack', { track: 'sound-1', set: { under: null } }), 'set', { clips: [id], values: { envelope } });
    expect(points.pointsOf(envelope).length).toBeGreaterThan(8);
    const [was, is] = [loudnessOf(piece, 'sound-1'), loudnessOf(plain, 'sound-1')];
    was.forEach((one, i) => expect(Math.abs(is[i]! - one)).toBeLessThan(0.2));
  });

  it('has a line for whatever is made of a piece: in order, never up, none where nothing is under speech', () => {
    let drawn = 0;
    fc.assert(
      fc.property(wishes(20), (list) => {
        const piece = play(talkOverMusic(), list);
        for (const [id, line] of duckLines(piece, hearing)) {
          expect(findClip(piece, id)).not.toBeNull();
          line.forEach((point, i) => {
            expect(point.db).toBeLessThanOrEqual(0);
            expect(Number.isFinite(point.db)).toBe(true);
            if (i > 0) expect(point.at).toBeGreaterThan(line[i - 1]!.at);
          });
          if (line.length > 0) drawn += 1;
        }
      }),
      { numRuns: 60 },
    );
    expect(drawn).toBeGreaterThan(5);
  });
});
