import { cuesOf, withoutCaptions, type Cue, type Piece } from '../piece';
import { inShape, type BoxOf } from './inShape';
import { partSent } from './parts';
import type { DeliverySettings } from './settings';

/** What becomes of captions: in files made before it could be chosen, they are drawn as everything is. */
export const captionsIn = ({ captions = 'burned in' }: Pick<DeliverySettings, 'captions'>) => captions;

/** A piece as the file of some settings shows it: in its shape, with its captions or without. */
export function asSent(piece: Piece, settings: Pick<DeliverySettings, 'size' | 'format' | 'captions'>, boxOf: BoxOf): Piece {
  const { size, format } = settings;
  const shaped = size ? inShape(piece, size, format, boxOf) : piece;
  return captionsIn(settings) === 'burned in' ? shaped : withoutCaptions(shaped);
}

/** The captions that go beside a file, with times from its own beginning; none where they are in the picture or left out. */
export function cuesBeside(piece: Piece, settings: DeliverySettings): Cue[] {
  const part = partSent(piece, settings)?.part;
  if (captionsIn(settings) !== 'beside' || !part) return [];
  return cuesOf(piece)
    .map(({ from, to, text }) => ({ from: Math.max(0, from - part.from), to: Math.min(to, part.to) - part.from, text }))
    .filter(({ from, to }) => to > from);
}
