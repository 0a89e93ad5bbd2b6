import type { Base, Layer, Rect, Size } from '@flimzy/core/frame';
import { BACKDROP_SPREADS, backdropSizes, spreadPlaces } from '@flimzy/stage';
import { scaleTo } from '../media/filters';
import type { SourceFacts } from '../media/source';
import { asRgba, TO_ENCODER } from './pictures';

type Backdrop = Extract<Layer, { kind: 'backdrop' }>;

/** What of a rectangle lies in a frame; null where nothing does. */
export function inFrame(rect: Rect, frame: Size): Rect | null {
  const [x, y] = [Math.max(0, rect.x), Math.max(0, rect.y)];
  const [width, height] = [Math.min(rect.x + rect.width, frame.width) - x, Math.min(rect.y + rect.height, frame.height) - y];
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

/** Filters that bring a picture to its size for the encoder, what reaches past the frame cut off, and where it lies then; null where nothing of it is seen. */
export function besideFrame(source: SourceFacts, rect: Rect, frame: Size): { filters: string[]; x: number; y: number } | null {
  const kept = inFrame(rect, frame);
  if (!kept) return null;
  return { filters: [scaleTo(source, rect.width, rect.height), ...cutTo(kept, rect), 'format=yuv420p'], x: kept.x, y: kept.y };
}

/** Leaves of a picture as large as a rectangle what is left of that. */
function cutTo({ x, y, width, height }: Rect, rect: Rect): string[] {
  return width < rect.width || height < rect.height ? [`crop=${width}:${height}:${x - rect.x}:${y - rect.y}`] : [];
}

/** Filters that bring a picture into its place for the encoder, with what stands behind it: what reaches past the frame is cut off. */
export function intoFrame(source: SourceFacts, { picture, behind }: Base, frame: Size): string[] {
  const { rect } = picture;
  const kept = inFrame(rect, frame);
  const ended = behind?.kind === 'fill' ? TO_ENCODER : ['format=yuv420p'];
  const colour = behind?.kind === 'fill' ? behind.colour.replace('#', '0x') : 'black';
  if (!kept) {
    if (behind?.kind === 'backdrop') return backdropFilters(source, behind, frame);
    return [`scale=${frame.width}:${frame.height}`, 'format=gbrp', `drawbox=color=${colour}:t=fill`, ...TO_ENCODER];
  }
  const { x, y, width, height } = kept;
  const inRgb = asRgba(source, rect.width, rect.height, 'gbrp');
  const own = [...(ended === TO_ENCODER ? inRgb : [scaleTo(source, rect.width, rect.height)]), ...cutTo(kept, rect)];
  if (width === frame.width && height === frame.height) return [...own, ...ended];
  if (behind?.kind === 'backdrop') {
    const [under, over] = [backdropFilters(source, behind, frame), [...own, ...ended]];
    const parts = ['split[behind][own]', `[behind]${under.join(',')}[under]`, `[own]${over.join(',')}[over]`];
    return [[...parts, `[under][over]overlay=${x}:${y}:format=yuv420`].join(';')];
  }
  return [...own, `pad=${frame.width}:${frame.height}:${x}:${y}:${colour}`, ...ended];
}

/** What a canvas loses of a colour on the way to a backdrop, in levels: it cuts off a third of one, or so, at each of the 15 times that it mixes. */
export const LOST = 6;

/** What {@link backdropSizes} and the stage do on small canvases: the part that covers the frame made small, spread, made large, and darkened. */
function backdropFilters(source: SourceFacts, { rect, soft, light, colourful }: Backdrop, frame: Size): string[] {
  const { first, small } = backdropSizes(soft, frame);
  const share = (n: number) => n.toFixed(6);
  const part = [frame.width / rect.width, frame.height / rect.height, -rect.x / rect.width, -rect.y / rect.height].map(share);
  const size = ({ width, height }: Size) => `scale=${width}:${height}:flags=bilinear+accurate_rnd+full_chroma_int`;
  // A colour's brightness as the canvas has it (Compositing and Blending 1, Lum), towards which less colour goes.
  const mixed = [0.3, 0.59, 0.11].map((weight) => (1 - colourful) * weight * light);
  const row = (own: number) => mixed.map((weight, i) => share(weight + (i === own ? colourful * light : 0)));
  const names = ['r', 'g', 'b'];
  const mixer = names.flatMap((to, n) => row(n).map((weight, i) => `${to}${names[i]}=${weight}`));
  return [
    `crop=iw*${part[0]}:ih*${part[1]}:iw*${part[2]}:ih*${part[3]}`,
    ...asRgba(source, first.width, first.height, 'gbrp'),
    size(small),
    ...BACKDROP_SPREADS.map(spread),
    size(first),
    `lutrgb=r=val-${LOST}:g=val-${LOST}:b=val-${LOST}`,
    `colorchannelmixer=${mixer.join(':')}`,
    `scale=${frame.width}:${frame.height}:flags=bilinear+accurate_rnd:out_color_matrix=bt709:out_range=tv`,
    'setsar=1',
    'format=yuv420p',
  ];
}

/** Each pixel becomes the mean of itself and the four `by` pixels away. */
function spread(by: number): string {
  const side = by * 2 + 1;
  const taken = spreadPlaces(by).map(({ x, y }) => (y + by) * side + x + by);
  const matrix = Array.from({ length: side * side }, (_, i) => (taken.includes(i) ? 1 : 0)).join(' ');
  return `convolution='${matrix}:${matrix}:${matrix}:${matrix}:1/5:1/5:1/5:1/5'`;
}
