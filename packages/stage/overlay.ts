import { movedAt, THERE, type DrawnPart, type Layer, type Moved, type Rect } from '@flimzy/core/frame';
import type { Direction, ShapePart, TextPart } from '@flimzy/core/properties';
import type { DrawContext } from './context';
import { rounded, SHAPES } from './shapes';
import { dress, layOut, unitsOf, type LaidOut } from './text';

type Drawn<P> = P & Pick<DrawnPart, 'motion' | 'share'>;

/** Size of the frame in pixels of the piece, and what shadows are told, whose lengths no transform reaches. */
interface Sheet {
  width: number;
  height: number;
  /** Output pixels for one of the piece. */
  scale: number;
}

/** Draws a title in the frame of the piece as it is laid: the transform of the context is left as it was found. */
export function drawOverlay<Image>(context: DrawContext<Image>, layer: Extract<Layer, { kind: 'overlay' }>, sheet: Sheet): void {
  for (const part of layer.parts) {
    if (part.kind === 'text') drawText(context, part, sheet, layer.opacity);
    else drawShape(context, part, sheet, layer.opacity);
  }
}

/** Around what a part draws, in pixels of the piece; motions aside. */
export function boxOfPart<Image>(context: DrawContext<Image>, part: DrawnPart, frame: { width: number; height: number }): Rect {
  if (part.kind === 'text') return layOut(context, part, frame).box;
  const { width, height } = shapeSize(part, frame);
  const angle = (part.turn * Math.PI) / 180;
  const [cos, sin] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))];
  const [across, down] = [width * cos + height * sin, width * sin + height * cos];
  return { x: part.x * frame.width - across / 2, y: part.y * frame.height - down / 2, width: across, height: down };
}

/** Around all parts of a title, in pixels of the piece. */
export function boxOfParts<Image>(
  context: DrawContext<Image>,
  parts: readonly DrawnPart[],
  frame: { width: number; height: number },
): Rect {
  const boxes = parts.map((part) => boxOfPart(context, part, frame));
  const [left, top] = [Math.min(...boxes.map(({ x }) => x)), Math.min(...boxes.map(({ y }) => y))];
  const right = Math.max(...boxes.map(({ x, width }) => x + width));
  const low = Math.max(...boxes.map(({ y, height }) => y + height));
  return { x: left, y: top, width: right - left, height: low - top };
}

/** Lets the next thing drawn throw a shadow. */
function throwShadow<Image>(context: DrawContext<Image>, part: TextPart | ShapePart, size: number, { scale }: Sheet): void {
  if (!part.shadow) return;
  const { colour, blur, by } = part.shadow;
  context.shadowColor = colour;
  context.shadowBlur = blur * size * scale;
  context.shadowOffsetX = by * size * scale;
  context.shadowOffsetY = by * size * scale;
}

function noShadow<Image>(context: DrawContext<Image>): void {
  context.shadowColor = 'rgba(0, 0, 0, 0)';
  context.shadowBlur = 0;
  context.shadowOffsetX = 0;
  context.shadowOffsetY = 0;
}

/** Draws something that is on its way where it is now: moved, larger and turned about the middle of its box, and as much as is seen of it. */
function onTheWay<Image>(context: DrawContext<Image>, box: Rect, moved: Moved, size: number, direction: Direction, draw: () => void): void {
  if (moved.opacity <= 0 || moved.seen <= 0) return;
  if (moved === THERE) return draw();
  context.save();
  const angle = (moved.turn * Math.PI) / 180;
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  const [a, b] = [Math.cos(angle) * moved.scale, Math.sin(angle) * moved.scale];
  context.transform(a, b, -b, a, cx + moved.x * size - a * cx + b * cy, cy + moved.y * size - b * cx - a * cy);
  if (moved.seen < 1) {
    const out = size / 2;
    const { x, y, width, height } = { x: box.x - out, y: box.y - out, width: box.width + 2 * out, height: box.height + 2 * out };
    const flat = direction === 'left' || direction === 'right';
    const [w, h] = [flat ? width * moved.seen : width, flat ? height : height * moved.seen];
    context.beginPath();
    rounded(direction === 'left' ? x + width - w : x, direction === 'up' ? y + height - h : y, w, h, 0)(context);
    context.clip();
  }
  context.globalAlpha *= moved.opacity;
  draw();
  context.restore();
}

function drawText<Image>(context: DrawContext<Image>, part: Drawn<TextPart>, sheet: Sheet, opacity: number): void {
  if (part.text.trim() === '') return;
  const laid = layOut(context, part, sheet);
  const { size, box, lines } = laid;
  const { motion } = part;
  const set = (text: string, x: number, y: number) => {
    dress(context, part, size);
    throwShadow(context, part, size, sheet);
    if (part.outline) {
      context.lineJoin = 'round';
      context.lineWidth = part.outline.width * size * 2;
      context.strokeStyle = part.outline.colour;
      context.strokeText(text, x, y);
      noShadow(context);
    }
    context.fillStyle = part.colour;
    context.fillText(text, x, y);
    noShadow(context);
  };
  context.save();
  context.globalAlpha = opacity;
  if (!motion || motion.by === 'whole')
    onTheWay(context, box, motion ? movedAt(motion, 0, 1) : THERE, size, motion?.direction ?? 'up', () => {
      drawPanels(context, part, size, panelsOf(part, laid));
      for (const line of lines) set(line.text, line.x, line.baseline);
    });
  else {
    const { by } = motion;
    // A panel of a line goes with it; one that is behind what moves by itself comes a little before.
    const along = part.panel?.by === 'lines' && by === 'line';
    if (!along) drawPanels(context, part, size, panelsOf(part, laid), Math.min(1, motion.at * 3));
    dress(context, part, size);
    const all = lines.flatMap((line) => unitsOf(context, line, by, part.spacing * size).map((unit) => ({ unit, line })));
    all.forEach(({ unit, line }, n) =>
      onTheWay(context, { ...line.box, x: unit.x, width: unit.width }, movedAt(motion, n, all.length), size, motion.direction, () => {
        if (along) drawPanels(context, part, size, [grown(line.box, laid.padding)]);
        set(unit.text, unit.x, line.baseline);
      }),
    );
  }
  context.restore();
}

const grown = ({ x, y, width, height }: Rect, by: number): Rect => ({
  x: x - by,
  y: y - by,
  width: width + 2 * by,
  height: height + 2 * by,
});

/** Where the ground behind a text lies. */
function panelsOf({ panel }: TextPart, { lines, box, padding }: LaidOut): Rect[] {
  if (panel?.by !== 'lines') return [box];
  return lines.filter((line) => line.width > 0).map((line) => grown(line.box, padding));
}

/** Draws the ground behind a text, so much of it. */
function drawPanels<Image>(context: DrawContext<Image>, { panel }: TextPart, size: number, boxes: readonly Rect[], share = 1): void {
  if (!panel) return;
  const before = context.globalAlpha;
  context.fillStyle = panel.colour;
  context.globalAlpha = before * panel.opacity * share;
  context.beginPath();
  for (const { x, y, width, height } of boxes) rounded(x, y, width, height, panel.round * size)(context);
  context.fill();
  context.globalAlpha = before;
}

function shapeSize(part: ShapePart, frame: { width: number; height: number }): { width: number; height: number } {
  const shape = SHAPES[part.shape];
  const long = part.size * Math.min(frame.width, frame.height);
  const [width, height] = [shape.width * part.stretch, shape.height];
  const scale = long / Math.max(width, height);
  return { width: width * scale, height: height * scale };
}

function drawShape<Image>(context: DrawContext<Image>, part: Drawn<ShapePart>, sheet: Sheet, opacity: number): void {
  const shape = SHAPES[part.shape];
  const { width, height } = shapeSize(part, sheet);
  const size = Math.max(width, height);
  const [cx, cy] = [part.x * sheet.width, part.y * sheet.height];
  const box = { x: cx - width / 2, y: cy - height / 2, width, height };
  const draw = () => {
    const angle = (part.turn * Math.PI) / 180;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    const [sx, sy] = [width / shape.width, height / shape.height];
    context.transform(
      cos * sx,
      sin * sx,
      -sin * sy,
      cos * sy,
      cx - (cos * width) / 2 + (sin * height) / 2,
      cy - (sin * width) / 2 - (cos * height) / 2,
    );
    if (part.share !== undefined) {
      context.beginPath();
      rounded(0, -shape.height, shape.width * part.share, shape.height * 3, 0)(context);
      context.clip();
    }
    context.lineJoin = 'round';
    context.lineCap = 'round';
    throwShadow(context, part, size, sheet);
    const { outline } = part;
    if (outline) {
      const wide = (outline.width * size * 2) / Math.max(sx, sy);
      context.strokeStyle = outline.colour;
      for (const stroke of shape.strokes) {
        context.beginPath();
        stroke.draw(context);
        context.lineWidth = (stroke.line ?? 0) + wide;
        context.stroke();
      }
      noShadow(context);
    }
    context.fillStyle = part.colour;
    context.strokeStyle = part.colour;
    for (const stroke of shape.strokes) {
      context.beginPath();
      stroke.draw(context);
      if (stroke.line === undefined) context.fill();
      else {
        context.lineWidth = stroke.line;
        context.stroke();
      }
    }
    noShadow(context);
  };
  context.save();
  context.globalAlpha = opacity;
  if (part.motion) onTheWay(context, box, movedAt(part.motion, 0, 1), height, part.motion.direction, draw);
  else draw();
  context.restore();
}
