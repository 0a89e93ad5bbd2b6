import { SHAPES, shapeOf, type Piece } from '@flimzy/core/piece';
import Frame from 'lucide-react-native/icons/frame';
import Rows2 from 'lucide-react-native/icons/rows-2';
import { say } from '../../look/Toast';
import { edit } from '../editor';
import { openPanel } from '../panels';
import { interlaced, situation, targets, type OnTrack } from '../situation';
import type { Action, Situation } from './action';
import { need } from './selected';

/** Pictures of another shape than the frame, among what an action is about. */
function ofAnotherShape(now: Situation): OnTrack[] {
  return targets(now).filter(({ clip, track }) => track.kind === 'picture' && differs(now.piece, clip.media));
}

function differs({ media, format }: Piece, id: string): boolean {
  const facts = media[id];
  return facts !== undefined && facts.width > 0 && facts.kind !== 'nest' && facts.width * format.height !== facts.height * format.width;
}

/** Sets something of those pictures to what the first of them has not. */
function toggle(values: (first: OnTrack['clip']) => Parameters<typeof edit<'set'>>[1]['values']): void {
  const now = situation();
  const found = now ? ofAnotherShape(now) : [];
  const [first] = found;
  if (!first) return need();
  edit('set', { clips: found.map(({ clip }) => clip.id), values: values(first.clip) });
}

/** How pictures lie in the frame. */
export const PICTURE: readonly Action[] = [
  {
    id: 'fit',
    group: 'Picture',
    words: 'Fill the frame, or show the whole picture',
    caption: 'Fit or fill',
    icon: Frame,
    when: (s) => s.selected.length > 0 && ofAnotherShape(s).length > 0,
    run: () => toggle((clip) => ({ fit: clip.fit === 'fill' ? 'fit' : 'fill' })),
  },
  {
    id: 'fields',
    group: 'Picture',
    words: 'Fields: interlaced material made whole, or as it was recorded',
    caption: 'Fields',
    icon: Rows2,
    when: (s) => interlaced(s).length > 0,
    run: () => openPanel({ name: 'fields' }),
  },
  {
    id: 'backdrop',
    group: 'Picture',
    words: 'Behind the whole picture: its own blur, or black',
    caption: 'Backdrop',
    when: (s) => s.selected.length > 0 && ofAnotherShape(s).some(({ clip }) => clip.fit === 'fit'),
    run: () => toggle((clip) => ({ backdrop: clip.backdrop === 'blur' ? 'black' : 'blur' })),
  },
  ...SHAPES.map((shape): Action => ({
    id: `shape-${shape.id}`,
    group: 'Picture',
    words: `Make the piece ${shape.name.toLowerCase()}, ${shape.ratio}: pictures keep their focus points in frame`,
    caption: shape.name,
    when: (s) => shapeOf(s.piece.format)?.id !== shape.id,
    run: () => {
      const { width, height } = shape;
      if (edit('shape', { width, height })) say(`The piece is ${shape.name.toLowerCase()} now, ${width} × ${height}.`);
    },
  })),
];
