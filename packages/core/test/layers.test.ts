import { clipsAhead, evaluate, pictureLayers } from '../frame';
import { heardTracks } from '../piece';
import { mix, neededSound, soundingClips, type PcmReader } from '../sound';
import { frameLength, toSamples } from '../time';
import { addFrames, does, emptyPiece, MUSIC, PHOTO, SILENT, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });
const constant: PcmReader = (_, __, count) => ({ left: new Float32Array(count).fill(0.5), right: new Float32Array(count).fill(0.5) });

describe('what is seen on several tracks', () => {
  const low = addFrames(emptyPiece(), VIDEO, 0, 90);
  const over = (fit: 'fit' | 'fill', backdrop: 'blur' | 'black') =>
    does(low, 'add', { track: null, media: PHOTO, at: 30 * F, from: 0, length: 30 * F, fit, backdrop });

  it('what is wholly covered is not drawn, so that nobody decodes it', () => {
    expect(pictureLayers(evaluate(over('fill', 'black'), 40 * F).layers).map((l) => l.picture.media)).toEqual(['p']);
    expect(pictureLayers(evaluate(over('fit', 'blur'), 40 * F).layers).map((l) => [l.kind, l.picture.media])).toEqual([
      ['backdrop', 'p'],
      ['picture', 'p'],
    ]);
    expect(pictureLayers(evaluate(over('fit', 'black'), 40 * F).layers).map((l) => l.picture.media)).toEqual(['v', 'p']);
    expect(pictureLayers(evaluate(over('fill', 'black'), 10 * F).layers).map((l) => l.picture.media)).toContain('v');
  });

  it('names the same clip alike from frame to frame, and others apart', () => {
    const piece = over('fit', 'black');
    const [a, b] = [evaluate(piece, 35 * F), evaluate(piece, 36 * F)];
    const names = ({ layers }: typeof a) => pictureLayers(layers).map((l) => `${l.picture.clip} ${l.kind}`);
    expect(names(a)).toEqual(names(b));
    expect(new Set(names(a)).size).toBe(a.layers.length);
  });

  it('gives what comes up soon, to be opened ahead: not what is hidden or far', () => {
    const piece = over('fill', 'black');
    expect(clipsAhead(piece, 20 * F, 40 * F).map((one) => [one.at / F, pictureLayers(one.layers).at(-1)!.picture.media])).toEqual([
      [30, 'p'],
    ]);
    expect(clipsAhead(piece, 40 * F, 60 * F)).toEqual([]);
    const hidden = does(piece, 'setTrack', { track: piece.tracks[1]!.id, set: { hidden: true } });
    expect(clipsAhead(hidden, 20 * F, 40 * F)).toEqual([]);
  });
});

describe('what is heard on several tracks', () => {
  const free = does(emptyPiece(), 'setSound', { limited: false });
  const piece = addFrames(addFrames(free, VIDEO, 0, 60), MUSIC, 0, 60, 'sound-1');

  it('solo leaves out all others, mute itself, and both together silence', () => {
    const names = (p: typeof piece) => heardTracks(p).map((t) => t.name);
    expect(names(piece)).toEqual(['Picture', 'Music']);
    const solo = does(piece, 'setTrack', { track: 'sound-1', set: { solo: true } });
    expect(names(solo)).toEqual(['Music']);
    expect(names(does(solo, 'setTrack', { track: 'sound-1', set: { muted: true } }))).toEqual([]);
    expect(mix(piece, 5000, 5001, constant).left[0]).toBeCloseTo(1, 6);
    expect(mix(solo, 5000, 5001, constant).left[0]).toBeCloseTo(0.5, 6);
  });

  it('only what sounds is fetched, and just as much of it as sounds', () => {
    const needed = neededSound(piece, 1000, 2000);
    expect(needed).toEqual([
      { media: 'v', from: 1000, to: 2000 },
      { media: 'm', from: 1000, to: 2000 },
    ]);
    const silent = addFrames(emptyPiece(), SILENT, 0, 60);
    expect(neededSound(silent, 0, 48_000)).toEqual([]);
  });

  it('a hidden picture is still heard', () => {
    const hidden = does(piece, 'setTrack', { track: 'main', set: { hidden: true } });
    expect(neededSound(hidden, 1000, 2000).map((n) => n.media)).toContain('v');
  });
});

describe('where sound changes hands', () => {
  const two = addFrames(addFrames(emptyPiece(), VIDEO, 60, 60), VIDEO, 200, 60);
  const after = two.tracks[0]!.clips[1]!.id;
  const spans = (piece: typeof two) => soundingClips(piece, piece.tracks[0]!, 0, 1e9).map((s) => [s.start, s.end]);

  it('nothing overlaps at a plain cut', () => {
    expect(spans(two)).toEqual([
      [0, toSamples(60 * F)],
      [toSamples(60 * F), toSamples(120 * F)],
    ]);
  });

  it('a crossfade overlaps by just its length, around the hand-over', () => {
    const early = does(two, 'soundEdge', { clip: after, edge: 'head', to: 45 * F, blend: 705_600 * 100 });
    const [[, endsAt], [startsAt]] = spans(early) as [[number, number], [number, number]];
    expect(endsAt - startsAt).toBe(4_800);
    expect((endsAt + startsAt) / 2).toBe(toSamples(45 * F));
  });

  it('a later clip’s sound ends that of the one before it, also when that was moved under it', () => {
    const early = does(two, 'soundEdge', { clip: after, edge: 'head', to: 30 * F, blend: 0 });
    const trimmed = does(early, 'trim', { clip: two.tracks[0]!.clips[0]!.id, edge: 'tail', to: 40 * F, rest: 'follow' });
    const [[, endsAt], [startsAt]] = spans(trimmed) as [[number, number], [number, number]];
    expect(endsAt).toBeLessThanOrEqual(startsAt);
  });

  it('goes back with the picture by typing nothing apart', () => {
    const early = does(two, 'soundEdge', { clip: after, edge: 'head', to: 45 * F });
    const back = does(early, 'soundEdge', { clip: after, edge: 'head', to: 60 * F, blend: 0 });
    expect(back.tracks).toEqual(two.tracks);
  });
});
