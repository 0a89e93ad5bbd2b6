import { apartBy } from '@flimzy/core/piece';
import { ACTIONS } from '../../src/open/actions';
import { edit, redo, undo, useEditor } from '../../src/open/editor';
import { usePanel } from '../../src/open/panels';
import { at, choose, clipAt, does, F, layout, offered, opened, piece, settle, undoTitle } from './opened';

const THREE = [
  [0, 60, 30],
  [60, 90, 120],
  [150, 30, 240],
];

beforeEach(async () => {
  localStorage.clear();
  useEditor.setState({ rest: 'follow', reach: 'own', drop: 'insert', clipboard: null });
  usePanel.setState({ panel: null });
  await opened();
});

describe('every action', () => {
  it('has an id, words and a key of its own', () => {
    for (const own of [(a: (typeof ACTIONS)[number]) => a.id, (a: (typeof ACTIONS)[number]) => a.words])
      expect(new Set(ACTIONS.map(own)).size).toBe(ACTIONS.length);
    const keys = ACTIONS.flatMap((a) => [...(a.key ? [a.key] : []), ...(a.also ?? [])]);
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('can be done on an empty piece, on nothing, on one clip and on several without breaking anything', async () => {
    for (const chosen of [[], [1], [0, 2]])
      for (const action of ACTIONS) {
        await opened();
        choose(...chosen);
        at(70);
        expect(() => action.run()).not.toThrow();
      }
    expect(useEditor.getState().failed).toBeNull();
  });

  it('is offered only where it makes sense', () => {
    expect(offered()).not.toEqual(expect.arrayContaining(['delete-close']));
    for (const id of ['swap', 'link', 'paste', 'take-out', 'unlink', 'in-step', 'open-nest', 'leave-nest', 'attach'])
      expect(offered()).not.toContain(id);
    choose(0, 1);
    expect(offered()).toEqual(expect.arrayContaining(['swap', 'link', 'nest', 'delete-close', 'copy']));
  });
});

describe('sound', () => {
  const clip = () => clipAt(1);

  it('fades what is heard in and out, all of it or none, and the whole piece', () => {
    choose(1);
    does('fade-in');
    expect(clip()?.fadeIn).toBe(705_600_000);
    choose(0, 1);
    does('fade-in');
    expect([clipAt(0)?.fadeIn, clip()?.fadeIn]).toEqual([705_600_000, 705_600_000]);
    does('fade-in');
    expect([clipAt(0)?.fadeIn, clip()?.fadeIn]).toEqual([undefined, undefined]);
    does('piece-fade-out');
    expect(piece().sound).toEqual({ fadeOut: 705_600_000 });
    does('limiter');
    expect(piece().sound).toEqual({ fadeOut: 705_600_000, unlimited: true });
    does('limiter');
    does('piece-fade-out');
    expect(piece().sound).toBeUndefined();
  });

  it('is made quieter between in and out, on what is selected alone, and plain again', () => {
    choose(1);
    does('quieter');
    expect(clip()?.envelope).toBeUndefined();
    useEditor.setState({ markIn: 80 * F, markOut: 100 * F });
    does('quieter');
    expect(clip()?.envelope).toMatchObject({
      keys: [{ value: 0 }, { at: 140 * F, value: -12 }, { at: 160 * F, value: -12 }, { value: 0 }],
    });
    expect(clipAt(0)?.envelope).toBeUndefined();
    does('plain-envelope');
    expect(clip()?.envelope).toBeUndefined();
  });

  it('has its envelope copied to another clip, from where that begins, and simplified', () => {
    choose(1);
    const { from } = clip()!;
    const keys = [0, 10, 20].map((n, i) => ({ at: from + n * F, value: [0, -2, -4][i]!, ease: 'even' as const }));
    edit('set', { clips: [clip()!.id], values: { envelope: { keys } } });
    does('copy-envelope');
    choose(0);
    does('paste-envelope');
    expect(clipAt(0)?.envelope).toEqual({ keys: keys.map((key) => ({ ...key, at: key.at - from + clipAt(0)!.from })) });
    does('simplify-envelope');
    expect(clipAt(0)?.envelope).toMatchObject({ keys: [{ value: 0 }, { value: -4 }] });
    expect(clipAt(1)?.envelope).toMatchObject({ keys: { length: 3 } });
  });

  it('gets crossfades at the joins that are selected, or at all, and loses them again', () => {
    choose();
    does('crossfades');
    const blends = () => layout().map((_, n) => clipAt(n)?.blend);
    expect(blends()).toEqual([undefined, 0.5 * 705_600_000, 0.5 * 705_600_000]);
    choose(1);
    does('crossfades');
    expect(blends()).toEqual([undefined, undefined, 0.5 * 705_600_000]);
  });
});

describe('cutting', () => {
  it('splits what is selected, or the picture under the playhead, or everything', () => {
    at(20);
    does('split');
    expect(layout().slice(0, 2)).toEqual([
      [0, 20, 30],
      [20, 40, 50],
    ]);
    expect(layout(1)).toHaveLength(1);
    at(100);
    does('split-all');
    expect([layout().length, layout(1).length]).toEqual([5, 2]);
  });

  it('deletes closing the gap or leaving it, and keeps the playhead where the eye was', () => {
    choose(1);
    at(100);
    does('delete-close');
    expect(layout()).toEqual([THREE[0], [60, 30, 240]]);
    expect(useEditor.getState()).toMatchObject({ playhead: 60 * F, selected: [] });
    undo();
    choose(1);
    does('delete-leave');
    expect(layout()).toEqual([THREE[0], THREE[2]]);
  });

  it('deletes a picture and keeps its sound in place', () => {
    choose(1);
    does('delete-picture');
    expect(layout()).toHaveLength(2);
    expect(piece().tracks.at(-1)?.clips[0]).toMatchObject({ start: 60 * F, length: 90 * F, media: 'v' });
  });

  it('trims to the playhead, one clip or each of several that is under it', () => {
    at(50);
    does('trim-tail');
    expect(layout()[0]).toEqual([0, 50, 30]);
    undo();
    choose(0, 1);
    at(70);
    does('trim-head');
    expect(layout()[1]).toEqual([60, 80, 130]);
  });

  it('copies, cuts and pastes, making room or covering', () => {
    choose(0);
    does('copy');
    at(150);
    useEditor.setState({ selected: [] });
    does('paste');
    expect(layout().map(([s, l]) => [s, l])).toEqual([
      [0, 60],
      [60, 90],
      [150, 60],
      [210, 30],
    ]);
    undo();
    at(100);
    does('paste-over');
    expect(layout().map(([s, l]) => [s, l])).toEqual([
      [0, 60],
      [60, 40],
      [100, 60],
      [160, 20],
    ]);
    undo();
    choose(2);
    does('cut');
    expect(layout()).toEqual(THREE.slice(0, 2));
    expect(useEditor.getState().clipboard?.clips).toHaveLength(1);
  });

  it('duplicates, freezes and resets', () => {
    choose(0);
    does('duplicate');
    expect(layout()[1]).toEqual([60, 60, 30]);
    undo();
    at(30);
    does('freeze');
    expect(clipAt(1)).toMatchObject({ hold: 60 * F, length: 60 * F });
    undo();
    choose(0);
    does('reset');
    expect(layout()[0]?.[2]).toBe(0);
  });
});

describe('moving', () => {
  it('nudges, slips, slides, swaps and rolls', () => {
    choose(2);
    does('nudge-later');
    expect(layout()[2]).toEqual([151, 30, 240]);
    undo();
    choose(0, 1);
    does('slip-later');
    expect(layout().map(([, , from]) => from)).toEqual([31, 121, 240]);
    undo();
    choose(1);
    does('slide-earlier');
    expect(layout()).toEqual([
      [0, 59, 30],
      [59, 90, 120],
      [149, 31, 239],
    ]);
    undo();
    choose(0, 2);
    does('swap');
    expect(layout()[0]).toEqual([0, 30, 240]);
    undo();
    choose();
    at(66);
    does('roll-here');
    expect(layout().slice(0, 2)).toEqual([
      [0, 66, 30],
      [66, 84, 126],
    ]);
    expect(undoTitle()).toMatch(/^Roll the join/);
  });

  it('rolls the joins before all that is selected by as much', () => {
    choose(1, 2);
    at(155);
    does('roll-here');
    expect(layout()).toEqual([
      [0, 65, 30],
      [65, 90, 125],
      [155, 25, 245],
    ]);
  });

  it('closes the gap under the playhead, or all of them', () => {
    choose(0);
    does('delete-leave');
    choose();
    at(10);
    does('close-gap');
    expect(layout()[0]?.[0]).toBe(0);
    undo();
    does('close-gaps');
    expect(layout().map(([start]) => start)).toEqual([0, 90]);
    undo();
    // Over the gap there is music: on all tracks together nothing is empty.
    does('close-gaps-all');
    expect(layout()[0]?.[0]).toBe(60);
  });
});

describe('picture and sound', () => {
  it('are detached, moved together, unlinked, linked again and brought back in step', () => {
    choose(2);
    does('detach');
    const sound = () => piece().tracks.at(-1)!.clips[0]!;
    expect(sound()).toMatchObject({ start: 150 * F });
    does('nudge-later');
    expect(sound().start).toBe(151 * F);
    does('unlink');
    does('nudge-later');
    expect([clipAt(2).start, sound().start]).toEqual([152 * F, 151 * F]);
    useEditor.setState({ selected: [clipAt(2).id, sound().id] });
    does('link');
    expect([apartBy(piece(), clipAt(2)), apartBy(piece(), sound())]).toEqual([F, -F]);
    does('in-step');
    expect([apartBy(piece(), clipAt(2)), apartBy(piece(), sound())]).toEqual([0, 0]);
    expect(offered()).not.toContain('in-step');
    choose(2);
    does('attach');
    expect(clipAt(2).silent).toBeUndefined();
  });
});

describe('a stretch', () => {
  const mark = () => {
    at(40);
    does('in');
    at(100);
    does('out');
  };

  it('is taken out, lifted, kept alone, on all unlocked tracks', () => {
    mark();
    does('take-out');
    expect(layout(1)).toEqual([
      [0, 40, 0],
      [40, 100, 100],
    ]);
    expect(useEditor.getState()).toMatchObject({ markIn: null, markOut: null, playhead: 40 * F });
    undo();
    mark();
    does('lift');
    expect(layout()[1]).toEqual([100, 50, 160]);
    undo();
    mark();
    does('keep');
    expect(layout()).toEqual([
      [0, 20, 70],
      [20, 40, 120],
    ]);
  });

  it('is copied as it lies', () => {
    mark();
    does('copy-stretch');
    at(200);
    does('no-stretch');
    does('paste');
    expect(layout().slice(-2)).toEqual([
      [200, 20, 70],
      [220, 40, 120],
    ]);
    expect(layout(1).at(-1)).toEqual([200, 60, 40]);
  });

  it('with out set before in is begun anew, never turned round', () => {
    at(100);
    does('in');
    at(40);
    does('out');
    expect(useEditor.getState()).toMatchObject({ markIn: null, markOut: 40 * F });
    expect(offered()).not.toContain('take-out');
  });
});

describe('tracks, markers, nests', () => {
  it('add and remove empty tracks, never the first', () => {
    does('add-picture-track');
    does('add-sound-track');
    expect(piece().tracks.map((t) => t.kind)).toEqual(['picture', 'picture', 'sound', 'sound']);
    does('remove-empty');
    expect(piece().tracks.map((t) => t.kind)).toEqual(['picture', 'sound']);
  });

  it('drop markers on frames, and go from one to the next', () => {
    at(20);
    does('mark');
    at(90);
    does('mark');
    expect(piece().markers?.map((m) => m.time / F)).toEqual([20, 90]);
    at(0);
    does('next-mark');
    expect(useEditor.getState().playhead).toBe(20 * F);
    does('next-mark');
    does('last-mark');
    expect(useEditor.getState().playhead).toBe(20 * F);
  });

  it('go into a nest at the moment under the playhead, and come out where one was', () => {
    choose(0, 1);
    does('nest');
    expect(layout()).toEqual([
      [0, 150, 0],
      [150, 30, 240],
    ]);
    choose(0);
    at(100);
    does('open-nest');
    expect(useEditor.getState()).toMatchObject({ playhead: 100 * F });
    expect(layout()).toEqual(THREE.slice(0, 2));
    does('to-start');
    does('leave-nest');
    expect(useEditor.getState()).toMatchObject({ inside: null, playhead: 100 * F });
    choose(0);
    does('unnest');
    expect(layout()).toEqual(THREE);
  });
});

describe('selecting and history', () => {
  it('selects all, all after the playhead, all on a track; locked tracks left out', () => {
    does('select-all');
    expect(useEditor.getState().selected).toHaveLength(4);
    at(70);
    does('select-after');
    expect(useEditor.getState().selected).toHaveLength(3);
    choose(0);
    does('select-track');
    expect(useEditor.getState().selected).toHaveLength(3);
    does('select-none');
    expect(useEditor.getState().selected).toEqual([]);
  });

  it('undoes and does again under the name of the edit, and the server holds the same', async () => {
    const server = await opened();
    at(20);
    does('split');
    does('undo');
    does('redo');
    expect(undoTitle()).toMatch(/^Split/);
    await settle();
    expect(server.head.piece).toEqual(piece());
    undo();
    redo();
    undo();
    await settle();
    expect(server.head.piece).toEqual(piece());
    expect(layout()).toEqual(THREE);
  });
});
