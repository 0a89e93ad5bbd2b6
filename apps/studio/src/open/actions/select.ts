import { clipEnd } from '@flimzy/core/piece';
import { select, selectAll, useEditor } from '../editor';
import { situation, target } from '../situation';
import type { Action } from './action';

/** Selecting more than one. */
export const SELECTING: readonly Action[] = [
  {
    id: 'gather',
    group: 'Select',
    words: 'Select several: touches add to the selection',
    caption: 'Several',
    key: 'm',
    run: () => useEditor.setState(({ gathering }) => ({ gathering: !gathering })),
  },
  { id: 'select-none', group: 'Select', words: 'Select nothing', caption: 'Nothing', key: 'Escape', run: () => select(null) },
  {
    id: 'select-all',
    group: 'Select',
    words: 'Select every clip on unlocked tracks',
    caption: 'All',
    key: 'ctrl+a',
    run: () => pick(() => true),
  },
  {
    id: 'select-after',
    group: 'Select',
    words: 'Select everything after the playhead',
    caption: 'All after',
    key: 'a',
    run: () => pick((clip, _, playhead) => clipEnd(clip) > playhead),
  },
  {
    id: 'select-track',
    group: 'Select',
    words: 'Select everything on the track of the selected clip',
    caption: 'The track',
    key: 't',
    run: () => {
      const now = situation();
      const home = now ? (target(now)?.track.id ?? now.piece.tracks[0]?.id) : null;
      pick((_, track) => track === home);
    },
  },
];

function pick(wanted: (clip: { start: number; length: number }, track: string, playhead: number) => boolean): void {
  const now = situation();
  if (!now) return;
  const { piece, playhead } = now;
  selectAll(
    piece.tracks.filter((t) => !t.locked).flatMap((t) => t.clips.filter((clip) => wanted(clip, t.id, playhead)).map((clip) => clip.id)),
  );
}
