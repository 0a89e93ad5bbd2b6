import { useEditor } from '../../src/open/editor';
import { pullEnd, pullMarker, pullSound } from '../../src/timeline/pull';
import { at, choose, clipAt, does, F, layout, opened, piece, undoTitle } from './opened';

const hold = (frames: number, free = true) => ({ by: frames * F, across: 0, free, over: false });

beforeEach(async () => {
  localStorage.clear();
  await opened();
  useEditor.setState({ rest: 'follow', reach: 'own' });
});

describe('a pulled end', () => {
  it('says its new length, what follows, and changes nothing until it is let go', () => {
    const trial = pullEnd(piece(), clipAt(0), 'tail', hold(-10));
    expect(trial?.show).toMatchObject({ title: '0:01.20  −0:00.10', note: '2 clips after it follow' });
    expect(layout()[0]).toEqual([0, 60, 30]);
    expect(trial?.commit?.()).toBe(true);
    expect(layout().map(([start]) => start)).toEqual([0, 50, 140]);
  });

  it('of several selected clips pulls the same end of all, but of none on a locked track', () => {
    choose(0, 1);
    expect(pullEnd(piece(), clipAt(0), 'tail', hold(-10))?.show).toMatchObject({
      note: '2 clips, each by as much; the clip after it follow',
      clips: [clipAt(0).id, clipAt(1).id],
    });
    choose(2);
    expect(pullEnd(piece(), clipAt(0), 'tail', hold(-10))?.show.clips).toEqual([clipAt(0).id]);
  });

  it('brought back to where it was makes no edit', () => {
    expect(pullEnd(piece(), clipAt(0), 'tail', hold(0))?.commit).toBeNull();
  });

  it('says why it goes no further', () => {
    expect(pullEnd(piece(), clipAt(0), 'head', hold(-500))?.show.note).toBe('No more material');
    expect(pullEnd(piece(), clipAt(0), 'tail', hold(-500))?.show.note).toBe('One frame is left');
    useEditor.setState({ rest: 'stay' });
    expect(pullEnd(piece(), clipAt(0), 'tail', hold(5))?.show.note).toBe('The neighbour is in the way');
    expect(pullEnd(piece(), clipAt(0), 'head', hold(-5))?.show.note).toBe('The timeline starts there');
  });
});

describe('a pulled sound edge', () => {
  it('leads the picture, as far as there is material, and moves no picture', () => {
    const before = layout();
    const trial = pullSound(piece(), clipAt(1), 'head', hold(-12));
    expect(trial.show).toMatchObject({ title: '0:00.12 before the picture', note: 'sound of Hill starts; no picture moves' });
    trial.commit?.();
    expect(layout()).toEqual(before);
    expect(clipAt(1).lead).toBe(12 * F);
    expect(pullSound(piece(), clipAt(0), 'head', hold(-40)).show).toMatchObject({
      title: '0:01.00 before the picture',
      note: 'No more material',
    });
  });
});

describe('a pulled marker', () => {
  it('goes to the nearest thing it can catch on, never to itself, and on frames when it is free', () => {
    at(20);
    does('mark');
    at(0);
    const [marker] = piece().markers ?? [];
    if (!marker) throw new Error('there is no marker');
    expect(pullMarker(piece(), marker, hold(38, false)).show).toMatchObject({ title: '0:02.00', caught: 60 * F });
    const trial = pullMarker(piece(), marker, { ...hold(0), by: 3.4 * F });
    expect(trial.show).toMatchObject({ title: '0:00.23', caught: null });
    trial.commit?.();
    expect(piece().markers?.[0]?.time).toBe(23 * F);
    expect(undoTitle()).toBe('Move marker');
  });
});
