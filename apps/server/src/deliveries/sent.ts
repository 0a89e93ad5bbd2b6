import { createCanvas } from '@napi-rs/canvas';
import {
  asSent,
  FILES,
  fileNameFrom,
  nameWords,
  partSent,
  type BoxOf,
  type DeliverySettings,
  type PartOfPiece,
} from '@flimzy/core/deliver';
import { findTrack, type Piece } from '@flimzy/core/piece';
import { boxOfParts } from '@flimzy/stage';
import { ProblemError } from '../http/problem';
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
export function sent(piece: Piece, settings: DeliverySettings): Sent {
  const mine = partSent(piece, settings);
  if (!mine) throw new RangeError(`there is no part ${settings.part}`);
  return { piece: asSent(piece, settings, boxOf), ...mine };
}

/** The kind of file that a delivery has. */
export const kindOf = (settings: Pick<DeliverySettings, 'file'> | null) => FILES[settings?.file ?? 'mp4'];

/** How long what is sent is, in flicks, and the name of its file. @throws ProblemError when it cannot be made so */
export function described(piece: Piece, settings: DeliverySettings, pattern: string): { length: number; name: string } {
  const { rate, track, part } = settings;
  if (rate.num * piece.format.rate.den > piece.format.rate.num * rate.den)
    throw new ProblemError('bad-request', 'A file cannot have more frames a second than the piece.');
  const on = track === null ? null : findTrack(piece, track);
  if (track !== null && (!on || on.inside !== null)) throw new ProblemError('not-found', 'That track is not there any more.');
  const mine = partSent(piece, settings);
  if (!mine) throw new ProblemError('bad-request', `There is no part ${(part ?? 0) + 1}.`);
  const words = nameWords(piece.name, settings, mine.parts.length, on?.track.name);
  return { length: mine.part.to - mine.part.from, name: fileNameFrom(pattern, words, kindOf(settings).extension) };
}
