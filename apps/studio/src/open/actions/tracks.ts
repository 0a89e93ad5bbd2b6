import { trackLength } from '@flimzy/core/piece';
import CornerUpLeft from 'lucide-react-native/icons/corner-up-left';
import Flag from 'lucide-react-native/icons/flag';
import Package from 'lucide-react-native/icons/package';
import PackageOpen from 'lucide-react-native/icons/package-open';
import { say } from '../../look/Toast';
import { currentPiece, edit, moveTo, select, useEditor } from '../editor';
import { enterNest, leaveNest } from '../nests';
import { openPanel } from '../panels';
import { situation, target, targets } from '../situation';
import type { Action } from './action';
import { any, withSelected } from './selected';

function goToMark(by: 1 | -1): void {
  const now = situation();
  const times = (now?.piece.markers ?? []).map((m) => m.time).filter((t) => now && (by > 0 ? t > now.playhead : t < now.playhead));
  if (times.length === 0) return say(by > 0 ? 'There is no marker after this.' : 'There is no marker before this.');
  moveTo(by > 0 ? Math.min(...times) : Math.max(...times));
}

/** Tracks, markers and nests. */
export const FURTHER: readonly Action[] = [
  {
    id: 'mark',
    group: 'Markers',
    words: 'Drop a marker at the playhead',
    caption: 'Mark',
    icon: Flag,
    key: 'b',
    run: () => {
      const { playhead, inside, engine, playing } = useEditor.getState();
      const now = playing ? (engine?.now() ?? playhead) : playhead;
      edit('mark', { place: { inside }, time: Math.max(0, Math.round(now)) });
    },
  },
  { id: 'next-mark', group: 'Markers', words: 'Go to the next marker', caption: 'Next mark', key: 'n', run: () => goToMark(1) },
  { id: 'last-mark', group: 'Markers', words: 'Go to the marker before', caption: 'Mark before', key: 'shift+n', run: () => goToMark(-1) },
  {
    id: 'markers',
    group: 'Markers',
    words: 'List the markers',
    caption: 'Markers',
    key: 'shift+b',
    run: () => openPanel({ name: 'markers' }),
  },
  {
    id: 'add-picture-track',
    group: 'Tracks',
    words: 'Add a picture track on top',
    caption: 'Picture track',
    run: () => edit('addTrack', { inside: useEditor.getState().inside, kind: 'picture' }),
  },
  {
    id: 'add-sound-track',
    group: 'Tracks',
    words: 'Add a sound track',
    caption: 'Sound track',
    run: () => edit('addTrack', { inside: useEditor.getState().inside, kind: 'sound' }),
  },
  {
    id: 'remove-empty',
    group: 'Tracks',
    words: 'Remove all empty tracks',
    caption: 'Empty tracks',
    run: () => {
      const tracks = (currentPiece()?.tracks ?? []).slice(1).filter((t) => trackLength(t) === 0 && !t.locked);
      if (tracks.length === 0) return say('No track is empty.');
      edit('removeTracks', { tracks: tracks.map((t) => t.id) });
    },
  },
  {
    id: 'track',
    group: 'Tracks',
    words: 'Open the track of the selected clip: name, hide, mute, solo, lock',
    caption: 'Track',
    run: () => {
      const now = situation();
      const track = now && (target(now)?.track ?? now.piece.tracks[0]);
      if (track) openPanel({ name: 'track', track: track.id });
    },
  },
  {
    id: 'nest',
    group: 'Nests',
    words: 'Nest the selected clips: several become one',
    caption: 'Nest',
    icon: Package,
    key: 'ctrl+g',
    when: any,
    run: () =>
      withSelected((clips) => {
        const count = Object.keys(currentPiece()?.nests ?? {}).length;
        if (edit('nest', { clips, name: `Nest ${count + 1}` })) select(null);
      }),
  },
  {
    id: 'open-nest',
    group: 'Nests',
    words: 'Open the nest: its inside as a timeline of its own',
    caption: 'Open',
    icon: PackageOpen,
    key: 'Enter',
    when: (s) => targets(s).some(({ clip }) => s.piece.nests?.[clip.media]),
    run: () => {
      const now = situation();
      const clip = now && targets(now).find((one) => now.piece.nests?.[one.clip.media])?.clip;
      if (clip) enterNest(clip.media, clip);
    },
  },
  {
    id: 'leave-nest',
    group: 'Nests',
    words: 'Go back out of the nest',
    caption: 'Out',
    icon: CornerUpLeft,
    key: 'shift+Enter',
    when: (s) => s.inside !== null,
    run: leaveNest,
  },
  {
    id: 'unnest',
    group: 'Nests',
    words: 'Unnest: put the inside back in its place',
    caption: 'Unnest',
    when: (s) => targets(s).some(({ clip }) => s.piece.nests?.[clip.media]),
    run: () => withSelected(([clip]) => clip && edit('unnest', { clip }) && select(null)),
  },
];
