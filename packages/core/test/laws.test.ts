import fc from 'fast-check';
import { applyEdit, EDITS, EditRefused, type EditName } from '../edits';
import { findClip, linkedClips, stepOffset, timelines, type Clip, type Piece, type Track } from '../piece';
import { frameLength } from '../time';
import { addFrames, does, emptyPiece, MUSIC, paramsFor, play, uuid, VIDEO, wishes, type Wish } from './making';

/** Edits after which linked clips may stand apart, because that is what was asked for. */
const MAY_PART = new Set<EditName>(['link', 'unlink', 'replaceMedia', 'paste', 'nest', 'unnest', 'reset']);

const F = frameLength({ num: 30, den: 1 });
const allTracks = (piece: Piece): Track[] => timelines(piece).flatMap(([, timeline]) => timeline.tracks);
const start = () => addFrames(addFrames(addFrames(emptyPiece(), VIDEO, 10, 60), VIDEO, 100, 90), MUSIC, 0, 200, 'sound-1');

/** The clips out of step, and by how much. */
function apart(piece: Piece): Map<string, number> {
  const found = new Map<string, number>();
  for (const [, timeline] of timelines(piece))
    for (const track of timeline.tracks)
      for (const clip of track.clips) if (stepOffset(timeline, clip) !== 0) found.set(clip.id, stepOffset(timeline, clip));
  return found;
}

describe('laws over random edits of every kind', () => {
  it('every edit is made at least sometimes, so that the laws speak of it', () => {
    const made = new Set<string>();
    const runs = fc.sample(wishes(60), { numRuns: 900, seed: 7 });
    for (const list of runs) play(start(), list, (_, __, wish) => made.add(wish.name));
    const loose = does(start(), 'add', { track: null, media: VIDEO, at: 40 * F, from: 20 * F, length: 60 * F, parts: 'sound' });
    const ids = [loose.tracks[0]!.clips[0]!.id, loose.tracks[2]!.clips[0]!.id];
    const linked = does(loose, 'link', { clips: ids });
    expect([...apart(linked).values()]).toEqual([30 * F]);
    expect(apart(does(linked, 'unlink', { clips: ids })).size).toBe(0);
    play(does(linked, 'slip', { clips: [ids[1]!], by: 0 }), [{ name: 'bringInStep', a: 0, b: 0, c: 0, flag: true }], (_, __, wish) =>
      made.add(wish.name),
    );
    play(emptyPiece(), [{ name: 'rate', a: 1, b: 1, c: 1, flag: false }], (_, __, wish) => made.add(wish.name));
    const piece = start();
    const gap = does(piece, 'trim', { clip: piece.tracks[0]!.clips[0]!.id, edge: 'head', to: 5 * F, rest: 'stay' });
    play(gap, [{ name: 'closeGap', a: 1, b: 0, c: 1, flag: true }], (_, __, wish) => made.add(wish.name));
    const take = { of: 'one', at: 0 };
    const told = [0, 1].reduce((p, n) => does(p, 'narrate', { media: { ...MUSIC, id: `take-${n}` }, take }), start());
    play(told, [{ name: 'swapTake', a: 0, b: 0, c: 0, flag: true }], (_, __, wish) => made.add(wish.name));
    for (const needing of [['mark', 'setMark', 'unmark'] as const, ['nest', 'renameNest'] as const, ['caption', 'lookOfCaptions'] as const])
      play(
        start(),
        needing.map((name): Wish => ({ name, a: 1, b: 1, c: 0, flag: true })),
        (_, __, wish) => made.add(wish.name),
      );
    expect(Object.keys(EDITS).filter((name) => !made.has(name))).toEqual([]);
  });

  it('linked clips that were in step stay in step, whatever is done to one of them', () => {
    fc.assert(
      fc.property(wishes(40), (list) => {
        play(start(), list, (before, after, wish) => {
          if (MAY_PART.has(wish.name)) return;
          const was = apart(before);
          // A half or a copy of a clip that stood apart stands apart as far; nothing else may.
          const known = new Set([...was.values()].map(Math.abs));
          for (const [id, offset] of apart(after))
            expect([wish.name, id, was.get(id) === offset || (!was.has(id) && known.has(Math.abs(offset)))]).toEqual([wish.name, id, true]);
        });
      }),
      { numRuns: 250 },
    );
  });

  it('clips that are linked at different speeds are slipped by as much of the timeline, whichever of them is named', () => {
    const base = start();
    const fast = base.tracks[0]!.clips[0]!.id;
    const alone = does(base, 'setSpeed', { clips: [fast], wish: { speed: 1.3 }, rest: 'stay' });
    const both = does(alone, 'add', { track: null, media: MUSIC, at: 400 * F, from: 90 * F, length: 40 * F });
    const sound = both.tracks.at(-1)!.clips[0]!.id;
    const linked = does(both, 'link', { clips: [fast, sound] });
    for (const [named, by] of [
      [sound, -7],
      [fast, -5],
      [fast, 3],
    ] as const) {
      const slid = does(linked, 'slip', { clips: [named], by: by * F });
      expect(slid).not.toEqual(linked);
      expect(apart(slid)).toEqual(new Map());
      const moved = findClip(slid, named)!.clip.from - findClip(linked, named)!.clip.from;
      expect(Math.abs(moved - by * F)).toBeLessThanOrEqual(F);
    }
  });

  it('locked tracks are touched by nothing but unlocking, hiding others and the like', () => {
    fc.assert(
      fc.property(wishes(40), (list) => {
        play(start(), list, (before, after, wish) => {
          if (wish.name === 'setTrack') return;
          for (const track of allTracks(before))
            if (track.locked) expect([wish.name, allTracks(after).find((t) => t.id === track.id)]).toEqual([wish.name, track]);
        });
      }),
      { numRuns: 150 },
    );
  });

  it('an edit leaves every nest as it was in which it names neither clip nor track', () => {
    fc.assert(
      fc.property(wishes(40), (list) => {
        play(start(), list, (before, after, wish) => {
          if (['nest', 'unnest', 'replaceMedia'].includes(wish.name)) return;
          const named = JSON.stringify(paramsFor(before, wish));
          for (const [id, timeline] of timelines(before)) {
            const ids = timeline.tracks.flatMap((track) => [track.id, ...track.clips.map((clip) => clip.id)]);
            if (id === null || ids.some((one) => named.includes(`"${one}"`))) continue;
            expect([wish.name, after.nests?.[id]?.tracks]).toEqual([wish.name, timeline.tracks]);
          }
        });
      }),
      { numRuns: 80 },
    );
  });

  it('markers of a timeline stand on frames, in order', () => {
    fc.assert(
      fc.property(wishes(40), (list) => {
        const piece = play(
          start(),
          list.filter((wish) => wish.name !== 'rate'),
        );
        for (const [, { markers = [] }] of timelines(piece)) {
          expect(markers.map((m) => m.time % F)).toEqual(markers.map(() => 0));
          expect(markers.map((m) => m.time)).toEqual(markers.map((m) => m.time).sort((a, b) => a - b));
        }
      }),
      { numRuns: 60 },
    );
  });

  it('what a refused edit would have changed is not changed', () => {
    fc.assert(
      fc.property(wishes(25), fc.array(fc.record({ a: fc.nat(1000), b: fc.nat(600), c: fc.nat(300) }), { maxLength: 5 }), (list, more) => {
        const piece = play(start(), list);
        const copy = JSON.stringify(piece);
        for (const name of Object.keys(EDITS) as EditName[])
          for (const { a, b, c } of more) {
            const wish: Wish = { name, a, b, c, flag: a % 2 === 0 };
            try {
              applyEdit(piece, uuid(), name, paramsFor(piece, wish));
            } catch (error) {
              expect(error).toBeInstanceOf(EditRefused);
              expect((error as EditRefused).message).toMatch(/\.$|makes no sense/);
            }
            expect(JSON.stringify(piece)).toBe(copy);
          }
      }),
      { numRuns: 12 },
    );
  });

  it('links never hold one clip alone for long, and never cross timelines', () => {
    fc.assert(
      fc.property(wishes(40), (list) => {
        const piece = play(start(), list);
        const homes = new Map<string, string | null>();
        for (const [id, timeline] of timelines(piece))
          for (const clip of timeline.tracks.flatMap((track): Clip[] => track.clips)) {
            if (!clip.link) continue;
            expect(homes.get(clip.link.group) ?? id).toBe(id);
            homes.set(clip.link.group, id);
            expect(linkedClips(timeline, clip)).toContainEqual(clip);
          }
      }),
      { numRuns: 60 },
    );
  });
});
