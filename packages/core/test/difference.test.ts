import fc from 'fast-check';
import { apply } from 'mutative';
import { difference } from '../edits/difference';
import { applyEdit, applyEntries, TOGETHER } from '../edits';
import { Clip } from '../piece';
import { frameLength } from '../time';
import { addFrames, does, emptyPiece, MUSIC, uuid, VIDEO } from './making';

const F = frameLength({ num: 30, den: 1 });

const clip = fc.record(
  {
    id: fc.constantFrom(...'abcdefghij'),
    media: fc.constant('v'),
    name: fc.constantFrom('Hill', 'Wind'),
    start: fc.nat(20),
    length: fc.integer({ min: 1, max: 9 }),
    from: fc.nat(9),
    fit: fc.constant('fill' as const),
    backdrop: fc.constant('blur' as const),
    level: fc.constantFrom(0, -3),
    lead: fc.option(fc.integer({ min: -3, max: 3 }), { nil: undefined }),
    silent: fc.option(fc.constant(true as const), { nil: undefined }),
  },
  { requiredKeys: ['id', 'media', 'name', 'start', 'length', 'from', 'fit', 'backdrop', 'level'] },
);
/** Lists of clips with ids of their own; fields that say nothing are missing, as the plan leaves them. */
const clips = fc
  .uniqueArray(clip, { selector: (c) => c.id, maxLength: 10 })
  .map((list) => list.map((one) => Clip.parse(Object.fromEntries(Object.entries(one).filter(([, value]) => value !== undefined)))));

describe('the difference of two lists of clips', () => {
  it('turns the one into the other, and back to the identical list', () => {
    fc.assert(
      fc.property(clips, clips, (before, now) => {
        const { patches, inverse } = difference(['tracks', 0, 'clips'], before, now);
        const document = { tracks: [{ clips: before }] };
        const there = apply(document, patches);
        expect(there.tracks[0]!.clips).toEqual(now);
        expect(apply(there, inverse)).toStrictEqual(document);
      }),
      { numRuns: 400 },
    );
  });

  it('is nothing for equal lists, and one change for one figure', () => {
    const list = addFrames(addFrames(emptyPiece(), VIDEO, 0, 30), VIDEO, 60, 30).tracks[0]!.clips;
    expect(difference(['x'], list, list)).toEqual({ patches: [], inverse: [] });
    const louder = [list[0]!, { ...list[1]!, level: 3 }];
    expect(difference(['x'], list, louder)).toEqual({
      patches: [{ op: 'replace', path: ['x', 1, 'level'], value: 3 }],
      inverse: [{ op: 'replace', path: ['x', 1, 'level'], value: 0 }],
    });
  });

  it('says when a field comes and goes, so that what is missing stays missing', () => {
    const list = addFrames(emptyPiece(), VIDEO, 0, 30).tracks[0]!.clips;
    const silent = [{ ...list[0]!, silent: true as const }];
    expect(difference(['x'], list, silent).patches).toEqual([{ op: 'add', path: ['x', 0, 'silent'], value: true }]);
    expect(difference(['x'], list, silent).inverse).toEqual([{ op: 'remove', path: ['x', 0, 'silent'] }]);
  });
});

describe('several edits as one', () => {
  const three = addFrames(addFrames(addFrames(emptyPiece(), VIDEO, 0, 60), VIDEO, 60, 60), VIDEO, 120, 60);
  const [a, b] = three.tracks[0]!.clips.map((c) => c.id);

  it('are one line of history, taken back as one', () => {
    const edits = [
      { name: 'split', params: { clips: [a], at: 30 * F } },
      { name: 'remove', params: { clips: [b], rest: 'close' } },
      { name: 'add', params: { track: 'sound-1', media: MUSIC, at: 0, from: 0, length: 90 * F } },
    ];
    const result = applyEdit(three, uuid(), TOGETHER, { title: 'Three things', edits });
    expect(result.title).toBe('Three things');
    expect(result.piece.tracks.map((t) => t.clips.length)).toEqual([3, 1]);
    expect(applyEntries(three, [result])).toEqual(result.piece);
    expect(applyEntries(result.piece, [{ patches: result.inverse }])).toStrictEqual(three);
  });

  it('are made wholly or not at all', () => {
    const copy = JSON.stringify(three);
    const edits = [
      { name: 'remove', params: { clips: [a], rest: 'close' } },
      { name: 'remove', params: { clips: [a], rest: 'close' } },
    ];
    expect(() => applyEdit(three, uuid(), TOGETHER, { title: 'Twice', edits })).toThrow(/no longer in the piece/);
    expect(JSON.stringify(three)).toBe(copy);
    expect(() => applyEdit(three, uuid(), TOGETHER, { title: 'No such', edits: [{ name: 'explode', params: {} }] })).toThrow(
      /no edit called/,
    );
  });

  it('make ids that never meet', () => {
    const edits = Array.from({ length: 4 }, () => ({
      name: 'add',
      params: { track: 'main', media: VIDEO, at: null, from: 0, length: 10 * F },
    }));
    const { piece } = applyEdit(three, uuid(), TOGETHER, { title: 'Four', edits });
    const ids = piece.tracks[0]!.clips.map((c) => c.id);
    expect(new Set(ids).size).toBe(ids.length);
  });
});

describe('locked tracks', () => {
  const piece = does(addFrames(addFrames(emptyPiece(), VIDEO, 0, 60), MUSIC, 0, 60, 'sound-1'), 'setTrack', {
    track: 'sound-1',
    set: { locked: true },
  });
  const music = piece.tracks[1]!.clips[0]!.id;

  it('refuse every change with the track’s name, but for unlocking', () => {
    for (const [name, params] of [
      ['remove', { clips: [music], rest: 'leave' }],
      ['trim', { clip: music, edge: 'tail', to: 30 * F, rest: 'stay' }],
      ['split', { clips: [music], at: 30 * F }],
      ['set', { clips: [music], values: { level: -6 } }],
      ['setTrack', { track: 'sound-1', set: { name: 'Other' } }],
      ['removeTracks', { tracks: ['sound-1'] }],
      ['orderTrack', { track: 'sound-1', to: 0 }],
    ] as const)
      expect(() => applyEdit(piece, uuid(), name, params)).toThrow(/“Music” is locked/);
    const open = does(piece, 'setTrack', { track: 'sound-1', set: { locked: false } });
    expect('locked' in open.tracks[1]!).toBe(false);
    expect(() => does(open, 'set', { clips: [music], values: { level: -6 } })).not.toThrow();
  });

  it('keep a picture from being moved out of step with its sound on one', () => {
    const apart = does(does(piece, 'setTrack', { track: 'sound-1', set: { locked: false } }), 'detach', {
      clips: [piece.tracks[0]!.clips[0]!.id],
    });
    const sound = apart.tracks.findIndex((t) => t.clips.some((c) => c.media === 'v' && t.kind === 'sound'));
    const locked = does(apart, 'setTrack', { track: apart.tracks[sound]!.id, set: { locked: true } });
    const picture = locked.tracks[0]!.clips[0]!.id;
    expect(() => does(locked, 'move', { clips: [picture], track: 'main', to: 90 * F, how: 'place', rest: 'leave' })).toThrow(/is locked/);
    expect(() => does(locked, 'slip', { clips: [picture], by: F })).toThrow(/is locked/);
  });
});

describe('tracks', () => {
  const base = addFrames(emptyPiece(), VIDEO, 0, 60);

  it('keep pictures below sound, wherever a new one is asked for', () => {
    const grown = [0, 9, 1].reduce(
      (p, index) => does(p, 'addTrack', { kind: 'picture', index }),
      does(base, 'addTrack', { kind: 'sound', index: 0 }),
    );
    expect(grown.tracks.map((t) => t.kind)).toEqual(['picture', 'picture', 'picture', 'picture', 'sound', 'sound']);
    expect(new Set(grown.tracks.map((t) => t.name)).size).toBe(grown.tracks.length);
  });

  it('are ordered among their kind, and the lowest picture stays', () => {
    const two = does(base, 'addTrack', { kind: 'picture', name: 'Over' });
    const swapped = does(two, 'orderTrack', { track: two.tracks[1]!.id, to: 0 });
    expect(swapped.tracks.map((t) => t.name)).toEqual(['Over', 'Picture', 'Music']);
    expect(does(swapped, 'orderTrack', { track: 'main', to: 9 }).tracks.map((t) => t.name)).toEqual(['Over', 'Picture', 'Music']);
    expect(() => does(swapped, 'removeTracks', { tracks: [swapped.tracks[0]!.id] })).toThrow(/lowest picture track stays/);
    expect(does(swapped, 'removeTracks', { tracks: ['main', 'sound-1'] }).tracks.map((t) => t.name)).toEqual(['Over']);
  });
});
