import { createCanvas } from '@napi-rs/canvas';
import { fileNameFrom, inShape, partsFor, type BoxOf, type DeliverySettings, type PartOfPiece } from '@flimzy/core/deliver';
import { findTrack, pieceLength, type Piece } from '@flimzy/core/piece';
import { boxOfParts } from '@flimzy/stage';
import { ProblemError } from '../http/problem';
import { useFontsOf } from './fonts';
import { extensionOf } from './joining';

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

/** How long what is sent is, in flicks, and the name of its file. @throws ProblemError when it cannot be made so */
export function described(piece: Piece, settings: DeliverySettings, pattern: string): { length: number; name: string } {
  const { format, size, rate, track, part } = settings;
  if (rate.num * piece.format.rate.den > piece.format.rate.num * rate.den)
    throw new ProblemError('bad-request', 'A file cannot have more frames a second than the piece.');
  const on = track === null ? null : findTrack(piece, track);
  if (track !== null && (!on || on.inside !== null)) throw new ProblemError('not-found', 'That track is not there any more.');
  const all = partsFor(pieceLength(piece), format, piece.format);
  if (part !== null && !all[part]) throw new ProblemError('bad-request', `There is no part ${part + 1}.`);
  const words = {
    piece: piece.name,
    format: format?.name ?? '',
    size: size ? `${size.width}x${size.height}` : '',
    date: new Date().toISOString().slice(0, 10),
    part: part === null ? '' : `${part + 1} of ${all.length}`,
    track: on?.track.name ?? '',
  };
  const stretch = sent(piece, { ...settings, size: null }).part;
  return { length: stretch.to - stretch.from, name: fileNameFrom(pattern, words, extensionOf(settings)) };
}
