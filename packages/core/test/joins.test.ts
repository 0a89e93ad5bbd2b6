import { pieceLength } from '../piece';
import { addFrames, does, MUSIC, VIDEO } from './making';
import { F, on, main, layout, id, three, detached } from './three';

describe('joins', () => {
  it('a roll moves the join and nothing else', () => {
    const piece = does(three(), 'roll', { clip: id(three(), 1), to: 52 * F });
    expect(layout(piece)).toEqual([
      [0, 52, 30],
      [52, 98, 112],
      [150, 30, 240],
    ]);
    expect(on(piece, 1)).toEqual(on(three(), 1));
    expect(() => does(three(), 'roll', { clip: id(three(), 0), to: 5 * F })).toThrow(/no join/);
    expect(() => does(three(), 'roll', { clip: id(three(), 1), to: 149 * F + F })).toThrow(/at least one frame/);
  });

  it('a roll takes detached sound along when it is cut at the same place', () => {
    const piece = does(detached(), 'roll', { clip: id(detached(), 1), to: 52 * F });
    expect(layout(piece, 2)).toEqual(layout(piece, 0));
  });

  it('a slip shows other material in the same place, as far as there is any', () => {
    const piece = does(three(), 'slip', { clips: [id(three(), 1)], by: 20 * F });
    expect(layout(piece)[1]).toEqual([60, 90, 140]);
    expect(() => does(three(), 'slip', { clips: [id(three(), 0)], by: -31 * F })).toThrow(/only 0:01.00 of material left before/);
  });

  it('a slide moves a clip between neighbours that give way', () => {
    expect(layout(does(three(), 'slide', { clip: id(three(), 1), by: 10 * F }))).toEqual([
      [0, 70, 30],
      [70, 90, 120],
      [160, 20, 250],
    ]);
  });

  it('several clips that touch slide as one; a neighbour between two of them goes along', () => {
    const [a, b, c] = main(three()).map((one) => one.id) as [string, string, string];
    const four = addFrames(three(), VIDEO, 30, 40);
    expect(layout(does(four, 'slide', { clip: b, also: [c], by: -10 * F }))).toEqual([
      [0, 50, 30],
      [50, 90, 120],
      [140, 30, 240],
      [170, 50, 20],
    ]);
    const around = does(four, 'slide', { clip: a, also: [c], by: 5 * F });
    expect(layout(around)).toEqual([
      [5, 60, 30],
      [65, 90, 125],
      [155, 30, 240],
      [185, 35, 35],
    ]);
  });

  it('several joins roll by as much, also past the length of what lies between them', () => {
    const [, b, c] = main(three()).map((one) => one.id) as [string, string, string];
    const short = does(three(), 'trim', { clip: b, edge: 'tail', to: 65 * F, rest: 'follow' });
    expect(layout(does(short, 'roll', { clip: b, also: [c], to: 50 * F }))).toEqual([
      [0, 50, 30],
      [50, 5, 110],
      [55, 40, 230],
    ]);
    expect(() => does(three(), 'roll', { clip: b, also: [c], to: 0 })).toThrow(/at least one frame/);
  });

  it('a swap exchanges two clips and keeps the total length', () => {
    const piece = does(three(), 'swap', { a: id(three(), 0), b: id(three(), 2) });
    expect(layout(piece)).toEqual([
      [0, 30, 240],
      [30, 90, 120],
      [120, 60, 30],
    ]);
    expect(pieceLength(piece)).toBe(pieceLength(three()));
  });
});

describe('ripples', () => {
  it('on the own track move nothing else; linked sound follows its picture', () => {
    const piece = does(detached(), 'remove', { clips: [id(detached(), 0)], rest: 'close' });
    expect(layout(piece)).toEqual([
      [0, 90, 120],
      [90, 30, 240],
    ]);
    expect(layout(piece, 2)).toEqual(layout(piece, 0));
    expect(on(piece, 1)).toEqual(on(three(), 1));
  });

  it('on all tracks move what starts later there too', () => {
    const short = does(three(), 'trim', { clip: id(three(), 0, 1), edge: 'tail', to: 100 * F, rest: 'stay' });
    const two = does(short, 'add', { track: 'sound-1', media: MUSIC, at: 160 * F, from: 0, length: 40 * F });
    const piece = does(two, 'trim', { clip: id(two, 1), edge: 'tail', to: 140 * F, rest: 'follow', tracks: 'all' });
    expect(layout(piece, 1)).toEqual([
      [0, 100, 0],
      [150, 40, 0],
    ]);
    expect(layout(piece)[2]).toEqual([140, 30, 240]);
  });

  it('several ends trimmed at once each give their length, and what follows moves by the sum', () => {
    const [a, b] = main(three()).map((one) => one.id) as [string, string];
    const piece = does(three(), 'trim', { clip: a, also: [b], edge: 'tail', to: 50 * F, rest: 'follow' });
    expect(layout(piece)).toEqual([
      [0, 50, 30],
      [50, 80, 120],
      [130, 30, 240],
    ]);
    const heads = does(three(), 'trim', { clip: b, also: [a], edge: 'head', to: 80 * F, rest: 'follow' });
    expect(layout(heads)).toEqual([
      [0, 40, 50],
      [40, 70, 140],
      [110, 30, 240],
    ]);
  });

  it('picture and sound that end together, both chosen, are trimmed once and move the rest once', () => {
    const piece = detached();
    const [picture, sound] = [id(piece, 0), id(piece, 0, 2)];
    const cut = does(piece, 'trim', { clip: picture, also: [sound], edge: 'tail', to: 50 * F, rest: 'follow', tracks: 'all' });
    expect(layout(cut)).toEqual([
      [0, 50, 30],
      [50, 90, 120],
      [140, 30, 240],
    ]);
    expect(layout(cut, 2)).toEqual(layout(cut));
  });

  it('the head of the first clip grows again when the rest follows', () => {
    expect(layout(does(three(), 'trim', { clip: id(three(), 0), edge: 'head', to: -10 * F, rest: 'follow' }))).toEqual([
      [0, 70, 20],
      [70, 90, 120],
      [160, 30, 240],
    ]);
    expect(() => does(three(), 'trim', { clip: id(three(), 0), edge: 'head', to: -10 * F, rest: 'stay' })).toThrow(/timeline starts/);
  });

  it('stop with a sentence at what is in the way, and change nothing', () => {
    const held = addFrames(detached(), MUSIC, 0, 30, 'sound-1');
    const inTheWay = does(held, 'add', { track: held.tracks[2]!.id, media: MUSIC, at: 180 * F, from: 0, length: 20 * F });
    expect(() => does(inTheWay, 'trim', { clip: id(inTheWay, 2), edge: 'tail', to: 190 * F, rest: 'stay' })).toThrow(/in the way/);
  });

  it('taking a stretch of time out cuts every unlocked track and shortens the piece by just that', () => {
    const piece = does(three(), 'takeOutStretch', { from: 40 * F, to: 100 * F });
    expect(layout(piece)).toEqual([
      [0, 40, 30],
      [40, 50, 160],
      [90, 30, 240],
    ]);
    expect(layout(piece, 1)).toEqual([
      [0, 40, 0],
      [40, 100, 100],
    ]);
    const locked = does(three(), 'setTrack', { track: 'sound-1', set: { locked: true } });
    expect(on(does(locked, 'takeOutStretch', { from: 40 * F, to: 100 * F }), 1)).toEqual(on(three(), 1));
  });

  it('lifting a stretch moves nothing; keeping it alone brings it to the start', () => {
    expect(layout(does(three(), 'liftStretch', { from: 40 * F, to: 100 * F }))).toEqual([
      [0, 40, 30],
      [100, 50, 160],
      [150, 30, 240],
    ]);
    const kept = does(three(), 'keepStretch', { from: 40 * F, to: 100 * F });
    expect(layout(kept)).toEqual([
      [0, 20, 70],
      [20, 40, 120],
    ]);
    expect(pieceLength(kept)).toBe(60 * F);
  });

  it('close one gap, or all', () => {
    const gaps = does(three(), 'remove', { clips: [id(three(), 1)], rest: 'leave' });
    expect(layout(does(gaps, 'closeGap', { track: 'main', at: 80 * F }))).toEqual([
      [0, 60, 30],
      [60, 30, 240],
    ]);
    expect(() => does(gaps, 'closeGap', { track: 'main', at: 10 * F })).toThrow(/no gap/);
    expect(() => does(gaps, 'closeGaps', { track: null })).toThrow(/no gap/); // the music plays on over it
    expect(layout(does(gaps, 'closeGaps', { track: 'main' }))[1]).toEqual([60, 30, 240]);
  });
});
