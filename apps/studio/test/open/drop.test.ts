import type { Chosen } from '../../src/open/actions/placing';
import { undo, useEditor } from '../../src/open/editor';
import { columnsFor } from '../../src/timeline/columns';
import { dropAt } from '../../src/timeline/drop';
import { standOn } from '../../src/timeline/ground';
import { toPixels } from '../../src/timeline/scale';
import { newPiece } from '@flimzy/core/piece';
import { frameLength } from '@flimzy/core/time';
import { MUSIC, PHOTO, SILENT, VIDEO } from '../../../../packages/core/test/making';
import { F, layout, opened, piece, undoTitle } from './opened';

const LINE = 300;
const whole = (media: Chosen['media']): Chosen => ({ media, range: null });
const columns = () => columnsFor(piece(), 600);

/** Drops things at a time, on the column of a track (or past the last one), as a finger would. */
function drop(things: Chosen[], frames: number, track: number | 'past', parts: 'both' | 'picture' | 'sound' = 'both') {
  const { list } = columns();
  const pictures = list.filter((one) => one.track.kind === 'picture');
  const last = pictures.at(-1)!;
  const x = track === 'past' ? (last.own?.left ?? last.left) + 60 : list[track]!.left + 10;
  return dropAt(piece(), things, parts, x, LINE + toPixels(frames * F, useEditor.getState().zoom));
}

let leave: () => void = () => undefined;
beforeEach(async () => {
  localStorage.clear();
  await opened();
  const node = { getBoundingClientRect: () => ({ left: 0, right: 600, top: 0, bottom: 2000 }), scrollLeft: 0, scrollTop: 0 };
  leave = standOn({ node: node as unknown as HTMLElement, columns, line: () => LINE });
  useEditor.setState({ drop: 'insert', reach: 'own' });
});
afterEach(() => leave());

describe('something dragged from the shelf', () => {
  it('between two clips makes room there, and says so before it is let go', () => {
    const trial = drop([whole(PHOTO)], 62, 0)!;
    expect(trial.show.note).toBe('Between Hill and Hill; the rest makes room');
    expect(layout()).toHaveLength(3);
    expect(trial.commit?.()).toBe(true);
    expect(layout().map(([start, length]) => [start, length])).toEqual([
      [0, 60],
      [60, 90],
      [150, 90],
      [240, 30],
    ]);
    expect(undoTitle()).toBe('Add Bench');
    undo();
    expect(layout()).toHaveLength(3);
  });

  it('in free room moves nothing, and catches on what is near', () => {
    const trial = drop([whole(PHOTO)], 182, 0)!;
    expect([trial.show.note, trial.show.caught]).toEqual(['on Picture; nothing else moves', 180 * F]);
    trial.commit?.();
    expect(layout().at(-1)).toEqual([180, 90, 0]);
  });

  it('past the last track gets one of its own, several one after the other on it', () => {
    const trial = drop([whole(PHOTO), whole(SILENT)], 30, 'past')!;
    expect(trial.show.note).toBe('on a new track; nothing else moves');
    trial.commit?.();
    expect(piece().tracks.map((track) => [track.kind, track.clips.length])).toEqual([
      ['picture', 3],
      ['picture', 2],
      ['sound', 1],
    ]);
    expect(layout(1).map(([start]) => start)).toEqual([30, 120]);
  });

  it('covers what is there when that was chosen; sound goes to a sound track', () => {
    useEditor.setState({ drop: 'over' });
    expect(drop([whole(PHOTO)], 20, 0)!.show.note).toBe('on Picture; covers what is there');
    const sound = drop([whole(MUSIC)], 220, 1)!;
    expect(sound.show.note).toBe('on Music; nothing else moves');
  });

  it('is the first of a piece that takes its rate from its clips: both are one line of history', async () => {
    const empty = newPiece('first', 'First', { width: 1080, height: 1920, rate: { num: 30, den: 1 } }, false);
    await opened(empty);
    const trial = drop([whole(VIDEO)], 12, 0)!;
    expect(trial.commit?.()).toBe(true);
    expect([piece().format.rate, piece().rateChosen, undoTitle()]).toEqual([VIDEO.rate, true, 'Add Hill']);
    const clip = piece().tracks[0]!.clips[0]!;
    expect(clip.start % frameLength(VIDEO.rate!)).toBe(0);
    expect(clip.start).toBeGreaterThan(0);
    undo();
    expect([piece().format.rate, piece().rateChosen]).toEqual([empty.format.rate, false]);
  });

  it('beside the timeline is dropped nowhere', () => {
    expect(dropAt(piece(), [whole(PHOTO)], 'both', 700, 500)).toBeNull();
    expect(dropAt(piece(), [], 'both', 100, 500)).toBeNull();
  });
});
