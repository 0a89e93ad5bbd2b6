import { createCanvas } from '@napi-rs/canvas';
import { inShape, partsFor, type BoxOf, type DeliverySettings, type PartOfPiece } from '@flimzy/core/deliver';
import { pieceLength, type Piece } from '@flimzy/core/piece';
import { boxOfParts } from '@flimzy/stage';
import { useFontsOf } from './fonts';

/** Words are measured with what they are drawn with. */
export const boxOf: BoxOf = (parts, frame) => {
  useFontsOf(parts);
  return boxOfParts(createCanvas(8, 8).getContext('2d'), parts, frame);
};

/** A piece as it is sent: in its shape, and which stretch of it. */
export interface Sent {
  piece: Piece;
  /** All parts in which it goes out, and the one that this is. */
  parts: PartOfPiece[];
  part: PartOfPiece;
}

/** What of a piece a delivery shows. @throws RangeError when there is no such part */
export function sent(piece: Piece, { size, format, part }: DeliverySettings): Sent {
  const shaped = size ? inShape(piece, size, format, boxOf) : piece;
  const length = pieceLength(piece);
  const parts = part === null ? [{ from: 0, to: length }] : partsFor(length, format, piece.format);
  const mine = parts[part ?? 0];
  if (!mine) throw new RangeError(`there is no part ${part}`);
  return { piece: shaped, parts, part: mine };
}
