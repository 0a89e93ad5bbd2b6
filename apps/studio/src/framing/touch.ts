import { safeAreas } from '@flimzy/core/deliver';
import {
  croppedTo,
  hold,
  isOn,
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
import { partsOf, valueOf, type CurveName } from '@flimzy/core/properties';
import { chosenOf, formatsNow } from '../open/formats';
import { momentOf, picturesOf, sizeOf, type Framed } from '../open/framing';
import { placeOfPart, seenPlace } from './seenPlace';

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
  /** The part of a title that is held; null: the whole picture. */
  part: number | null;
}

/** The picture among some clips that is seen at a time. */
export const framedAt = (piece: Piece, ids: readonly string[], time: number): Framed | undefined =>
  picturesOf(piece, ids).find(({ clip }) => clip.start <= time && time < clipEnd(clip));

/** Takes hold of a clip's picture, or of one part of its title. */
export function take(piece: Piece, framed: Framed, playhead: number, grip: Grip, began: Point[], per: number, part: number | null): Hand {
  const held: Held = hold(framed.clip, sizeOf(piece, framed.media), piece.format, momentOf(framed.clip, playhead));
  const placed = part === null ? null : placeOfPart(piece, framed, playhead, part);
  if (framed.media.kind === 'overlay') Object.assign(held, { loose: true, placed: placed ?? seenPlace(piece, framed, playhead) });
  return { framed, held, grip, began, lines: linesAround(piece, framed.clip, playhead), per, part: placed ? part : null };
}

/** The uppermost part of a clip's title at a point of the frame; null where there is none, or the title has only one. */
export function partAt(piece: Piece, framed: Framed, playhead: number, point: Point): number | null {
  for (let n = partsOf(valueOf(framed.clip, 'overlay')).length - 1; n >= 0; n -= 1) {
    const placed = placeOfPart(piece, framed, playhead, n);
    if (placed && isOn(placed, point)) return n;
  }
  return null;
}

/** The lines of the frame, and the edges of the other pictures that are seen. */
function linesAround(piece: Piece, clip: Clip, playhead: number): Hand['lines'] {
  const safe = safeAreas(chosenOf(piece, formatsNow()), piece.format);
  const lines = linesOf(
    piece.format,
    safe.map(({ area }) => area),
  );
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
    const { figures } = movedBy(held, { x: moved.x - start.x, y: moved.y - start.y }, lines, 0);
    // What grows about its own middle is moved for that, too.
    const along = (axis: 'x' | 'y') =>
      size[axis] === undefined ? {} : { [axis]: size[axis] + (figures[axis] ?? held.figures[axis]) - held.figures[axis] };
    return plain({ ...figures, ...size, ...along('x'), ...along('y') });
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
