import { clipLoudness, doubledSound, Energies, integratedOf, levelFor } from '../analyse';
import { applyEdit } from '../edits';
import { crossfadeRoom, seamAt, type Piece } from '../piece';
import { FADES } from '../properties';
import { mix, peakOf, type HearingReader, type PcmReader } from '../sound';
import { frameLength, fromSamples, fromSeconds, toSamples } from '../time';
import { addFrames, does, emptyPiece, MUSIC, uuid, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });

/** A tone of 1 kHz: −20 LUFS in the video's first 5 s, −30 after; −16 in the music. */
const level = (media: string, n: number) => (media === 'm' ? -16 : n < 5 * 48_000 ? -20 : -30);
const read: PcmReader = (media, from, count) => {
  const left = Float32Array.from(
    { length: count },
    (_, i) => 10 ** (level(media, from + i) / 20) * Math.sin((2 * Math.PI * 1000 * (from + i)) / 48_000),
  );
  return { left, right: left };
};
const hearing: HearingReader = (media) => ({
  loudness: Array.from({ length: 300 }, (_, i) => level(media, i * 4_800) * 10),
  speech: [],
});
const onlyClip = (piece: Piece, track: string) => piece.tracks.find((one) => one.id === track)!.clips[0]!;
const trackOf = (piece: Piece, id: string) => piece.tracks.find((one) => one.id === id)!;

/** Loudness of a piece as it is mixed, without its limiter. */
function mixed(piece: Piece, seconds: number): number {
  const energies = new Energies();
  energies.push(mix(does(piece, 'setSound', { limited: false }), 0, seconds * 48_000, read));
  return integratedOf(energies.steps);
}

describe('clips at one loudness', () => {
  it('are as loud as what is mixed, with level, envelope and track, and are brought to what is asked', () => {
    let piece = addFrames(emptyPiece(), VIDEO, 0, 120);
    piece = does(piece, 'setTrack', { track: 'main', set: { level: -3 } });
    piece = does(piece, 'set', { clips: [onlyClip(piece, 'main').id], values: { level: -4 } });
    const loudness = () => clipLoudness(onlyClip(piece, 'main'), trackOf(piece, 'main'), hearing);
    expect(Math.abs(loudness() - mixed(piece, 4))).toBeLessThan(0.2);
    const to = levelFor(onlyClip(piece, 'main'), trackOf(piece, 'main'), hearing, -18)!;
    piece = does(piece, 'set', { clips: [onlyClip(piece, 'main').id], values: { level: to } });
    expect(Math.abs(mixed(piece, 4) + 18)).toBeLessThan(0.2);
    expect(levelFor(onlyClip(piece, 'main'), trackOf(piece, 'main'), () => null, -18)).toBeNull();
  });

  it('the whole piece is made louder and softer by its own level, before the limiter', () => {
    const piece = addFrames(emptyPiece(), VIDEO, 0, 120);
    expect(mixed(does(piece, 'setSound', { level: -6 }), 4) - mixed(piece, 4)).toBeCloseTo(-6, 1);
    const loud = mix(does(piece, 'setSound', { level: 14 }), 48_000, 60_000, read);
    expect(peakOf(loud)).toBeLessThanOrEqual(10 ** (-1 / 20));
    expect(does(does(piece, 'setSound', { level: 3 }), 'setSound', { level: 0 }).sound).toBeUndefined();
  });
});

describe('crossfades at joins', () => {
  const two = () => {
    const piece = addFrames(addFrames(emptyPiece(), VIDEO, 30, 60), VIDEO, 200, 60);
    return { piece, after: piece.tracks[0]!.clips[1]! };
  };

  it('come to the length asked for at all of them in one edit, and go again', () => {
    const { piece, after } = two();
    const faded = does(piece, 'crossfade', { clips: piece.tracks[0]!.clips.map((clip) => clip.id), length: fromSeconds(0.5) });
    expect(faded.tracks[0]!.clips.map((clip) => clip.blend)).toEqual([undefined, fromSeconds(0.5)]);
    // Both sides are heard in the middle of it: neither is in a plain cut.
    const middle = toSamples(60 * F);
    const around = (one: Piece) => peakOf(mix(one, middle - 20, middle + 20, read));
    expect(around(faded)).toBeGreaterThan(around(piece) * 3);
    expect(does(faded, 'crossfade', { clips: [after.id], length: 0 }).tracks[0]!.clips[1]!.blend).toBeUndefined();
  });

  it('follow the curve that was chosen: the one comes in by it, the other goes by the same backwards', () => {
    const { piece, after } = two();
    const faded = does(piece, 'crossfade', { clips: [after.id], length: fromSeconds(0.5) });
    // What comes of the first clip is on the left alone, what comes of the second on the right.
    const apart: PcmReader = (_, from, count) => {
      const side = (is: (n: number) => boolean) => Float32Array.from({ length: count }, (_u, i) => (is(from + i) ? 0.5 : 0));
      return { left: side((n) => n < 240_000), right: side((n) => n >= 240_000) };
    };
    const begin = toSamples(60 * F) - 12_000;
    for (const curve of ['even', 'equalPower', 'slowStart', 'slowEnd'] as const) {
      const one = does(faded, 'set', { clips: [after.id], values: { blendCurve: curve } });
      expect(one.tracks[0]!.clips[1]!.blendCurve).toBe(curve === 'even' ? undefined : curve);
      const { left, right } = mix(one, begin, begin + 24_000, apart);
      for (const share of [0.1, 0.25, 0.5, 0.8]) {
        expect(right[share * 24_000]! / 0.5).toBeCloseTo(FADES[curve](share), 3);
        expect(left[share * 24_000]! / 0.5).toBeCloseTo(FADES[curve](1 - share), 3);
      }
    }
  });

  it('get what material there is where there is less, and a sentence where there is no join', () => {
    const piece = addFrames(addFrames(emptyPiece(), VIDEO, 0, 60), VIDEO, 3, 60);
    const after = piece.tracks[0]!.clips[1]!;
    const room = crossfadeRoom(piece, seamAt(piece, after.id)!);
    expect(room).toBe(6 * F);
    expect(does(piece, 'crossfade', { clips: [after.id], length: fromSeconds(2) }).tracks[0]!.clips[1]!.blend).toBe(room);
    expect(() => applyEdit(piece, uuid(), 'crossfade', { clips: [piece.tracks[0]!.clips[0]!.id], length: F })).toThrow(/no join/);
  });

  it('are made on sound tracks too', () => {
    const piece = addFrames(addFrames(emptyPiece(), MUSIC, 30, 60, 'sound-1'), MUSIC, 300, 60, 'sound-1');
    const after = trackOf(piece, 'sound-1').clips[1]!;
    expect(trackOf(does(piece, 'crossfade', { clips: [after.id], length: F * 10 }), 'sound-1').clips[1]!.blend).toBe(F * 10);
  });
});

describe('doubled sound', () => {
  /** The same video on the main track and, as sound, on the other, so many samples earlier. */
  const both = (early: number) => {
    let piece = addFrames(emptyPiece(), VIDEO, 0, 90);
    piece = does(piece, 'add', { track: 'sound-1', media: VIDEO, at: 0, from: fromSamples(early), length: 90 * F, parts: 'sound' });
    return piece;
  };

  it('is found where the same material sounds twice within 50 ms, and nowhere else', () => {
    const found = doubledSound(both(960));
    expect(found).toHaveLength(1);
    expect([found[0]!.from, found[0]!.to, found[0]!.late]).toEqual([0, 90 * F, -960]);
    expect(doubledSound(both(2_500))).toEqual([]);
    expect(doubledSound(addFrames(addFrames(emptyPiece(), VIDEO, 0, 60), MUSIC, 0, 60, 'sound-1'))).toEqual([]);
  });

  it('is gone when one of them is silent, muted, or was detached', () => {
    const piece = both(0);
    const [first, second] = doubledSound(piece)[0]!.clips;
    for (const clip of [first, second]) expect(doubledSound(does(piece, 'set', { clips: [clip.id], values: { level: -60 } }))).toEqual([]);
    expect(doubledSound(does(piece, 'setTrack', { track: 'main', set: { muted: true } }))).toEqual([]);
    const whole = addFrames(emptyPiece(), VIDEO, 0, 60);
    const detached = does(whole, 'detach', { clips: [onlyClip(whole, 'main').id] });
    expect(doubledSound(detached)).toEqual([]);
  });
});
