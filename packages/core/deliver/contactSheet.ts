import { pieceLength, seenTracks, type Piece } from '../piece';
import { frameLength, fromSeconds, toGridBelow, type Flicks } from '../time';

/** Which frames stand on a contact sheet: the middle of every clip of the main picture track, or one every so many seconds. */
export type SheetWish = { by: 'clip' } | { by: 'seconds'; seconds: number };

/** A sheet has at most so many frames; a longer piece has fewer, evenly. */
export const SHEET_MOST = 400;

/** One frame of a contact sheet. */
export interface SheetFrame {
  /** Flicks, on a frame of the piece. */
  time: Flicks;
  /** The name of the clip; empty where frames go by seconds. */
  name: string;
}

/** The frames of a contact sheet, in order. */
export function sheetFrames(piece: Piece, wish: SheetWish): SheetFrame[] {
  const { rate } = piece.format;
  const length = pieceLength(piece);
  const last = Math.max(0, length - frameLength(rate));
  const all =
    wish.by === 'clip'
      ? (seenTracks(piece)[0]?.clips ?? []).map(({ start, length: long, name }) => ({
          time: toGridBelow(start + Math.floor(long / 2), rate),
          name,
        }))
      : Array.from({ length: Math.ceil(length / fromSeconds(wish.seconds)) }, (_, n) => ({
          time: Math.min(last, toGridBelow(n * fromSeconds(wish.seconds), rate)),
          name: '',
        }));
  if (all.length <= SHEET_MOST) return all;
  return Array.from({ length: SHEET_MOST }, (_, n) => all[Math.floor((n * all.length) / SHEET_MOST)] as SheetFrame);
}
