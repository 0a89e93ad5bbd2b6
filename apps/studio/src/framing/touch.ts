import {
  croppedTo,
  hold,
  linesOf,
  boxOf,
  middleOf,
  movedBy,
  scaledAndTurned,
  type Handled,
  type Held,
  type Side,
} from '@flimzy/core/frame';
import { clipAt, clipEnd, seenTracks, type Clip, type Piece } from '@flimzy/core/piece';
import type { CurveName } from '@flimzy/core/properties';
import { momentOf, picturesOf, sizeOf, type Framed } from '../open/framing';
import { seenPlace } from './seenPlace';

/** What a finger took hold of: the picture itself, a corner, a side, or what turns it. */
export type Grip = 'body' | 'corner' | 'turn' | Side;

interface Point {
  x: number;
  y: number;
}

/** How near a picture catches on a line, in pixels of the screen. */
const CATCH = 7;

/** A hand on a picture: what was taken hold of, and where the fingers were then, in pixels of the piece. */
export interface Hand {
  framed: Framed;
  held: Held;
  grip: Grip;
  began: Point[];
  lines: { x: number[]; y: number[] };
  /** Pixels of the piece for one of the screen. */
  per: number;
}

/** The picture among some clips that is seen at a time. */
export const framedAt = (piece: Piece, ids: readonly string[], time: number): Framed | undefined =>
  picturesOf(piece, ids).find(({ clip }) => clip.start <= time && time < clipEnd(clip));

/** Takes hold of a clip's picture. */
export function take(piece: Piece, framed: Framed, playhead: number, grip: Grip, began: Point[], per: number): Hand {
  const held: Held = hold(framed.clip, sizeOf(piece, framed.media), piece.format, momentOf(framed.clip, playhead));
  if (framed.media.kind === 'overlay') Object.assign(held, { loose: true, placed: seenPlace(piece, framed, playhead) });
  return { framed, held, grip, began, lines: linesAround(piece, framed.clip, playhead), per };
}

/** The lines of the frame, and the edges of the other pictures that are seen. */
function linesAround(piece: Piece, clip: Clip, playhead: number): Hand['lines'] {
  const lines = linesOf(piece.format);
  for (const { framed } of seenAt(piece, playhead)) {
    if (framed.clip.id === clip.id) continue;
    const box = boxOf(seenPlace(piece, framed, playhead));
    lines.x.push(box.left, box.right);
    lines.y.push(box.top, box.bottom);
  }
  return lines;
}

/** The pictures seen at a time, the uppermost first, with where they lie. */
export function seenAt(piece: Piece, time: number) {
  return seenTracks(piece)
    .flatMap((track) => {
      const clip = clipAt(track, time);
      const [framed] = clip ? picturesOf(piece, [clip.id]) : [];
      if (!framed) return [];
      return [{ framed, placed: seenPlace(piece, framed, time) }];
    })
    .reverse();
}

const away = (one: Point, other: Point) => Math.hypot(one.x - other.x, one.y - other.y);
const angle = (from: Point, to: Point) => (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
/** Degrees the shorter way round. */
const short = (degrees: number) => ((((degrees + 180) % 360) + 360) % 360) - 180;
const between = (one: Point, other: Point): Point => ({ x: (one.x + other.x) / 2, y: (one.y + other.y) / 2 });

/** What the picture would be with the fingers where they are now. `free`: it catches on nothing. */
export function handled(hand: Hand, now: Point[], free: boolean): Handled {
  const { held, grip, began, lines, per } = hand;
  const [first, second] = now as [Point, Point?];
  const [from, other] = began as [Point, Point?];
  const reach = free ? 0 : CATCH * per;
  const middle = middleOf(held);
  const plain = (figures: Partial<Record<CurveName, number>>): Handled => ({ figures, caught: { x: null, y: null } });
  if (second && other) {
    const moved = between(first, second);
    const start = between(from, other);
    const turned = short(angle(first, second) - angle(from, other));
    const size = scaledAndTurned(held, away(first, second) / Math.max(1, away(from, other)), Math.abs(turned) < 3 ? 0 : turned, !free);
    return plain({ ...movedBy(held, { x: moved.x - start.x, y: moved.y - start.y }, lines, 0).figures, ...size });
  }
  switch (grip) {
    case 'body':
      return movedBy(held, { x: first.x - from.x, y: first.y - from.y }, lines, reach);
    case 'corner':
      return plain(scaledAndTurned(held, away(first, middle) / Math.max(1, away(from, middle)), 0, !free));
    case 'turn':
      return plain(scaledAndTurned(held, 1, short(angle(middle, first) - angle(middle, from)), !free));
    default:
      return plain(croppedTo(held, grip, first, !free));
  }
}
