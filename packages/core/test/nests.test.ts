import { copyClips } from '../edits';
import { planSegments } from '../deliver';
import { evaluate, pictureLayers } from '../frame';
import { clipEnd, pieceLength, type Clip, type Piece } from '../piece';
import { heardAt, mix, neededSound } from '../sound';
import { toSamples } from '../time';
import { does, PHOTO, VIDEO } from './making';
import { F, main, ramp, layout, id, three, heard, soundsLike } from './three';

describe('markers and the shelf', () => {
  it('markers stand on the timeline, or in the material; a stretch taken out takes its markers along', () => {
    const shelved = does(three(), 'mark', { place: { media: 'v' }, time: 5 * F, name: 'in the material' });
    expect(shelved.shelf!.find((e) => e.media.id === 'v')!.markers).toMatchObject([{ time: 5 * F, name: 'in the material' }]);
    expect(shelved.markers).toBeUndefined();
    const marked = [20, 60, 150].reduce((p, n) => does(p, 'mark', { place: {}, time: n * F }), three());
    const shorter = does(marked, 'takeOutStretch', { from: 40 * F, to: 100 * F });
    expect(shorter.markers!.map((m) => m.time / F)).toEqual([20, 90]);
  });

  it('ranges are kept in order and within the material; off the shelf no clip changes', () => {
    const ranges = [
      { name: 'b', from: 50 * F, to: 80 * F },
      { name: 'a', from: 0, to: 20 * F },
    ];
    const piece = does(three(), 'setRanges', { media: 'v', ranges });
    expect(piece.shelf!.find((e) => e.media.id === 'v')!.ranges.map((r) => r.name)).toEqual(['a', 'b']);
    expect(() => does(piece, 'setRanges', { media: 'v', ranges: [{ name: '', from: 0, to: 4000 * F }] })).toThrow(/out comes after in/);
    const off = does(piece, 'unshelve', { media: ['v'] });
    expect(off.tracks).toEqual(piece.tracks);
    expect(off.shelf!.map((e) => e.media.id)).toEqual(['m']);
  });
});

describe('stills and nests', () => {
  it('a frozen frame shows one moment for its length, silently, and the rest goes on after it', () => {
    const piece = does(three(), 'freeze', { clip: id(three(), 0), at: 20 * F, length: 45 * F });
    expect(
      layout(piece)
        .slice(0, 3)
        .map(([s, l]) => [s, l]),
    ).toEqual([
      [0, 20],
      [20, 45],
      [65, 40],
    ]);
    for (const n of [20, 40, 64])
      expect(pictureLayers(evaluate(piece, n * F).layers).at(-1)!.picture).toMatchObject({ time: 50 * F, still: true });
    expect(pictureLayers(evaluate(piece, 65 * F).layers).at(-1)!.picture.time).toBe(50 * F);
    const alone = { ...piece, tracks: [piece.tracks[0]!] };
    expect(Math.max(...heard(alone).slice(toSamples(22 * F), toSamples(63 * F)))).toBe(0);
  });

  const inNest = (() => {
    const over = does(three(), 'add', { track: null, media: PHOTO, at: 70 * F, from: 0, length: 30 * F });
    return does(over, 'nest', { clips: [id(over, 0), id(over, 1), id(over, 0, 1)], name: 'Opening' });
  })();
  const nested = () => inNest;

  it('a nest looks and sounds as its clips did, in preview, mix and segments', () => {
    const flat = does(three(), 'add', { track: null, media: PHOTO, at: 70 * F, from: 0, length: 30 * F });
    for (let n = 0; n < 180; n += 7) {
      const strip = (p: Piece) =>
        pictureLayers(evaluate(p, n * F).layers).map(({ picture: { media, time }, ...rest }) => ({ ...rest, picture: { media, time } }));
      expect(strip(nested())).toEqual(strip(flat));
    }
    soundsLike(nested(), flat);
    const plan = (p: Piece) => planSegments(p, pieceLength(p)).map((s) => [s.start, s.frames, s.way]);
    expect(plan(nested())).toEqual(plan(flat));
    expect(
      neededSound(nested(), 0, 48_000)
        .map((s) => s.media)
        .sort(),
    ).toEqual(['m', 'v']);
  });

  it('can be trimmed, used twice and taken apart again, but never put into itself', () => {
    const trimmed = does(nested(), 'trim', { clip: id(nested(), 0), edge: 'head', to: 20 * F, rest: 'follow' });
    expect(pictureLayers(evaluate(trimmed, 0).layers).at(-1)!.picture.time).toBe(50 * F);
    const twice = does(nested(), 'duplicate', { clips: [id(nested(), 0)] });
    expect(main(twice).filter((c: Clip) => c.media === main(twice)[0]!.media)).toHaveLength(2);
    const inner = Object.keys(twice.nests!)[0]!;
    const copied = copyClips(twice, [id(twice, 0)])!;
    expect(() => does(twice, 'paste', { copied, inside: inner, track: null, at: 150 * F, how: 'insert' })).toThrow(/show itself/);
    const apart = does(nested(), 'unnest', { clip: id(nested(), 0) });
    expect(layout(apart).slice(0, 2)).toEqual(layout(three()).slice(0, 2));
    soundsLike(apart, nested());
  });

  it('grows when its inside does, while the clips that show it stay as they are', () => {
    const piece = nested();
    const inner = Object.keys(piece.nests!)[0]!;
    const track = piece.nests![inner]!.tracks[0]!;
    const longer = does(piece, 'add', { track: track.id, media: VIDEO, at: null, from: 0, length: 50 * F });
    expect(longer.media[inner]!.length).toBe(200 * F);
    expect(main(longer)).toEqual(main(piece));
    const shorter = does(piece, 'remove', { clips: [track.clips[1]!.id], rest: 'close' });
    expect(clipEnd(main(shorter)[0]!)).toBe(150 * F);
    expect(evaluate(shorter, 120 * F).layers).toEqual([]);
  });
});

describe('what is heard at one sample', () => {
  it('is what the mix holds there, within nests too, at the level of every nest around it', () => {
    const [a, b] = main(three()).map((clip) => clip.id) as [string, string];
    const inner = does(three(), 'nest', { clips: [a, b], name: 'Inside' });
    const nest = main(inner)[0]!;
    const piece = does(inner, 'set', { clips: [nest.id], values: { level: -6 } });
    for (const frame of [30, 100, 160]) {
      const sample = toSamples(frame * F);
      const expected = heardAt(piece, sample).reduce((sum, one) => sum + one.left * ramp(one.media, one.sample, 1)!.left[0]!, 0);
      expect(mix(piece, sample, sample + 1, ramp).left[0]).toBeCloseTo(expected, 6);
    }
    const [inside] = heardAt(piece, toSamples(100 * F));
    expect([inside?.clip.split('/').length, inside?.media, inside?.left.toFixed(3)]).toEqual([2, 'v', '0.501']);
  });

  it('leaves out what is muted, and all but what is on solo', () => {
    const sample = toSamples(30 * F);
    const muted = does(three(), 'setTrack', { track: 'sound-1', set: { muted: true } });
    expect(heardAt(muted, sample).map((one) => one.media)).toEqual(['v']);
    const solo = does(three(), 'setTrack', { track: 'sound-1', set: { solo: true } });
    expect(heardAt(solo, sample).map((one) => one.media)).toEqual(['m']);
  });
});
