import { edgeOf, outlineSizes, type Mask } from '@flimzy/core/frame';
import type { DrawContext, Gradient, Scratch } from './context';

/** What a mask is applied with: the frame in output pixels, and output pixels for one of the piece. */
interface Ground<Image> {
  width: number;
  height: number;
  scale: number;
  scratch: Scratch<Image>;
}

/** Leaves of what is drawn only what a mask lets be seen. */
export function applyMask<Image>(context: DrawContext<Image>, mask: Mask, ground: Ground<Image>): void {
  context.globalCompositeOperation = 'destination-in';
  if (mask.kind === 'outline') context.drawImage(outlined(mask, ground), 0, 0, ground.width, ground.height);
  else {
    context.fillStyle = gradientOf(context, mask, ground);
    context.fillRect(0, 0, ground.width, ground.height);
  }
  context.globalCompositeOperation = 'source-over';
}

/** Draws what a mask lets be seen, black on nothing. */
export function drawMask<Image>(context: DrawContext<Image>, mask: Mask, ground: Ground<Image>): void {
  context.globalCompositeOperation = 'copy';
  context.fillStyle = '#000000';
  context.fillRect(0, 0, ground.width, ground.height);
  applyMask(context, mask, ground);
}

/** An edge that goes across the frame, or a circle around its middle. */
function gradientOf<Image>(
  context: DrawContext<Image>,
  mask: Exclude<Mask, { kind: 'outline' }>,
  { width, height }: Ground<Image>,
): Gradient {
  const { from, to } = edgeOf(mask);
  const [seen, gone] = mask.inside ? ['#000f', '#0000'] : ['#0000', '#000f'];
  const across = (share: number): [number, number] => {
    if (mask.kind === 'radial') return [0, 0];
    const along = mask.direction === 'left' || mask.direction === 'up' ? 1 - share : share;
    return mask.direction === 'left' || mask.direction === 'right' ? [along * width, 0] : [0, along * height];
  };
  const reach = Math.hypot(width, height) / 2;
  const [cx, cy] = [width / 2, height / 2];
  const gradient =
    mask.kind === 'linear'
      ? context.createLinearGradient(...across(from), ...across(to))
      : context.createRadialGradient(cx, cy, from * reach, cx, cy, to * reach);
  gradient.addColorStop(0, seen);
  gradient.addColorStop(1, gone);
  return gradient;
}

/** The canvas in which an outline is drawn, past those in which something is taken out of focus. */
const OUTLINE_LAYER = 27;

/** What a closed line encloses, on a canvas of its own. */
function outlined<Image>(mask: Extract<Mask, { kind: 'outline' }>, { width, height, scale, scratch }: Ground<Image>): Image {
  const own = scratch.layer(OUTLINE_LAYER, width, height);
  own.context.clearRect(0, 0, width, height);
  own.context.fillStyle = '#000000';
  const sizes = outlineSizes(mask);
  for (const [k, pixels] of sizes.entries()) {
    // Each lies within the one before and takes as much again of what is left: together they rise evenly.
    const size = pixels * scale;
    if (size <= 0) break;
    own.context.globalAlpha = 1 / (sizes.length - k);
    own.context.beginPath();
    mask.points.forEach(([x, y], n) => {
      const [px, py] = [width / 2 + x * size, height / 2 + y * size];
      if (n === 0) own.context.moveTo(px, py);
      else own.context.lineTo(px, py);
    });
    own.context.closePath();
    own.context.fill();
  }
  own.context.globalAlpha = 1;
  return own.image;
}
