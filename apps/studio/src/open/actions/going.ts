import { clipEnd, pieceLength } from '@flimzy/core/piece';
import { fromSeconds, nominalRate } from '@flimzy/core/time';
import Repeat from 'lucide-react-native/icons/repeat';
import { currentPiece, moveTo, pause, play, playAlone, redo, step, togglePlay, undo, useEditor } from '../editor';
import { say } from '../../look/Toast';
import { openPanel } from '../panels';
import { situation, target } from '../situation';
import type { Action } from './action';

const second = () => nominalRate(currentPiece()?.format.rate ?? { num: 30, den: 1 });

function toEdge(by: 1 | -1): void {
  const now = situation();
  if (!now) return;
  const edges = [0, pieceLength(now.piece), ...now.piece.tracks.flatMap((t) => t.clips.flatMap((c) => [c.start, clipEnd(c)]))];
  const ahead = edges.filter((e) => (by > 0 ? e > now.playhead : e < now.playhead));
  if (ahead.length > 0) moveTo(by > 0 ? Math.min(...ahead) : Math.max(...ahead));
}

/** Watches so many times as fast, or as it is again; what plays goes on so. */
function watchAt(pace: 0.5 | 2): void {
  const { playing, pace: was } = useEditor.getState();
  useEditor.setState({ pace: was === pace ? 1 : pace });
  if (!playing) return;
  pause();
  void play();
}

/** Playing, stepping, going. */
export const GOING: readonly Action[] = [
  { id: 'play', group: 'Go', words: 'Play or pause', caption: 'Play', key: ' ', run: togglePlay },
  {
    id: 'play-before',
    group: 'View',
    words: 'Play from two seconds before the playhead',
    caption: 'From before',
    key: 'shift+ ',
    run: () => {
      moveTo(Math.max(0, useEditor.getState().playhead - fromSeconds(2)));
      void play();
    },
  },
  {
    id: 'play-clip',
    group: 'View',
    words: 'Play the clip by itself, from its start to its end',
    caption: 'Clip alone',
    key: 'ctrl+ ',
    run: () => {
      const now = situation();
      const found = now && target(now);
      if (found) void playAlone(found.clip.id);
      else say('There is no clip under the playhead.');
    },
  },
  {
    id: 'loop',
    group: 'View',
    words: 'Play again and again, from in to out where they are set; or not',
    caption: 'Again and again',
    icon: Repeat,
    key: 'c',
    run: () => useEditor.setState(({ looping }) => ({ looping: !looping })),
  },
  { id: 'watch-half', group: 'View', words: 'Watch at half speed; or as it is', caption: 'Half speed', key: ',', run: () => watchAt(0.5) },
  {
    id: 'watch-double',
    group: 'View',
    words: 'Watch at double speed; or as it is',
    caption: 'Double speed',
    key: '.',
    run: () => watchAt(2),
  },
  { id: 'frame-on', group: 'Go', words: 'One frame on', caption: '+1', key: 'ArrowDown', also: ['ArrowRight'], run: () => step(1) },
  { id: 'frame-back', group: 'Go', words: 'One frame back', caption: '−1', key: 'ArrowUp', also: ['ArrowLeft'], run: () => step(-1) },
  { id: 'second-on', group: 'Go', words: 'One second on', caption: '+1 s', key: 'shift+ArrowDown', run: () => step(second()) },
  { id: 'second-back', group: 'Go', words: 'One second back', caption: '−1 s', key: 'shift+ArrowUp', run: () => step(-second()) },
  { id: 'to-start', group: 'Go', words: 'Go to the start', caption: 'Start', key: 'Home', run: () => moveTo(0) },
  {
    id: 'to-end',
    group: 'Go',
    words: 'Go to the end',
    caption: 'End',
    key: 'End',
    run: () => {
      const piece = currentPiece();
      if (piece) moveTo(pieceLength(piece));
    },
  },
  { id: 'next-edge', group: 'Go', words: 'Go to the next cut', caption: 'Next cut', key: 'PageDown', run: () => toEdge(1) },
  { id: 'last-edge', group: 'Go', words: 'Go to the cut before', caption: 'Cut before', key: 'PageUp', run: () => toEdge(-1) },
  { id: 'undo', group: 'Go', words: 'Undo', caption: 'Undo', key: 'ctrl+z', run: undo },
  { id: 'redo', group: 'Go', words: 'Redo', caption: 'Redo', key: 'ctrl+shift+z', also: ['ctrl+y'], run: redo },
  { id: 'history', group: 'Go', words: 'Open the history', caption: 'History', key: 'h', run: () => openPanel({ name: 'history' }) },
];
