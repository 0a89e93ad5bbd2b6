import { PLAIN_TEXT, presetValues, TITLE_PRESETS } from '@flimzy/core/frame';
import Captions from 'lucide-react-native/icons/captions';
import Sticker from 'lucide-react-native/icons/sticker';
import Type from 'lucide-react-native/icons/type';
import { select } from '../editor';
import { openPanel } from '../panels';
import { situation, targets, underPlayhead } from '../situation';
import { addOverlay } from '../titles';
import type { Action, Situation } from './action';

const titles = (s: Situation) => targets(s).filter(({ clip }) => clip.overlay !== undefined);

/** Titles and stickers: drawn over the picture. */
export const TITLES: readonly Action[] = [
  {
    id: 'title',
    group: 'Titles',
    words: 'Write a title over the picture at the playhead',
    caption: 'Title',
    icon: Type,
    key: 'shift+w',
    run: () => {
      const [plain] = TITLE_PRESETS;
      addOverlay(plain ? presetValues(plain) : { overlay: { parts: [PLAIN_TEXT] } });
    },
  },
  {
    id: 'sticker',
    group: 'Titles',
    words: 'Put a sticker or a shape over the picture: arrows, circles, bursts, an emoji',
    caption: 'Sticker',
    icon: Sticker,
    key: 'shift+o',
    run: () => openPanel({ name: 'stickers' }),
  },
  {
    id: 'captions',
    group: 'Titles',
    words: 'Captions: what is said, to be read; written, spread over the speech, or from a file',
    caption: 'Captions',
    icon: Captions,
    key: 'shift+q',
    run: () => openPanel({ name: 'captions' }),
  },
  {
    id: 'edit-title',
    group: 'Titles',
    words: 'Change the words and looks of the title',
    caption: 'Words',
    icon: Type,
    when: (s) => titles(s).length > 0 || underPlayhead(s.piece, s.playhead).some(({ clip }) => clip.overlay !== undefined),
    run: () => {
      const now = situation();
      if (!now) return;
      const [one] = [...titles(now), ...underPlayhead(now.piece, now.playhead).filter(({ clip }) => clip.overlay !== undefined)];
      if (!one) return;
      if (!now.selected.includes(one.clip.id)) select(one.clip.id);
      openPanel({ name: 'title' });
    },
  },
];
