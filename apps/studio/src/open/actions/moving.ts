import { clipEnd } from '@flimzy/core/piece';
import { FLICKS_PER_SECOND } from '@flimzy/core/time';
import ArrowLeftRight from 'lucide-react-native/icons/arrow-left-right';
import FoldVertical from 'lucide-react-native/icons/fold-vertical';
import { say } from '../../look/Toast';
import { edit, useEditor } from '../editor';
import { joinsBefore, nearestSeam, situation, targets } from '../situation';
import type { Action } from './action';
import { any, chosen, need, reach } from './selected';

function swapThem(): void {
  const now = chosen();
  if (now?.selected.length !== 2) return say('Select the two clips to swap.');
  edit('swap', { a: now.selected[0] ?? '', b: now.selected[1] ?? '' });
}

function closeGapHere(): void {
  const now = situation();
  if (!now) return;
  const track = now.piece.tracks.find(
    (t) => t.kind === 'picture' && !t.clips.some((c) => c.start <= now.playhead && clipEnd(c) > now.playhead),
  );
  if (!track) return say('There is no gap under the playhead.');
  edit('closeGap', { track: track.id, at: now.playhead, tracks: reach() });
}

function nudge(frames: number): void {
  const now = chosen();
  const [first] = now ? targets(now) : [];
  if (!now || !first) return need();
  const step = (frames * FLICKS_PER_SECOND * now.piece.format.rate.den) / now.piece.format.rate.num;
  edit('move', { clips: [...now.selected], track: first.track.id, to: Math.max(0, first.clip.start + step), how: 'place', rest: 'leave' });
}

const closeAll = () => {
  const { inside } = useEditor.getState();
  edit('closeGaps', { track: null, inside });
};

const closeOnTrack = () => {
  const now = situation();
  const { inside } = useEditor.getState();
  const track = now && (now.piece.tracks.find((t) => t.clips.some((c) => c.id === now.selected[0])) ?? now.piece.tracks[0]);
  if (track) edit('closeGaps', { track: track.id, inside });
};

function slip(frames: number): void {
  const now = chosen();
  if (!now) return need();
  edit('slip', { clips: [...now.selected], by: (frames * FLICKS_PER_SECOND * now.piece.format.rate.den) / now.piece.format.rate.num });
}

function slide(frames: number): void {
  const now = chosen();
  const [clip, ...also] = now?.selected ?? [];
  if (!now || clip === undefined) return need();
  edit('slide', { clip, also, by: (frames * FLICKS_PER_SECOND * now.piece.format.rate.den) / now.piece.format.rate.num });
}

/** Moves the nearest join to the playhead; of several selected clips, the join before each of them by as much. */
function rollHere(): void {
  const now = situation();
  if (!now) return;
  const joins = now.selected.length > 1 ? joinsBefore(now) : [nearestSeam(now)].flatMap((clip) => clip ?? []);
  const [held, ...also] = joins.sort((a, b) => Math.abs(a.start - now.playhead) - Math.abs(b.start - now.playhead));
  if (!held) return say('There is no join here: two clips must touch.');
  edit('roll', { clip: held.id, also: also.map((clip) => clip.id), to: now.playhead });
}

/** Moving clips by figures: places, material, gaps. */
export const MOVING: readonly Action[] = [
  {
    id: 'swap',
    group: 'Move',
    words: 'Swap the two selected clips',
    caption: 'Swap',
    icon: ArrowLeftRight,
    key: 'x',
    when: (s) => s.selected.length === 2,
    run: swapThem,
  },
  {
    id: 'nudge-earlier',
    group: 'Move',
    words: 'Move one frame earlier',
    caption: 'Earlier',
    key: 'alt+ArrowUp',
    when: any,
    run: () => nudge(-1),
  },
  {
    id: 'nudge-later',
    group: 'Move',
    words: 'Move one frame later',
    caption: 'Later',
    key: 'alt+ArrowDown',
    when: any,
    run: () => nudge(1),
  },
  {
    id: 'slip-earlier',
    group: 'Move',
    words: 'Slip by one frame: show earlier material',
    caption: 'Slip −1',
    key: 'alt+ArrowLeft',
    when: any,
    run: () => slip(-1),
  },
  {
    id: 'slip-later',
    group: 'Move',
    words: 'Slip by one frame: show later material',
    caption: 'Slip +1',
    key: 'alt+ArrowRight',
    when: any,
    run: () => slip(1),
  },
  {
    id: 'slide-earlier',
    group: 'Move',
    words: 'Slide one frame earlier, neighbours give way',
    caption: 'Slide −1',
    key: 'alt+shift+ArrowUp',
    when: any,
    run: () => slide(-1),
  },
  {
    id: 'slide-later',
    group: 'Move',
    words: 'Slide one frame later, neighbours give way',
    caption: 'Slide +1',
    key: 'alt+shift+ArrowDown',
    when: any,
    run: () => slide(1),
  },
  {
    id: 'roll-here',
    group: 'Move',
    words: 'Roll the nearest join to the playhead: it moves, nothing else',
    caption: 'Roll here',
    key: 'shift+j',
    run: rollHere,
  },
  {
    id: 'close-gap',
    group: 'Move',
    words: 'Close the gap under the playhead',
    caption: 'Close gap',
    icon: FoldVertical,
    key: 'g',
    run: closeGapHere,
  },
  {
    id: 'close-gaps',
    group: 'Move',
    words: 'Close all gaps of the track of the selected clip',
    caption: 'Its gaps',
    key: 'shift+g',
    run: closeOnTrack,
  },
  {
    id: 'close-gaps-all',
    group: 'Move',
    words: 'Close all gaps that all unlocked tracks have in common',
    caption: 'All gaps',
    key: 'ctrl+shift+g',
    run: closeAll,
  },
];
