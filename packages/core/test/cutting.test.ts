import { copyClips } from '../edits';
import { evaluate, pictureLayers } from '../frame';
import { apartBy, stepOffset } from '../piece';
import { type PcmReader } from '../sound';
import { toSamples } from '../time';
import { does, emptyPiece, MUSIC, PHOTO, SILENT, VIDEO } from './making';
import { F, on, main, layout, id, three, detached, ramp, heard, soundsLike } from './three';

describe('picture and sound', () => {
  it('detaching changes nothing that is heard, and attaching again gives the same piece of sound back', () => {
    soundsLike(detached(), three());
    const back = does(detached(), 'attach', { clips: main(detached()).map((c) => c.id) });
    expect(main(back)).toEqual(main(three()));
  });

  it('a detached sound out of step says by how much, and is brought back', () => {
    const piece = does(detached(), 'unlink', { clips: [id(detached(), 2)] });
    const moved = does(piece, 'move', { clips: [id(piece, 2, 2)], track: piece.tracks[2]!.id, to: 154 * F, how: 'place', rest: 'leave' });
    const linked = does(moved, 'link', { clips: [id(moved, 2), id(moved, 2, 2)] });
    expect(stepOffset(linked, on(linked, 2)[2]!) / F).toBe(4);
    expect(layout(does(linked, 'bringInStep', { clip: id(linked, 2) }), 2)[2]).toEqual([150, 30, 240]);
  });

  it('what follows a picture and its linked sound moves once when both are pulled, also where the picture ends earlier', () => {
    const whole = detached();
    const start = main(whole)[1]!.start;
    const piece = does(whole, 'split', { clips: [id(whole, 1)], at: start + F, linked: false });
    const pull = {
      clip: id(piece, 1, 2),
      also: [id(piece, 1)],
      edge: 'head' as const,
      to: start - 5 * F,
      rest: 'follow' as const,
      tracks: 'all' as const,
    };
    const pulled = does(piece, 'trim', pull);
    expect(main(pulled).map((clip, n) => (clip.start - main(piece)[n]!.start) / F)).toEqual([0, 0, 5, 5]);
    expect(stepOffset(pulled, main(pulled)[2]!)).toBe(0);
  });

  it('a split cuts linked sound along and links the second halves to each other', () => {
    const piece = does(detached(), 'split', { clips: [id(detached(), 1)], at: 100 * F });
    const [a, b] = [on(piece, 0)[2]!, on(piece, 2)[2]!];
    expect([a.start, b.start]).toEqual([100 * F, 100 * F]);
    expect(a.link?.group).toBe(b.link?.group);
    expect(a.link?.group).not.toBe(on(piece, 0)[1]!.link?.group);
    const gone = does(piece, 'remove', { clips: [a.id], rest: 'leave' });
    expect([on(gone, 0).length, on(gone, 2).length]).toEqual([3, 3]);
  });

  it('deleting a picture can keep its sound where it is', () => {
    const piece = does(three(), 'remove', { clips: [id(three(), 1)], rest: 'leave', keepSound: true });
    expect(layout(piece)).toHaveLength(2);
    expect(layout(piece, 2)).toEqual([[60, 90, 120]]);
    expect(on(piece, 2)[0]!.link).toBeUndefined();
  });

  it('deleting a picture alone keeps its detached sound, linked with nothing any more, also on a locked track', () => {
    const [first, sound] = [id(detached(), 0), on(detached(), 2)[0]!];
    const alone = { clips: [first], rest: 'leave' as const, linked: 'stay' as const };
    const piece = does(detached(), 'remove', alone);
    expect(on(piece, 0).map((clip) => clip.id)).not.toContain(first);
    expect(on(piece, 2)[0]).toEqual({ ...sound, link: undefined });
    const locked = does(detached(), 'setTrack', { track: detached().tracks[2]!.id, set: { locked: true } });
    expect(() => does(locked, 'remove', { clips: [first], rest: 'leave' })).toThrow(/is locked/);
    expect(on(does(locked, 'remove', alone), 2)).toEqual(on(detached(), 2));
    // Where the sounds after it would run into the one that stays, the gap cannot close.
    expect(() => does(detached(), 'remove', { ...alone, rest: 'close' })).toThrow(/would run into/);
  });

  it('picture alone is silent, sound alone goes on a sound track', () => {
    const silent = does(emptyPiece(), 'add', { track: 'main', media: VIDEO, at: 0, from: 0, length: 30 * F, parts: 'picture' });
    expect(Math.max(...heard(silent))).toBe(0);
    const sound = does(emptyPiece(), 'add', { track: 'sound-1', media: VIDEO, at: 0, from: 0, length: 30 * F, parts: 'sound' });
    expect(layout(sound, 1)).toEqual([[0, 30, 0]]);
  });
});

describe('sound edges', () => {
  const jCut = does(three(), 'soundEdge', { clip: id(three(), 1), edge: 'head', to: 50 * F });
  const early = () => jCut;

  it('a J-cut is one edit: the sound changes hands before the picture, and no picture moves', () => {
    expect(layout(early())).toEqual(layout(three()));
    expect([main(early())[0]!.trail, main(early())[1]!.lead]).toEqual([-10 * F, 10 * F]);
    // Past the crossfade, what is heard under the first picture is already the second clip's sound, in step with its own picture.
    const at = toSamples(56 * F);
    expect(heard({ ...early(), tracks: [early().tracks[0]!] })[at]).toBeCloseTo(ramp('v', toSamples(116 * F), 1)!.left[0]!, 6);
  });

  it('an L-cut lets the sound run on under the next picture', () => {
    const late = does(three(), 'soundEdge', { clip: id(three(), 0), edge: 'tail', to: 70 * F });
    expect([main(late)[0]!.trail, main(late)[1]!.lead]).toEqual([10 * F, -10 * F]);
    const at = toSamples(66 * F);
    expect(heard({ ...late, tracks: [late.tracks[0]!] })[at]).toBeCloseTo(ramp('v', toSamples(96 * F), 1)!.left[0]!, 6);
  });

  it('crosses over without a dip or a bump when both sound alike', () => {
    const constant: PcmReader = (_, __, count) => ({ left: new Float32Array(count).fill(0.5), right: new Float32Array(count) });
    const alone = { ...early(), tracks: [early().tracks[0]!] };
    const around = heard(alone, constant).slice(toSamples(45 * F), toSamples(55 * F));
    expect(Math.min(...around)).toBeCloseTo(0.5, 5);
    expect(Math.max(...around)).toBeCloseTo(0.5, 5);
  });

  it('stop at the material, and stay what they are through a split', () => {
    expect(() => does(three(), 'soundEdge', { clip: id(three(), 0), edge: 'head', to: -31 * F })).toThrow(/sound left before/);
    const split = does(early(), 'split', { clips: [id(early(), 1)], at: 100 * F });
    soundsLike(split, early());
    const cutBefore = does(early(), 'split', { clips: [id(early(), 0)], at: 55 * F });
    expect(heard({ ...cutBefore, tracks: [cutBefore.tracks[0]!] }).slice(toSamples(58 * F), toSamples(59 * F))).toEqual(
      heard({ ...early(), tracks: [early().tracks[0]!] }).slice(toSamples(58 * F), toSamples(59 * F)),
    );
  });

  it('detached, become the ends of the sound clip', () => {
    const piece = does(early(), 'detach', { clips: [id(early(), 1)] });
    expect(layout(piece, 2)).toEqual([[50, 100, 110]]);
  });
});

describe('placing', () => {
  it('over covers what is there and moves nothing', () => {
    const piece = does(three(), 'add', { track: 'main', media: SILENT, at: 50 * F, from: 0, length: 40 * F, how: 'over' });
    expect(layout(piece)).toEqual([
      [0, 50, 30],
      [50, 40, 0],
      [90, 60, 150],
      [150, 30, 240],
    ]);
  });

  it('past the last track makes a new one on top, which covers what is lower', () => {
    const piece = does(three(), 'add', { track: null, media: PHOTO, at: 20 * F, from: 0, length: 30 * F });
    expect(piece.tracks.map((t) => [t.kind, t.clips.length])).toEqual([
      ['picture', 3],
      ['picture', 1],
      ['sound', 1],
    ]);
    expect(pictureLayers(evaluate(piece, 25 * F).layers).map((l) => l.picture.media)).toEqual(['p']);
    const hidden = does(piece, 'setTrack', { track: piece.tracks[1]!.id, set: { hidden: true } });
    expect(pictureLayers(evaluate(hidden, 25 * F).layers).map((l) => l.picture.media)).not.toContain('p');
  });

  it('several clips move together across tracks and keep their distance', () => {
    const two = does(three(), 'addTrack', { kind: 'picture' });
    const up = two.tracks[1]!.id;
    const piece = does(two, 'move', { clips: [id(two, 0), id(two, 2)], track: up, to: 10 * F, how: 'place', rest: 'leave' });
    expect(layout(piece, 1)).toEqual([
      [10, 60, 30],
      [160, 30, 240],
    ]);
    expect(layout(piece)).toEqual([[60, 90, 120]]);
  });

  it('pasted clips keep their tracks and their links, as links of their own', () => {
    const piece = detached();
    const copied = copyClips(piece, [id(piece, 1), id(piece, 1, 2)])!;
    const pasted = does(piece, 'paste', { copied, track: null, at: 180 * F, how: 'insert' });
    const [a, b] = [
      main(pasted).at(-1)!,
      pasted.tracks.flatMap((t) => (t.kind === 'sound' ? t.clips : [])).find((c) => c.start === 200 * F || c.start === 180 * F)!,
    ];
    expect(a.start).toBe(180 * F);
    expect(a.link?.group).toBe(b.link?.group);
    expect(a.link?.group).not.toBe(main(piece)[1]!.link?.group);
    const twice = does(three(), 'duplicate', { clips: [id(three(), 0)] });
    expect(layout(twice).slice(0, 3)).toEqual([
      [0, 60, 30],
      [60, 60, 30],
      [120, 90, 120],
    ]);
  });

  it('a newer recording takes the place of the old one with every cut kept, or says which clip it is too short for', () => {
    const newer = { ...VIDEO, id: 'v2', name: 'Hill again' };
    const piece = does(three(), 'replaceMedia', { old: 'v', media: newer, clips: null });
    expect(layout(piece)).toEqual(layout(three()));
    expect(new Set(main(piece).map((c) => `${c.media} ${c.name}`))).toEqual(new Set(['v2 Hill again']));
    expect(() => does(three(), 'replaceMedia', { old: 'v', media: { ...newer, length: 70 * F }, clips: null })).toThrow(
      /only 0:02.10 long/,
    );
  });

  it('a newer recording also covers the words that the old one covered, as loud as is asked for', () => {
    const one = { from: 40 * F, to: 50 * F, with: 'own' as const, level: -12, item: { media: 'dog', length: MUSIC.length, height: -20 } };
    const tone = { from: 60 * F, to: 65 * F, with: 'tone' as const, level: -12 };
    const set = { clips: [id(three(), 0)], values: { covers: [one, tone] }, bring: [{ ...MUSIC, id: 'dog' }] };
    const covered = does(three(), 'set', set);
    const newer = { ...MUSIC, id: 'dog2', name: 'Louder', length: 100 * F };
    const wish = { old: 'dog', media: newer, clips: null };
    const item = { media: 'dog2', length: 100 * F, height: -8 };
    expect(main(does(covered, 'replaceMedia', { ...wish, height: -8 }))[0]!.covers).toEqual([{ ...one, item }, tone]);
    expect(() => does(covered, 'replaceMedia', wish)).toThrow(/not used there/);
    expect(() => does(covered, 'replaceMedia', { ...wish, media: { ...newer, length: F / 2 }, height: -8 })).toThrow(/too short/);
  });
});

describe('linked clips that stand apart', () => {
  it('say so on both of them, as the one that is later and the one that is earlier', () => {
    const [picture, sound] = [main(detached())[1]!, on(detached(), 2)[1]!];
    const loose = does(detached(), 'unlink', { clips: [picture.id] });
    const late = does(does(loose, 'trim', { clip: on(loose, 2)[2]!.id, edge: 'head', to: 160 * F, rest: 'stay' }), 'move', {
      clips: [sound.id],
      track: null,
      to: sound.start + 4 * F,
      how: 'place',
      rest: 'leave',
    });
    const linked = does(late, 'link', { clips: [picture.id, sound.id] });
    const now = (clip: string) => linked.tracks.flatMap((track) => track.clips).find((one) => one.id === clip)!;
    expect([apartBy(linked, now(picture.id)) / F, apartBy(linked, now(sound.id)) / F]).toEqual([-4, 4]);
    const back = does(linked, 'bringInStep', { clip: sound.id });
    expect(back.tracks.flatMap((track) => track.clips).every((clip) => apartBy(back, clip) === 0)).toBe(true);
    expect(() => does(back, 'bringInStep', { clip: sound.id })).toThrow(/in step already/);
  });
});
