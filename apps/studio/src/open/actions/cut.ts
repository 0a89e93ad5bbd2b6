import { copyClips, type TogetherStep } from '@flimzy/core/edits';
import { clipEnd, findClip, isCaptions, type Piece, type Track } from '@flimzy/core/piece';
import { formatTimecode, frameLength, toGrid } from '@flimzy/core/time';
import ClipboardPaste from 'lucide-react-native/icons/clipboard-paste';
import Copy from 'lucide-react-native/icons/copy';
import CopyPlus from 'lucide-react-native/icons/copy-plus';
import FoldVertical from 'lucide-react-native/icons/fold-vertical';
import Gauge from 'lucide-react-native/icons/gauge';
import Join from 'lucide-react-native/icons/square-split-vertical';
import RotateCcw from 'lucide-react-native/icons/rotate-ccw';
import ScissorsLineDashed from 'lucide-react-native/icons/scissors-line-dashed';
import Scissors from 'lucide-react-native/icons/scissors';
import Snowflake from 'lucide-react-native/icons/snowflake';
import SquareDashed from 'lucide-react-native/icons/square-dashed';
import VolumeOff from 'lucide-react-native/icons/image-off';
import { say } from '../../look/Toast';
import { currentPiece, edit, moveTo, select, together, undo, useEditor } from '../editor';
import { useLengths } from '../lengths';
import { openPanel } from '../panels';
import { nearestSeam, situation, target, targets, underPlayhead } from '../situation';
import type { Action } from './action';
import { any, chosen, need, reach } from './selected';

function splitHere(): void {
  const now = situation();
  if (!now) return;
  const clips = targets(now).map(({ clip }) => clip.id);
  if (clips.length === 0) return say('There is no clip under the playhead to split.');
  edit('split', { clips, at: now.playhead });
}

function splitAll(): void {
  const now = situation();
  if (!now) return;
  const clips = underPlayhead(now.piece, now.playhead).map(({ clip }) => clip.id);
  if (clips.length === 0) return say('There is no clip under the playhead to split.');
  edit('split', { clips, at: now.playhead });
}

/** Deletes what is selected, and says what moved. */
function remove(rest: 'close' | 'leave', tracks: 'own' | 'all' = reach(), keepSound = false): void {
  const now = chosen();
  if (!now) return need();
  const { piece, selected } = now;
  const first = Math.min(...targets(now).map(({ clip }) => clip.start));
  const before = new Map(clipsOf(piece).map((c) => [c.id, c.start] as const));
  const captions = captionsOf(piece);
  const clips = [...selected];
  const along = keepSound ? [] : linkedAlong(piece, clips);
  if (!edit('remove', { clips, rest, tracks, keepSound })) return;
  select(null);
  if (rest === 'close') moveTo(Math.min(now.playhead, first));
  const after = currentPiece() ?? piece;
  const words = captionsOf(after);
  const shifted = clipsOf(after).filter((c) => (before.get(c.id) ?? c.start) !== c.start);
  const moved = shifted.filter((c) => !words.has(c.id)).length;
  const gone = [...captions].filter((id) => !words.has(id) && !clips.includes(id)).length;
  const rests =
    rest === 'close' && moved > 0
      ? `Deleted. ${moved === 1 ? 'One clip' : `${moved} clips`} after it moved up${shifted.length > moved ? ', captions along' : ''}.`
      : rest === 'leave'
        ? 'Deleted. A gap is left; nothing moved.'
        : 'Deleted.';
  const what = gone > 0 ? `${rests} ${gone === 1 ? 'The caption' : `The ${gone} captions`} of what was said there went with it.` : rests;
  const [kind] = along;
  if (!kind) return say(what);
  // People detach sound to keep it: that it went too is said, and one touch has it back.
  const word = kind === 'sound' ? 'sound' : 'picture';
  const keep = () => {
    undo();
    if (edit('remove', { clips, rest, tracks, linked: 'stay' })) say(`Deleted; its ${word} stays where it is.`);
    else if (rest === 'close' && edit('remove', { clips, rest: 'leave', tracks, linked: 'stay' }))
      say(`Deleted; its ${word} stays where it is, and so a gap is left: what follows would run into it.`);
  };
  say(`${what} Its linked ${word} went along.`, { label: `Keep the ${word}`, run: keep });
}

const clipsOf = ({ tracks }: Piece) => tracks.flatMap(({ clips }) => clips);
const captionsOf = ({ tracks }: Piece) => new Set(tracks.filter(isCaptions).flatMap(({ clips }) => clips.map(({ id }) => id)));

/** The kinds of tracks on which clips stand that are linked to these and not among them, and so go along. */
function linkedAlong(piece: Piece, clips: readonly string[]): Track['kind'][] {
  const groups = new Set(clips.flatMap((id) => findClip(piece, id)?.clip.link?.group ?? []));
  return piece.tracks.flatMap((track) =>
    track.clips.some((c) => c.link && groups.has(c.link.group) && !clips.includes(c.id)) ? [track.kind] : [],
  );
}

/** Trims what is selected (or the clip under the playhead) to the playhead; of several, each one that covers it. */
function trimTo(edge: 'head' | 'tail'): void {
  const now = situation();
  if (!now) return;
  const { rest } = useEditor.getState();
  const found = targets(now).filter(({ clip }) => now.selected.length < 2 || (clip.start < now.playhead && clipEnd(clip) > now.playhead));
  const [first] = found;
  if (!first) return need();
  const steps = found.map(({ clip }): TogetherStep => ({
    name: 'trim',
    params: { clip: clip.id, edge, to: now.playhead, rest, tracks: reach() },
  }));
  const words = edge === 'head' ? 'start' : 'end';
  if (steps.length === 1 && steps[0]?.name === 'trim') edit('trim', steps[0].params);
  else together(`Trim the ${words} of ${steps.length} clips`, steps);
  if (edge === 'head' && rest === 'follow') moveTo(first.clip.start);
}

function copy(): boolean {
  const now = chosen();
  if (!now) {
    need();
    return false;
  }
  const clipboard = copyClips(now.piece, now.selected);
  if (clipboard) useEditor.setState({ clipboard });
  return clipboard !== null;
}

function paste(how: 'insert' | 'over'): void {
  const now = situation();
  const { clipboard, inside } = useEditor.getState();
  if (!now || !clipboard) return say('Copy or cut clips first.');
  const track = now.selected[0] ? (findClip(now.piece, now.selected[0])?.track.id ?? null) : null;
  edit('paste', { copied: clipboard, inside, track, at: now.playhead, how, tracks: reach() });
}

function freeze(): void {
  const now = situation();
  const found = now && target(now);
  if (!now || !found) return say('There is no picture under the playhead to freeze.');
  const { rate } = now.piece.format;
  const length = Math.max(frameLength(rate), toGrid(useLengths.getState().freeze, rate));
  if (edit('freeze', { clip: found.clip.id, at: now.playhead, length, tracks: reach() }))
    say(`Frozen for ${formatTimecode(length, rate)}; what follows moved later.`);
}

function openSeam(): void {
  const now = situation();
  const seam = now && nearestSeam(now);
  if (!seam) return say('There is no join here: two clips must touch.');
  openPanel({ name: 'seam', clip: seam.id });
}

const duplicate = () => {
  const now = chosen();
  if (!now) return need();
  edit('duplicate', { clips: [...now.selected], tracks: reach() });
};

const resetAll = () => {
  const now = chosen();
  if (!now) return need();
  edit('reset', { clips: [...now.selected], tracks: reach() });
};

/** Cutting, deleting, copying: what is done to clips in time. */
export const CUTTING: readonly Action[] = [
  { id: 'split', group: 'Cut', words: 'Split at the playhead', caption: 'Split', icon: ScissorsLineDashed, key: 's', run: splitHere },
  {
    id: 'split-all',
    group: 'Cut',
    words: 'Split every unlocked track at the playhead',
    caption: 'Split all',
    icon: Scissors,
    key: 'shift+s',
    run: splitAll,
  },
  {
    id: 'delete-close',
    group: 'Cut',
    words: 'Delete and close the gap',
    caption: 'Delete,\nclose gap',
    icon: FoldVertical,
    key: 'Delete',
    also: ['Backspace'],
    when: any,
    run: () => remove('close'),
  },
  {
    id: 'delete-leave',
    group: 'Cut',
    words: 'Delete and leave a gap',
    caption: 'Delete,\nleave gap',
    icon: SquareDashed,
    key: 'shift+Delete',
    also: ['shift+Backspace'],
    when: any,
    run: () => remove('leave'),
  },
  {
    id: 'delete-close-all',
    group: 'Cut',
    words: 'Delete and close the gap on all unlocked tracks',
    caption: 'Delete,\nclose on all',
    key: 'ctrl+Delete',
    when: any,
    run: () => remove('close', 'all'),
  },
  {
    id: 'delete-picture',
    group: 'Cut',
    words: 'Delete the picture, keep its sound in place',
    caption: 'Keep sound',
    icon: VolumeOff,
    when: any,
    run: () => remove('leave', 'own', true),
  },
  { id: 'seam', group: 'Cut', words: 'Open the seam view at the nearest join', caption: 'Seam', icon: Join, key: 'j', run: openSeam },
  {
    id: 'trim-head',
    group: 'Cut',
    words: 'Trim the start to the playhead, of every selected clip there',
    caption: 'Start here',
    key: 'q',
    run: () => trimTo('head'),
  },
  {
    id: 'trim-tail',
    group: 'Cut',
    words: 'Trim the end to the playhead, of every selected clip there',
    caption: 'End here',
    key: 'w',
    run: () => trimTo('tail'),
  },
  {
    id: 'cut',
    group: 'Cut',
    words: 'Cut out to the clipboard and close the gap',
    caption: 'Cut',
    key: 'ctrl+x',
    when: any,
    run: () => copy() && remove('close'),
  },
  {
    id: 'copy',
    group: 'Cut',
    words: 'Copy to the clipboard',
    caption: 'Copy',
    icon: Copy,
    key: 'ctrl+c',
    when: any,
    run: () => copy() && say('Copied.'),
  },
  {
    id: 'paste',
    group: 'Cut',
    words: 'Paste at the playhead, moving the rest later',
    caption: 'Paste',
    icon: ClipboardPaste,
    key: 'ctrl+v',
    when: (s) => s.hasClipboard,
    run: () => paste('insert'),
  },
  {
    id: 'paste-over',
    group: 'Cut',
    words: 'Paste at the playhead over what is there',
    caption: 'Paste over',
    key: 'ctrl+shift+v',
    when: (s) => s.hasClipboard,
    run: () => paste('over'),
  },
  {
    id: 'duplicate',
    group: 'Cut',
    words: 'Duplicate right after itself',
    caption: 'Duplicate',
    icon: CopyPlus,
    key: 'ctrl+d',
    when: any,
    run: duplicate,
  },
  {
    id: 'freeze',
    group: 'Cut',
    words: 'Freeze the frame at the playhead, for as long as is set under Speed',
    caption: 'Freeze',
    icon: Snowflake,
    key: 'f',
    run: freeze,
  },
  {
    id: 'speed',
    group: 'Cut',
    words: 'Speed: faster, slower, backwards, or as long as you like',
    caption: 'Speed',
    icon: Gauge,
    key: 'shift+v',
    run: () => openPanel({ name: 'speed' }),
  },
  { id: 'reset', group: 'Cut', words: 'Reset to the whole material', caption: 'Reset', icon: RotateCcw, when: any, run: resetAll },
];
