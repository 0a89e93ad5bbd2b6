import { pieceLength, type Piece, type PieceFormat } from '../piece';
import { frameLength, fromSeconds, toGridBelow, type Flicks } from '../time';
import type { PlatformFormat } from './platform';
import type { DeliverySettings } from './settings';

/** A stretch of a piece that goes out as a file of its own, in flicks on frames of the piece. */
export interface PartOfPiece {
  from: Flicks;
  to: Flicks;
}

/**
 * The parts in which a piece goes out: one, or as many as a format's longest part makes of it. Where the last would be shorter than the
 * format takes, it shares evenly with the one before.
 */
export function partsFor(
  length: Flicks,
  format: Pick<PlatformFormat, 'part' | 'length'> | null,
  { rate }: Pick<PieceFormat, 'rate'>,
): PartOfPiece[] {
  const frame = frameLength(rate);
  const most = format?.part ? Math.max(frame, toGridBelow(fromSeconds(format.part), rate)) : length;
  const parts: PartOfPiece[] = [];
  for (let from = 0; from < length; from += most) parts.push({ from, to: Math.min(length, from + most) });
  const [before, last] = parts.slice(-2);
  if (!format || !before || !last) return parts;
  const [{ from: first }, { from, to: end }] = [before, last];
  if (end - from < fromSeconds(format.length.least)) {
    const middle = first + Math.round((end - first) / 2 / frame) * frame;
    before.to = middle;
    last.from = middle;
  }
  return parts;
}

/** All parts in which a piece goes out with some settings, and the one that they make; null where there is no such part. */
export function partSent(
  piece: Piece,
  { format, part }: Pick<DeliverySettings, 'format' | 'part'>,
): { parts: PartOfPiece[]; part: PartOfPiece } | null {
  const length = pieceLength(piece);
  const parts = part === null ? [{ from: 0, to: length }] : partsFor(length, format, piece.format);
  const mine = parts[part ?? 0];
  return mine ? { parts, part: mine } : null;
}
