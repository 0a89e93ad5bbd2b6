import { fileName } from '@flimzy/core/deliver';
import { lastShown } from '@flimzy/core/frame';
import { formatTimecode } from '@flimzy/core/time';
import Grid from 'lucide-react-native/icons/grid-3x3';
import Maximize from 'lucide-react-native/icons/maximize';
import Link2 from 'lucide-react-native/icons/link-2';
import Sliders from 'lucide-react-native/icons/sliders-vertical';
import Search from 'lucide-react-native/icons/search';
import ZoomIn from 'lucide-react-native/icons/zoom-in';
import ZoomOut from 'lucide-react-native/icons/zoom-out';
import { saveFile } from '../../look/saveFile';
import { say } from '../../look/Toast';
import { currentPiece, setZoom, useEditor } from '../editor';
import { openPanel } from '../panels';
import type { Action } from './action';

/** Draws the frame at the playhead at the size of the piece, and hands it over as a file. */
async function saveFrame(): Promise<void> {
  const { engine, playhead } = useEditor.getState();
  const piece = currentPiece();
  const picture = piece && (await engine?.still(piece, lastShown(piece, playhead), piece.format.width));
  if (!piece || !picture) return say('The frame could not be drawn.');
  const canvas = new OffscreenCanvas(picture.width, picture.height);
  canvas.getContext('2d')?.drawImage(picture, 0, 0);
  picture.close();
  const png = await canvas.convertToBlob({ type: 'image/png' });
  saveFile(png, fileName(`${piece.name} ${formatTimecode(playhead, piece.format.rate).replace(/[:.]/g, '-')}`, 'png'));
}

const zoomBy = (factor: number) => setZoom(useEditor.getState().zoom * factor);

/** How the timeline looks and behaves, and what can be opened over it. */
export const VIEW: readonly Action[] = [
  {
    id: 'zoom-in',
    group: 'View',
    words: 'Zoom in around the playhead',
    caption: 'Closer',
    icon: ZoomIn,
    key: '+',
    also: ['='],
    run: () => zoomBy(1.5),
  },
  {
    id: 'zoom-out',
    group: 'View',
    words: 'Zoom out around the playhead',
    caption: 'Wider',
    icon: ZoomOut,
    key: '-',
    run: () => zoomBy(1 / 1.5),
  },
  {
    id: 'guides',
    group: 'View',
    words: 'Guides over the picture: thirds, the middle, and where words are safe; or none',
    caption: 'Guides',
    icon: Grid,
    key: 'shift+h',
    run: () => useEditor.setState(({ guides }) => ({ guides: !guides })),
  },
  {
    id: 'save-frame',
    group: 'View',
    words: 'Save the frame at the playhead as a picture (PNG)',
    caption: 'Save frame',
    run: () => void saveFrame(),
  },
  {
    id: 'full-screen',
    group: 'View',
    words: 'The picture on the whole screen; Esc brings it back',
    caption: 'Full screen',
    icon: Maximize,
    key: 'shift+f',
    run: () => openPanel({ name: 'full-screen' }),
  },
  {
    id: 'mix',
    group: 'View',
    words: 'Mix: show the faders of the tracks, or put them away',
    caption: 'Mix',
    icon: Sliders,
    key: 'u',
    run: () => useEditor.setState(({ mixing }) => ({ mixing: !mixing })),
  },
  {
    id: 'rest',
    group: 'View',
    words: 'When an end is pulled: the rest follows, or stays',
    caption: 'Rest',
    icon: Link2,
    key: 'r',
    run: () => {
      const rest = useEditor.getState().rest === 'follow' ? 'stay' : 'follow';
      useEditor.setState({ rest });
      say(rest === 'follow' ? 'When an end is pulled, the rest follows.' : 'When an end is pulled, the rest stays where it is.');
    },
  },
  {
    id: 'reach',
    group: 'View',
    words: 'What follows: only the own track with linked clips, or all unlocked tracks',
    caption: 'Follow on',
    key: 'shift+r',
    run: () => {
      const reach = useEditor.getState().reach === 'own' ? 'all' : 'own';
      useEditor.setState({ reach });
      say(
        reach === 'own'
          ? 'What follows: clips on the same track, what is linked to them, and their captions.'
          : 'What follows: later clips on all unlocked tracks.',
      );
    },
  },
  {
    id: 'drop',
    group: 'View',
    words: 'Clips dragged onto others: make room, or cover',
    caption: 'Dropping',
    key: 'shift+d',
    run: () => {
      const drop = useEditor.getState().drop === 'insert' ? 'over' : 'insert';
      useEditor.setState({ drop });
      say(drop === 'insert' ? 'Clips dragged onto others make room between them.' : 'Clips dragged onto others cover what is there.');
    },
  },
  {
    id: 'search',
    group: 'View',
    words: 'Search every action by its words',
    caption: 'Search',
    icon: Search,
    key: 'ctrl+k',
    also: ['/'],
    run: () => openPanel({ name: 'search' }),
  },
  {
    id: 'keys',
    group: 'View',
    words: 'Show and change the keys',
    caption: 'Keys',
    key: '?',
    also: ['shift+?'],
    run: () => openPanel({ name: 'keys' }),
  },
  { id: 'gestures', group: 'View', words: 'Show the touch gestures', caption: 'Gestures', run: () => openPanel({ name: 'gestures' }) },
];
