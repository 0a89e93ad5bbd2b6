import { cubeOf, isColour, type Rect } from '@flimzy/core/frame';
import type { Effect } from '@flimzy/core/properties';
import { CUBE_ENTRY, CUBE_SIDE, CUBE_UNIT, grain, sharpen, throughCube } from '@flimzy/kernels';
import type { DrawContext, Scratch } from './context';

interface Canvas<Image> {
  context: DrawContext<Image>;
  image: Image;
}

/** What effects are drawn with. */
interface Ground<Image> {
  /** Size of the frame in output pixels, and output pixels for one of the piece. */
  width: number;
  height: number;
  scale: number;
  /** The longer side of the frame in pixels of the piece. */
  long: number;
  scratch: Scratch<Image>;
  /** Where anything is drawn, in whole output pixels. */
  drawn: Rect;
  soften(canvas: Canvas<Image>, soft: number): void;
}

/** Cubes of the last effects, so that each is worked out once: 288 KB each. */
const CUBES_KEPT = 24;
const cubes = new Map<string, Int16Array>();

/** The cube that effects of colour come to. */
export function cubeFor(effects: readonly Effect[]): Int16Array {
  const key = JSON.stringify(effects);
  const cube = cubes.get(key) ?? cubeOf(effects, CUBE_SIDE, CUBE_ENTRY, CUBE_UNIT);
  cubes.delete(key);
  cubes.set(key, cube);
  const [oldest] = cubes.keys();
  if (cubes.size > CUBES_KEPT && oldest !== undefined) cubes.delete(oldest);
  return cube;
}

/** Something that works on the pixels themselves: those that follow each other are done in one go, since getting them takes longest. */
type PixelWork = (rgba: Uint8ClampedArray, width: number, height: number) => void;

/** Pixels of the piece across one grain of a frame of 1 920. */
const GRAIN = 2.2;

/** How strong the strongest is, in levels. */
const GRAIN_MOST = 34;

/** How strong grain is, and output pixels across one, in a frame whose longer side has so many pixels of the piece. */
export const grainFor = (amount: number, long: number, scale: number): { size: number; amount: number } => ({
  size: GRAIN * (long / 1920) * scale,
  amount: amount * GRAIN_MOST,
});

/** How much is sharpened where an effect says so. */
export const sharpnessFor = (amount: number): number => amount * 1.5;

function pixelWork(effect: Effect, { scale, long }: { scale: number; long: number }, seed: number): PixelWork | null {
  switch (effect.kind) {
    case 'sharpen':
      return (rgba, width, height) => sharpen(rgba, width, height, sharpnessFor(effect.amount));
    case 'grain': {
      const { size, amount } = grainFor(effect.amount, long, scale);
      return (rgba, width, height) => grain(rgba, width, height, size, amount, seed);
    }
    default:
      return null;
  }
}

/** Does effects to what is drawn on a canvas, in their order; what is not drawn stays so. */
export function drawEffects<Image>(canvas: Canvas<Image>, effects: readonly Effect[], seed: number, ground: Ground<Image>): void {
  const whole = { x: 0, y: 0, width: ground.width, height: ground.height };
  // Colours are changed where something is drawn; what goes by its neighbours, or by its place in the frame, is given all of it.
  let part = ground.drawn;
  let work: PixelWork[] = [];
  let colours: Effect[] = [];
  const fold = () => {
    if (colours.length === 0) return;
    const cube = cubeFor(colours);
    work.push((rgba) => throughCube(rgba, cube));
    colours = [];
  };
  const flush = () => {
    fold();
    if (work.length > 0) onPixels(canvas, work, part, ground.scratch);
    work = [];
  };
  for (const effect of effects) {
    if (isColour(effect)) {
      colours.push(effect);
      continue;
    }
    fold();
    const one = pixelWork(effect, ground, seed);
    if (one) {
      work.push(one);
      part = whole;
      continue;
    }
    flush();
    if (effect.kind === 'vignette') {
      canvas.context.globalCompositeOperation = 'source-atop';
      drawVignette(canvas.context, effect.amount, ground);
      canvas.context.globalCompositeOperation = 'source-over';
    }
    if (effect.kind === 'blur') {
      ground.soften(canvas, effect.amount);
      part = whole;
    }
  }
  flush();
}

function onPixels<Image>(
  { context, image }: Canvas<Image>,
  work: readonly PixelWork[],
  { x, y, width, height }: Rect,
  scratch: Scratch<Image>,
): void {
  if (width === 0 || height === 0) return;
  const own = scratch.pixels(width, height);
  own.context.clearRect(0, 0, width, height);
  own.context.drawImage(image, x, y, width, height, 0, 0, width, height);
  own.change((rgba) => work.forEach((one) => one(rgba, width, height)));
  context.clearRect(x, y, width, height);
  context.drawImage(own.image, 0, 0, width, height, x, y, width, height);
}

/** Where a vignette begins, as a share of the way from the middle to a corner, and how dark the corners are at most. */
const VIGNETTE_FROM = 0.35;
const VIGNETTE_MOST = 0.85;

/** Draws what a vignette lays over a frame: black where it darkens, white where it lightens, nothing in the middle. */
export function drawVignette<Image>(
  context: DrawContext<Image>,
  amount: number,
  { width, height }: { width: number; height: number },
): void {
  const reach = Math.hypot(width, height) / 2;
  const gradient = context.createRadialGradient(width / 2, height / 2, reach * VIGNETTE_FROM, width / 2, height / 2, reach);
  const level = amount > 0 ? 0 : 255;
  // Four steps of a curve: a straight one is seen where it begins.
  for (const at of [0, 0.25, 0.5, 0.75, 1])
    gradient.addColorStop(at, `rgba(${level}, ${level}, ${level}, ${(Math.abs(amount) * VIGNETTE_MOST * at * at).toFixed(4)})`);
  context.fillStyle = gradient;
  context.fillRect(0, 0, width, height);
}
