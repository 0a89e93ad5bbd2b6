import type { Rect } from '../frame';
import { sameShape, type Clip, type Piece, type PieceFormat, type Timeline } from '../piece';
import { readingTime, type Overlay, type Part } from '../properties';
import type { PlatformFormat } from './platform';

type Size = Pick<PieceFormat, 'width' | 'height'>;

/** Around what parts of a title draw in a frame, in its pixels: `boxOfParts` of the stage, with what measures words there. */
export type BoxOf = (parts: readonly Part[], frame: Size) => Rect;

/** Where words are free of what the platform lays over the picture, in pixels of a frame. */
export function safeArea({ safe }: Pick<PlatformFormat, 'safe'>, { width, height }: Size): Rect {
  return {
    x: safe.left * width,
    y: safe.top * height,
    width: (1 - safe.left - safe.right) * width,
    height: (1 - safe.top - safe.bottom) * height,
  };
}

/** Half a pixel more or less is no matter. */
const LITTLE = 0.5;

export const isWithin = (box: Rect, area: Rect): boolean =>
  box.x >= area.x - LITTLE &&
  box.y >= area.y - LITTLE &&
  box.x + box.width <= area.x + area.width + LITTLE &&
  box.y + box.height <= area.y + area.height + LITTLE;

/** A title as a whole moved as little as it takes into an area (pixels of the frame), and made smaller only where it is larger than that. */
export function movedInto(overlay: Overlay, area: Rect, frame: Size, boxOf: BoxOf): Overlay {
  const box = boxOf(overlay.parts, frame);
  if (isWithin(box, area) || !(box.width > 0 && box.height > 0)) return overlay;
  const times = Math.min(1, area.width / box.width, area.height / box.height);
  const [cx, cy] = [(box.x + box.width / 2) / frame.width, (box.y + box.height / 2) / frame.height];
  const smaller = overlay.parts.map((part): Part => {
    if (times === 1) return part;
    const placed = { x: cx + (part.x - cx) * times, y: cy + (part.y - cy) * times, size: Math.max(0.01, part.size * times) };
    return part.kind === 'text' ? { ...part, ...placed, width: Math.max(0.05, part.width * times) } : { ...part, ...placed };
  });
  const now = times === 1 ? box : boxOf(smaller, frame);
  const into = (at: number, long: number, from: number, room: number) =>
    long > room ? from + (room - long) / 2 - at : Math.max(from, Math.min(at, from + room - long)) - at;
  const [dx, dy] = [into(now.x, now.width, area.x, area.width) / frame.width, into(now.y, now.height, area.y, area.height) / frame.height];
  return { parts: smaller.map((part) => ({ ...part, x: part.x + dx, y: part.y + dy })) };
}

/** Whether a clip is a title that is to be read. */
export const isRead = (clip: Clip): boolean => readingTime(clip.overlay ?? 'none') > 0;

/**
 * A piece in the shape and size in which it is sent. Pictures keep their focus in the frame by themselves; in another shape than the
 * piece's own, titles are moved to where the platform lays nothing over them.
 */
export function inShape(piece: Piece, size: Size, format: Pick<PlatformFormat, 'safe'> | null, boxOf: BoxOf): Piece {
  const { width, height } = size;
  if (width === piece.format.width && height === piece.format.height) return piece;
  const shaped: Piece = { ...piece, format: { ...piece.format, width, height } };
  if (!format || sameShape(size, piece.format)) return shaped;
  const area = safeArea(format, size);
  const settled = (clip: Clip): Clip => {
    const { overlay } = clip;
    if (!isRead(clip) || !overlay || overlay === 'none') return clip;
    const moved = movedInto(overlay, area, size, boxOf);
    return moved === overlay ? clip : { ...clip, overlay: moved };
  };
  const within = <T extends Timeline>(timeline: T): T => ({
    ...timeline,
    tracks: timeline.tracks.map((track) => ({ ...track, clips: track.clips.map(settled) })),
  });
  const nests = piece.nests && Object.fromEntries(Object.entries(piece.nests).map(([id, nest]) => [id, within(nest)]));
  return { ...within(shaped), ...(nests ? { nests } : {}) };
}
