import type { Rect } from '../frame';
import { isRead, sameShape, type Clip, type Piece, type PieceFormat, type Timeline } from '../piece';
import { curveOf, SCALE_MAX, SHAPE_LARGEST, shapeKey, TEXT_LARGEST, valueOf, type InShape, type Overlay, type Part } from '../properties';
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

/** Where each of some formats leaves room for words in a frame of its shape, in pixels of that; formats that leave the same room as one. */
export function safeAreas(formats: readonly PlatformFormat[], frame: Size): { name: string; area: Rect }[] {
  const areas = new Map<string, { name: string; area: Rect }>();
  for (const format of formats) {
    const [size] = format.sizes;
    if (!size || !sameShape(size, frame)) continue;
    const area = safeArea(format, frame);
    const key = JSON.stringify(area);
    const known = areas.get(key);
    areas.set(key, { area, name: known ? `${known.name}, ${format.name}` : format.name });
  }
  return [...areas.values()];
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

const within = (value: number, least: number, most: number) => Math.max(least, Math.min(most, value));

/** A title moved by shares of the frame, and so many times as large about its middle. */
function titleAs(overlay: Overlay, { across, down, scale }: InShape, frame: Size, boxOf: BoxOf): Overlay {
  const box = boxOf(overlay.parts, frame);
  const [cx, cy] = [(box.x + box.width / 2) / frame.width, (box.y + box.height / 2) / frame.height];
  return {
    parts: overlay.parts.map((part): Part => {
      const placed = {
        x: cx + (part.x - cx) * scale + across,
        y: cy + (part.y - cy) * scale + down,
        size: within(part.size * scale, 0.01, part.kind === 'text' ? TEXT_LARGEST : SHAPE_LARGEST),
      };
      return part.kind === 'text' ? { ...part, ...placed, width: within(part.width * scale, 0.05, 4) } : { ...part, ...placed };
    }),
  };
}

/**
 * A picture as a person wants it in one shape. One that fills the frame shows another part of itself, so that no edge is uncovered; any
 * other is moved.
 */
function pictureAs(clip: Clip, { across, down, scale }: InShape, picture: Size, frame: Size): Clip {
  const larger = curveOf(valueOf(clip, 'scale'), (value) => within(value * scale, 0.01, SCALE_MAX));
  if (clip.fit !== 'fill') {
    const by = (name: 'x' | 'y', share: number) => curveOf(valueOf(clip, name), (value) => within(value + share, -4, 4));
    return { ...clip, scale: larger, x: by('x', across), y: by('y', down) };
  }
  // How many frames wide and high it is: so much of it can be moved through the frame.
  const ratio = (picture.width * frame.height) / (picture.height * frame.width);
  const most = (typeof larger === 'number' ? larger : Math.max(...larger.keys.map(({ value }) => value))) || 1;
  const by = (name: 'focusX' | 'focusY', share: number, long: number) => {
    const edge = Math.min(0.5, 0.5 / Math.max(1, long));
    return curveOf(valueOf(clip, name), (value) => within(within(value, edge, 1 - edge) - share / Math.max(1, long), 0, 1));
  };
  return {
    ...clip,
    scale: larger,
    focusX: by('focusX', across, Math.max(1, ratio) * most),
    focusY: by('focusY', down, Math.max(1, 1 / ratio) * most),
  };
}

/**
 * A piece in the shape and size in which it is sent. Pictures keep their focus in the frame by themselves; in another shape than the
 * piece's own, titles are moved to where the platform lays nothing over them, and what a person wants otherwise there is done.
 */
export function inShape(piece: Piece, size: Size, format: Pick<PlatformFormat, 'safe'> | null, boxOf: BoxOf): Piece {
  const { width, height } = size;
  if (width === piece.format.width && height === piece.format.height) return piece;
  const shaped: Piece = { ...piece, format: { ...piece.format, width, height } };
  if (!format || sameShape(size, piece.format)) return shaped;
  const area = safeArea(format, size);
  const key = shapeKey(size);
  const settled = (clip: Clip): Clip => {
    const { overlay, inShapes } = clip;
    const mine = inShapes && inShapes !== 'none' ? inShapes[key] : undefined;
    if (!overlay || overlay === 'none') return mine ? pictureAs(clip, mine, piece.media[clip.media] ?? size, size) : clip;
    const moved = isRead(clip) ? movedInto(overlay, area, size, boxOf) : overlay;
    const wanted = mine ? titleAs(moved, mine, size, boxOf) : moved;
    return wanted === overlay ? clip : { ...clip, overlay: wanted };
  };
  const settle = <T extends Timeline>(timeline: T): T => ({
    ...timeline,
    tracks: timeline.tracks.map((track) => ({ ...track, clips: track.clips.map(settled) })),
  });
  const nests = piece.nests && Object.fromEntries(Object.entries(piece.nests).map(([id, nest]) => [id, settle(nest)]));
  return { ...settle(shaped), ...(nests ? { nests } : {}) };
}
