import Palette from 'lucide-react-native/icons/palette';
import { copyLook, pasteLook } from '../looks';
import { openPanel } from '../panels';
import { situation } from '../situation';
import type { Action } from './action';
import { anyPicture, pictured, selectPicture, withPicture, withPictures } from './selected';

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
      if (now) selectPicture(pictured(now), now);
      openPanel({ name: 'looks' });
    },
  },
  {
    id: 'copy-look',
    group: 'Picture',
    words: 'Copy the look of the selected picture',
    caption: 'Copy look',
    when: anyPicture,
    run: withPicture(({ clip }) => copyLook(clip)),
  },
  {
    id: 'paste-look',
    group: 'Picture',
    words: 'Paste the look onto the selected pictures',
    caption: 'Paste look',
    when: anyPicture,
    run: withPictures((all) => pasteLook(all.map(({ clip }) => clip.id))),
  },
];
