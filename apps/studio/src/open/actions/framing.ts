import { panZoom, PLAIN } from '@flimzy/core/frame';
import { flipped, isChanging, valueOf } from '@flimzy/core/properties';
import { frameLength } from '@flimzy/core/time';
import Crop from 'lucide-react-native/icons/crop';
import { copyFraming, goToKey, pasteFraming, setEach, toggleKeys } from '../framing';
import { openPanel } from '../panels';
import type { Action, Situation } from './action';
import { anyPicture, pictured, selectPicture, withPicture, withPictures } from './selected';

const keyed = (s: Situation) => pictured(s).some(({ clip }) => isChanging(clip));

/** Where pictures lie in the frame, and how that changes. */
export const FRAMING_ACTIONS: readonly Action[] = [
  {
    id: 'framing',
    group: 'Picture',
    words: 'Framing: move, enlarge, turn, cut and flip the picture; keys; what is behind it',
    caption: 'Framing',
    icon: Crop,
    key: 'shift+p',
    when: anyPicture,
    run: withPictures((all, now) => {
      selectPicture(all, now);
      openPanel({ name: 'framing' });
    }),
  },
  {
    id: 'key-here',
    group: 'Picture',
    words: 'Set a key of the framing at the playhead, or take it away',
    caption: 'Key here',
    key: 'shift+y',
    when: anyPicture,
    run: withPictures((all) => toggleKeys(all.map(({ clip }) => clip))),
  },
  {
    id: 'key-after',
    group: 'Picture',
    words: 'Go to the next key of the framing',
    caption: 'Next key',
    when: keyed,
    run: withPicture(({ clip }) => goToKey(clip, 1)),
  },
  {
    id: 'key-before',
    group: 'Picture',
    words: 'Go to the key of the framing before',
    caption: 'Key before',
    when: keyed,
    run: withPicture(({ clip }) => goToKey(clip, -1)),
  },
  ...(['towards', 'away'] as const).map((way): Action => ({
    id: `zoom-${way}`,
    group: 'Picture',
    words: `Pan and zoom: slowly ${way === 'towards' ? 'towards the picture' : 'away from the picture'}, over the whole clip`,
    caption: way === 'towards' ? 'Zoom in' : 'Zoom out',
    when: anyPicture,
    run: withPictures((all, now) =>
      setEach(`Zoom ${way}`, all, ({ clip }, n) => panZoom(clip, way, frameLength(now.piece.format.rate), n)),
    ),
  })),
  ...(['across', 'down'] as const).map((way): Action => ({
    id: `flip-${way}`,
    group: 'Picture',
    words: way === 'across' ? 'Flip the picture left to right' : 'Flip the picture top to bottom',
    caption: 'Flip',
    when: anyPicture,
    run: withPictures((all) => setEach('Flip', all, ({ clip }) => ({ flip: flipped(valueOf(clip, 'flip'), way) }))),
  })),
  {
    id: 'copy-framing',
    group: 'Picture',
    words: 'Copy the framing of the selected picture',
    caption: 'Copy framing',
    when: anyPicture,
    run: withPicture(({ clip }) => copyFraming(clip)),
  },
  {
    id: 'paste-framing',
    group: 'Picture',
    words: 'Paste the framing onto the selected pictures',
    caption: 'Paste framing',
    when: anyPicture,
    run: withPictures((all) => pasteFraming(all)),
  },
  {
    id: 'plain-framing',
    group: 'Picture',
    words: 'Framing back to plain: where its fit puts the picture, without keys',
    caption: 'Plain',
    when: anyPicture,
    run: withPictures((all) => setEach('Plain framing', all, () => PLAIN)),
  },
];
