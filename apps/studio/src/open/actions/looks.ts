import Palette from 'lucide-react-native/icons/palette';
import { select } from '../editor';
import { picturesOf } from '../framing';
import { copyLook, pasteLook } from '../looks';
import { openPanel } from '../panels';
import { situation, targets } from '../situation';
import type { Action, Situation } from './action';
import { need } from './selected';

const pictured = (s: Situation) =>
  picturesOf(
    s.piece,
    targets(s).map(({ clip }) => clip.id),
  );
const any = (s: Situation) => pictured(s).length > 0;

/** How pictures look: their colours, and what is laid over them. */
export const LOOKS: readonly Action[] = [
  {
    id: 'looks',
    group: 'Picture',
    words: 'Look: exposure, contrast, colours, vignette, grain, sharpness, and looks of our own',
    caption: 'Look',
    icon: Palette,
    key: 'shift+x',
    run: () => {
      const now = situation();
      const [one] = now ? pictured(now) : [];
      if (one && !now?.selected.includes(one.clip.id)) select(one.clip.id);
      openPanel({ name: 'looks' });
    },
  },
  {
    id: 'copy-look',
    group: 'Picture',
    words: 'Copy the look of the selected picture',
    caption: 'Copy look',
    when: any,
    run: () => {
      const now = situation();
      const [one] = now ? pictured(now) : [];
      if (one) copyLook(one.clip);
      else need();
    },
  },
  {
    id: 'paste-look',
    group: 'Picture',
    words: 'Paste the look onto the selected pictures',
    caption: 'Paste look',
    when: any,
    run: () => {
      const now = situation();
      const all = now ? pictured(now) : [];
      if (all.length > 0) pasteLook(all.map(({ clip }) => clip.id));
      else need();
    },
  },
];
