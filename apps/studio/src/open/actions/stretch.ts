import Copy from 'lucide-react-native/icons/copy';
import Crop from 'lucide-react-native/icons/crop';
import FoldVertical from 'lucide-react-native/icons/fold-vertical';
import SquareDashed from 'lucide-react-native/icons/square-dashed';
import X from 'lucide-react-native/icons/x';
import { copyStretch } from '@flimzy/core/edits';
import Brackets from 'lucide-react-native/icons/brackets';
import { say } from '../../look/Toast';
import { currentPiece, edit, moveTo, stretchOf, useEditor } from '../editor';
import type { Action, Situation } from './action';

const hasStretch = (s: Situation) => s.stretch !== null;

function setPoint(which: 'markIn' | 'markOut'): void {
  const { playhead } = useEditor.getState();
  useEditor.setState({ [which]: playhead });
  const stretch = stretchOf(useEditor.getState());
  if (!stretch) useEditor.setState(which === 'markIn' ? { markOut: null } : { markIn: null, markOut: playhead });
}

function onStretch(run: (stretch: { inside: string | null; from: number; to: number }) => void): void {
  const state = useEditor.getState();
  const stretch = stretchOf(state);
  if (!stretch) return say('Set in and out on the timeline first.');
  run({ inside: state.inside, ...stretch });
}
const forget = () => useEditor.setState({ markIn: null, markOut: null });

/** A stretch of time chosen by in and out. */
export const STRETCH: readonly Action[] = [
  { id: 'in', group: 'Stretch', words: 'Set in at the playhead', caption: 'In', icon: Brackets, key: 'i', run: () => setPoint('markIn') },
  {
    id: 'out',
    group: 'Stretch',
    words: 'Set out at the playhead',
    caption: 'Out',
    icon: Brackets,
    key: 'o',
    run: () => setPoint('markOut'),
  },
  {
    id: 'no-stretch',
    group: 'Stretch',
    words: 'Forget in and out',
    caption: 'Forget',
    icon: X,
    key: 'shift+i',
    when: hasStretch,
    run: forget,
  },
  {
    id: 'take-out',
    group: 'Stretch',
    words: 'Take the stretch out on all unlocked tracks, what follows moves up',
    caption: 'Take out',
    icon: FoldVertical,
    key: 'e',
    when: hasStretch,
    run: () =>
      onStretch((stretch) => {
        if (!edit('takeOutStretch', stretch)) return;
        forget();
        moveTo(stretch.from);
      }),
  },
  {
    id: 'lift',
    group: 'Stretch',
    words: 'Lift the stretch on all unlocked tracks, a gap stays',
    caption: 'Lift',
    icon: SquareDashed,
    key: 'shift+e',
    when: hasStretch,
    run: () => onStretch((stretch) => edit('liftStretch', stretch) && forget()),
  },
  {
    id: 'keep',
    group: 'Stretch',
    words: 'Keep the stretch alone: everything before and after goes',
    caption: 'Keep only',
    icon: Crop,
    key: 'k',
    when: hasStretch,
    run: () =>
      onStretch((stretch) => {
        if (!edit('keepStretch', stretch)) return;
        forget();
        moveTo(0);
      }),
  },
  {
    id: 'copy-stretch',
    group: 'Stretch',
    words: 'Copy the stretch on all unlocked tracks',
    caption: 'Copy',
    icon: Copy,
    key: 'shift+c',
    when: hasStretch,
    run: () =>
      onStretch(({ from, to }) => {
        const piece = currentPiece();
        const clipboard = piece && copyStretch(piece, piece, from, to);
        if (!clipboard) return say('There is nothing in this stretch.');
        useEditor.setState({ clipboard });
        say('Copied.');
      }),
  },
];
