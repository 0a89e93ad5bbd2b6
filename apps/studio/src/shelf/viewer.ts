import { frameLength, RATES, sameRate, toGridBelow, type Rate } from '@flimzy/core/time';
import { newPiece, scaledSize, type MediaFacts, type Piece } from '@flimzy/core/piece';

/** A piece of one clip that shows an item from start to end, in the item's own size and, where there is such, its own rate. */
export function pieceOfItem(media: MediaFacts): Piece {
  const rate: Rate = RATES.find((r) => media.rate && sameRate(r, media.rate)) ?? { num: 30, den: 1 };
  const size = media.width > 0 ? scaledSize(media, 1) : { width: 640, height: 360 };
  const piece = newPiece('look', media.name, { ...size, rate });
  const length = media.kind === 'photo' ? toGridBelow(705_600_000, rate) : Math.max(toGridBelow(media.length, rate), frameLength(rate));
  const track = media.width > 0 ? 'main' : 'sound-1';
  piece.media[media.id] = media;
  piece.tracks
    .find((t) => t.id === track)
    ?.clips.push({ id: 'look', media: media.id, name: media.name, start: 0, length, from: 0, fit: 'fit', backdrop: 'black', level: 0 });
  return piece;
}
