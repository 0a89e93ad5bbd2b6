import Gauge from 'lucide-react-native/icons/gauge';
import Mic from 'lucide-react-native/icons/mic';
import Bleep from 'lucide-react-native/icons/megaphone-off';
import Under from 'lucide-react-native/icons/speech';
import { say } from '../../look/Toast';
import { edit, useEditor } from '../editor';
import { useLengths } from '../lengths';
import { openPanel } from '../panels';
import type { Action } from './action';
import { audible } from './selected';

const wholePiece = () => useEditor.getState().session?.current.piece;

/** Fades the whole piece at one end, or takes that away. */
function fadeWhole(field: 'fadeIn' | 'fadeOut'): void {
  const sound = wholePiece()?.sound;
  edit('setSound', { [field]: sound?.[field] ? 0 : useLengths.getState().fade });
}

function switchLimiter(): void {
  const limited = Boolean(wholePiece()?.sound?.unlimited);
  if (edit('setSound', { limited }))
    say(limited ? 'The limiter is on: nothing gets louder than −1 dBTP.' : 'The limiter is off: what is too loud will be distorted.');
}

/** What is heard of the piece as a whole: what makes way for what, how loud it is, what is covered. */
export const MIXING: readonly Action[] = [
  {
    id: 'under',
    group: 'Sound',
    words: 'Music under speech: keep it out of the way of whoever speaks',
    caption: 'Under speech',
    icon: Under,
    key: 'y',
    run: () => openPanel({ name: 'under', track: null }),
  },
  {
    id: 'loudness',
    group: 'Sound',
    words: 'Loudness: measure the piece, bring it or the selected clips to a target',
    caption: 'Loudness',
    icon: Gauge,
    key: 'shift+u',
    run: () => openPanel({ name: 'loudness' }),
  },
  {
    id: 'narrate',
    group: 'Sound',
    words: 'Narration: record your voice while the piece plays; swap its takes',
    caption: 'Narrate',
    icon: Mic,
    key: 'shift+m',
    run: () => openPanel({ name: 'narrate' }),
  },
  {
    id: 'cover',
    group: 'Sound',
    words: 'Cover a word of the selected clip: with a tone, a sound, silence, or garbled',
    caption: 'Cover',
    icon: Bleep,
    key: 'shift+k',
    when: (s) => s.selected.length === 1 && audible(s).length === 1,
    run: () => openPanel({ name: 'cover' }),
  },
  {
    id: 'piece-fade-in',
    group: 'Sound',
    words: 'Fade the whole piece in; or take that away',
    caption: 'Piece in',
    run: () => fadeWhole('fadeIn'),
  },
  {
    id: 'piece-fade-out',
    group: 'Sound',
    words: 'Fade the whole piece out; or take that away',
    caption: 'Piece out',
    run: () => fadeWhole('fadeOut'),
  },
  {
    id: 'limiter',
    group: 'Sound',
    words: 'Limiter of the whole piece: on, or off',
    caption: 'Limiter',
    run: switchLimiter,
  },
];
