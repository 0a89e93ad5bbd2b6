import {
  cornersOf,
  isLaid,
  type FrameDescription,
  type Layer,
  type Placed,
  type PictureRef,
  type Rect,
  type Size,
} from '@flimzy/core/frame';
import type { DrawContext, Scratch, Seen } from './context';
import { drawEffects } from './effects';
import { applyMask } from './masks';
import { drawOverlay } from './overlay';

/** Longest side of the canvas in which a backdrop is blurred half way, in pixels: the blur comes from scaling it up again. */
const BACKDROP_SIDE = 48;

/** Pixels of the small canvas by which it is spread in every direction, pass by pass: without it the steps of its pixels would be seen. */
export const BACKDROP_SPREADS = [1, 2, 1] as const;

/** How many times as small that is where it is as soft as can be, half way from there. */
const SOFTER = 2 ** 1.5;

/**
 * Draws one frame. The only place where pixels of a piece are decided: preview, thumbnails and export all call it.
 *
 * @param scale output pixels per pixel of the piece: 1 for the export, less for a preview
 * @param pictureOf the decoded picture for a reference, or null when it is not there (that layer is left out)
 * @param open what is not drawn is left open instead of black: for what is laid over something else
 */
export function drawFrame<Image>(
  context: DrawContext<Image>,
  frame: FrameDescription,
  scale: number,
  pictureOf: (picture: PictureRef) => Seen<Image> | null,
  scratch: Scratch<Image>,
  open = false,
): void {
  const width = Math.round(frame.width * scale);
  const height = Math.round(frame.height * scale);
  context.save();
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.globalAlpha = 1;
  context.imageSmoothingEnabled = true;
  context.fillStyle = '#000000';
  if (open) context.clearRect(0, 0, width, height);
  else context.fillRect(0, 0, width, height);
  drawLayers(context, frame.layers, { frame, scale, width, height, pictureOf, scratch }, 0);
  context.restore();
}

/** What all layers of a frame are drawn with. */
interface Drawing<Image> {
  /** Size of the frame in pixels of the piece. */
  frame: Size;
  scale: number;
  /** Size of the frame in output pixels. */
  width: number;
  height: number;
  pictureOf: (picture: PictureRef) => Seen<Image> | null;
  scratch: Scratch<Image>;
}

function drawLayers<Image>(context: DrawContext<Image>, layers: readonly Layer[], drawing: Drawing<Image>, depth: number): void {
  for (const layer of layers) {
    if (layer.kind === 'group') drawGroup(context, layer, drawing, depth);
    else if (layer.kind === 'fill') drawFill(context, layer, drawing);
    else if (layer.kind === 'overlay') drawTitle(context, layer, drawing);
    else {
      const seen = drawing.pictureOf(layer.picture);
      if (seen === null) continue;
      if (layer.kind === 'backdrop') drawBackdrop(context, layer, seen.image, drawing);
      else {
        context.globalAlpha = layer.opacity;
        drawPlaced(context, seen, layer, drawing.scale);
        context.globalAlpha = 1;
      }
    }
  }
}

/** Draws layers on a canvas of their own, and that as one picture. */
function drawGroup<Image>(
  context: DrawContext<Image>,
  { layers, opacity, placed, mask, soft, effects, seed = 0 }: Extract<Layer, { kind: 'group' }>,
  drawing: Drawing<Image>,
  depth: number,
): void {
  const { width, height } = drawing;
  const own = drawing.scratch.layer(depth, width, height);
  own.context.clearRect(0, 0, width, height);
  drawLayers(own.context, layers, drawing, depth + 1);
  if (soft) soften(own, soft, drawing);
  if (effects)
    drawEffects(own, effects, seed, {
      ...drawing,
      long: longSide(drawing.frame),
      drawn: soft ? { x: 0, y: 0, width, height } : drawnPart(layers, drawing),
      soften: (canvas, by) => soften(canvas, by, drawing),
    });
  if (mask) applyMask(own.context, mask, drawing);
  context.globalAlpha = opacity;
  if (placed) drawPlaced(context, { image: own.image, width, height }, placed, drawing.scale);
  else drawInto(context, own.image, { x: 0, y: 0, width, height });
  context.globalAlpha = 1;
}

/** Draws a title in the frame of the piece, where that is placed, over what is there. @param scale output pixels per pixel of the piece */
export function drawTitle<Image>(
  context: DrawContext<Image>,
  layer: Extract<Layer, { kind: 'overlay' }>,
  { frame, scale }: { frame: Size; scale: number },
): void {
  const { rect } = layer;
  const times = (rect.width / frame.width) * scale;
  const { cos, sin, mx, my } = turned(layer);
  const [a, b, c, d] = [cos * mx * times, sin * mx * times, -sin * my * times, cos * my * times];
  const [cx, cy] = [(rect.x + rect.width / 2) * scale, (rect.y + rect.height / 2) * scale];
  const [middle, high] = [frame.width / 2, frame.height / 2];
  context.setTransform(a, b, c, d, cx - a * middle - c * high, cy - b * middle - d * high);
  drawOverlay(context, layer, { width: frame.width, height: frame.height, scale: times });
  context.setTransform(1, 0, 0, 1, 0, 0);
}

/** What a placed thing is turned and mirrored by. */
function turned({ turn = 0, flip }: Placed): { cos: number; sin: number; mx: number; my: number } {
  const angle = (turn * Math.PI) / 180;
  return { cos: Math.cos(angle), sin: Math.sin(angle), mx: flip?.across ? -1 : 1, my: flip?.down ? -1 : 1 };
}

/** Where in a frame anything can be drawn by layers, in whole output pixels: pictures by themselves may leave most of it open. */
function drawnPart<Image>(layers: readonly Layer[], { scale, width, height }: Drawing<Image>): Rect {
  let [left, top, right, low] = [width, height, 0, 0];
  for (const layer of layers) {
    if (layer.kind !== 'picture') return { x: 0, y: 0, width, height };
    for (const { x, y } of cornersOf({ ...layer, rect: scaled(layer.rect, scale) })) {
      [left, right] = [Math.min(left, Math.floor(x) - 1), Math.max(right, Math.ceil(x) + 1)];
      [top, low] = [Math.min(top, Math.floor(y) - 1), Math.max(low, Math.ceil(y) + 1)];
    }
  }
  [left, top] = [Math.max(0, left), Math.max(0, top)];
  return { x: left, y: top, width: Math.max(0, Math.min(width, right) - left), height: Math.max(0, Math.min(height, low) - top) };
}

const longSide = ({ width, height }: Size) => Math.max(width, height);

/** One colour all over, or two from top to bottom. */
function drawFill<Image>(
  context: DrawContext<Image>,
  { colour, to, opacity = 1 }: Extract<Layer, { kind: 'fill' }>,
  { width, height }: Drawing<Image>,
): void {
  context.globalAlpha = opacity;
  context.fillStyle = colour;
  if (to !== undefined) {
    const gradient = context.createLinearGradient(0, 0, 0, height);
    gradient.addColorStop(0, colour);
    gradient.addColorStop(1, to);
    context.fillStyle = gradient;
  }
  context.fillRect(0, 0, width, height);
  context.globalAlpha = 1;
}

/** How many times smaller a frame is drawn, and made large again, where it is out of focus altogether. */
const SOFTEST = 24;

/** The canvases in which that is done. */
const SOFT_LAYERS = 24;

/** The canvases by which a frame is taken out of focus: half way to the smallest, and that one. */
export function softSizes(soft: number, { width, height }: Size): { half: Size; small: Size } {
  const down = 1 + (SOFTEST - 1) * Math.min(1, soft) ** 2;
  const small = { width: Math.max(2, Math.round(width / down)), height: Math.max(2, Math.round(height / down)) };
  const step = Math.sqrt(down);
  const half = { width: Math.max(small.width, Math.round(width / step)), height: Math.max(small.height, Math.round(height / step)) };
  return { half, small };
}

/** Takes what is drawn out of focus. */
function soften<Image>({ context, image }: { context: DrawContext<Image>; image: Image }, soft: number, drawing: Drawing<Image>): void {
  const { width, height, scratch } = drawing;
  const {
    half: { width: mw, height: mh },
    small: { width: w, height: h },
  } = softSizes(soft, drawing);
  // Canvases of their own, past those of groups within groups, since what is not drawn must stay open.
  const clean = (n: number, across: number, high: number) => {
    const made = scratch.layer(n, across, high);
    made.context.clearRect(0, 0, across, high);
    return made;
  };
  const [half, small, spread] = [clean(SOFT_LAYERS, mw, mh), clean(SOFT_LAYERS + 1, w, h), clean(SOFT_LAYERS + 2, w, h)];
  drawInto(half.context, image, { x: 0, y: 0, width: mw, height: mh });
  drawInto(small.context, half.image, { x: 0, y: 0, width: w, height: h });
  drawSpread(spread.context, small.image, 1, { width: w, height: h });
  context.clearRect(0, 0, width, height);
  drawInto(context, spread.image, { x: 0, y: 0, width, height });
}

/** Draws something where it is placed: cut, mirrored and turned there. */
function drawPlaced<Image>(context: DrawContext<Image>, { image, width, height }: Seen<Image>, placed: Placed, scale: number): void {
  const rect = scaled(placed.rect, scale);
  if (isLaid(placed)) return drawInto(context, image, rect);
  const { left, top, right, bottom } = placed.crop ?? { left: 0, top: 0, right: 0, bottom: 0 };
  const { cos, sin, mx, my } = turned(placed);
  // About the middle of the whole picture, so that cutting an edge leaves the rest where it is.
  context.setTransform(cos * mx, sin * mx, -sin * my, cos * my, rect.x + rect.width / 2, rect.y + rect.height / 2);
  const [kept, high] = [1 - left - right, 1 - top - bottom];
  context.drawImage(
    image,
    left * width,
    top * height,
    kept * width,
    high * height,
    (left - 0.5) * rect.width,
    (top - 0.5) * rect.height,
    kept * rect.width,
    high * rect.height,
  );
  context.setTransform(1, 0, 0, 1, 0, 0);
}

/** The canvases in which a backdrop becomes soft: how many times as small as the frame the first is, and a quarter of that. */
export function backdropSizes(soft: number, { width, height }: Size): { down: number; first: Size; small: Size } {
  const down = (BACKDROP_SIDE * SOFTER ** (1 - 2 * soft) * 4) / Math.max(width, height);
  const first = { width: Math.max(4, Math.round(width * down)), height: Math.max(4, Math.round(height * down)) };
  return { down, first, small: { width: Math.max(2, Math.round(first.width / 4)), height: Math.max(2, Math.round(first.height / 4)) } };
}

/**
 * Blur by scaling down, spreading, and scaling up again, in steps that bilinear smoothing handles alike everywhere: the same on
 * every canvas, and fast (a filter is neither).
 */
function drawBackdrop<Image>(
  context: DrawContext<Image>,
  { rect, soft, light, colourful }: Extract<Layer, { kind: 'backdrop' }>,
  image: Image,
  { width, height, scale, scratch }: Drawing<Image>,
): void {
  const size = { width, height };
  const sizes = backdropSizes(soft, size);
  const [{ width: w, height: h }, { width: sw, height: sh }] = [sizes.first, sizes.small];
  const first = scratch.canvas(0, w, h);
  drawInto(first.context, image, scaled(rect, scale * sizes.down));
  let small = scratch.canvas(1, sw, sh);
  let other = scratch.canvas(2, sw, sh);
  drawInto(small.context, first.image, { x: 0, y: 0, width: sw, height: sh });
  for (const spread of BACKDROP_SPREADS) {
    drawSpread(other.context, small.image, spread, { width: sw, height: sh });
    [small, other] = [other, small];
  }
  drawInto(first.context, small.image, { x: 0, y: 0, width: w, height: h });
  if (colourful < 1) {
    first.context.globalCompositeOperation = 'saturation';
    first.context.globalAlpha = 1 - colourful;
    first.context.fillStyle = '#808080';
    first.context.fillRect(0, 0, w, h);
    first.context.globalAlpha = 1;
    first.context.globalCompositeOperation = 'source-over';
  }
  drawInto(context, first.image, { x: 0, y: 0, ...size });
  context.globalAlpha = 1 - light;
  context.fillStyle = '#000000';
  context.fillRect(0, 0, size.width, size.height);
  context.globalAlpha = 1;
}

/** Where something is drawn, again and again, each time so much less of it, so that each pixel becomes the mean of itself and the four `by` away. */
export const spreadPlaces = (by: number): { x: number; y: number; share: number }[] =>
  [
    [0, 0],
    [by, 0],
    [-by, 0],
    [0, by],
    [0, -by],
  ].map(([x = 0, y = 0], n) => ({ x, y, share: 1 / (n + 1) }));

function drawSpread<Image>(context: DrawContext<Image>, image: Image, by: number, size: { width: number; height: number }): void {
  for (const { x, y, share } of spreadPlaces(by)) {
    context.globalAlpha = share;
    drawInto(context, image, { x, y, ...size });
  }
  context.globalAlpha = 1;
}

function drawInto<Image>(context: DrawContext<Image>, image: Image, rect: Rect): void {
  context.drawImage(image, rect.x, rect.y, rect.width, rect.height);
}

function scaled(rect: Rect, scale: number): Rect {
  return { x: rect.x * scale, y: rect.y * scale, width: rect.width * scale, height: rect.height * scale };
}
