import { createCanvas, ImageData, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import type { FrameDescription, Mask, PictureRef } from '@flimzy/core/frame';
import { opacitiesOf, toPlanes } from '@flimzy/kernels';
import { drawFrame, drawMask, drawVignette, type DrawContext, type Scratch, type Seen } from '@flimzy/stage';
import { useFonts } from './fonts';

/** The compositor on the server: one canvas for the frame, one for each picture, used again from frame to frame. */
export class ServerStage {
  private readonly canvas: Canvas;
  private readonly context: SKRSContext2D;
  private readonly pictures = new Map<string, Canvas>();
  private readonly scratches: Canvas[] = [];
  private readonly groups: Canvas[] = [];
  private readonly read: Canvas[] = [];

  /**
   * @param scale output pixels per pixel of the piece
   * @param corner where the canvas lies in the frame, in output pixels, when it is only a part of that
   */
  constructor(
    readonly width: number,
    readonly height: number,
    private readonly scale: number,
    corner = { x: 0, y: 0 },
  ) {
    this.canvas = createCanvas(width, height);
    this.context = from(this.canvas.getContext('2d'), corner);
  }

  /** Gives a picture for the next frames, as RGBA bytes. */
  setPicture(clip: string, rgba: Buffer, width: number, height: number): void {
    let canvas = this.pictures.get(clip);
    if (!canvas || canvas.width !== width || canvas.height !== height) this.pictures.set(clip, (canvas = createCanvas(width, height)));
    const data = new Uint8ClampedArray(rgba.buffer, rgba.byteOffset, width * height * 4);
    canvas.getContext('2d').putImageData(new ImageData(data, width, height), 0, 0);
  }

  /** Draws a frame; `open`: on nothing instead of black. */
  draw(frame: FrameDescription, open = false): void {
    useFonts(frame.layers);
    drawFrame<Canvas>(drawContext(this.context), frame, this.scale, (p) => this.seen(p), this.scratch, open);
  }

  /** The box around what was drawn so, in pixels; null where nothing was. */
  drawnBox(): { x: number; y: number; width: number; height: number } | null {
    return boxOfDrawn(this.canvas.data(), this.width, this.height);
  }

  /** What was drawn as the planes that encoders take; `open`: with what shines through (yuva420p, otherwise yuv420p). */
  planes(open = false): Uint8Array {
    return toPlanes(this.canvas.data(), this.width, this.height, open);
  }

  /** What of each pixel a mask lets be seen, 0 to 255. */
  maskOf(mask: Mask): Uint8Array {
    drawMask<Canvas>(drawContext(this.context), mask, { width: this.width, height: this.height, scale: this.scale, scratch: this.scratch });
    return opacitiesOf(this.canvas.data());
  }

  /** How much a vignette lays over each pixel, 0 to 255. */
  vignetteOf(amount: number): Uint8Array {
    this.context.clearRect(0, 0, this.width, this.height);
    drawVignette<Canvas>(drawContext(this.context), amount, this);
    return opacitiesOf(this.canvas.data());
  }

  private seen({ clip }: PictureRef): Seen<Canvas> | null {
    const image = this.pictures.get(clip);
    return image ? { image, width: image.width, height: image.height } : null;
  }

  toPng(): Promise<Buffer> {
    return this.canvas.encode('png');
  }

  toJpeg(quality: number): Promise<Buffer> {
    return this.canvas.encode('jpeg', quality);
  }

  private readonly scratch: Scratch<Canvas> = {
    canvas: (n, width, height) => sized(this.scratches, n, width, height),
    layer: (depth, width, height) => sized(this.groups, depth, width, height),
    pixels: (width, height) => ({ ...sized(this.read, 0, width, height), change: (work) => changePixels(this.read[0], work) }),
  };
}

/** Canvas `n` of some, made anew when it has another size. */
function sized(canvases: Canvas[], n: number, width: number, height: number): { context: DrawContext<Canvas>; image: Canvas } {
  let canvas = canvases[n];
  if (!canvas || canvas.width !== width || canvas.height !== height) canvases[n] = canvas = createCanvas(width, height);
  return { context: drawContext(canvas.getContext('2d')), image: canvas };
}

/** The box around the pixels of which anything is seen. */
function boxOfDrawn(rgba: Buffer, width: number, height: number): { x: number; y: number; width: number; height: number } | null {
  const pixels = new Uint32Array(rgba.buffer, rgba.byteOffset, width * height); // what is not drawn is 0
  const first = pixels.findIndex((pixel) => pixel !== 0);
  if (first < 0) return null;
  const last = pixels.findLastIndex((pixel) => pixel !== 0);
  const [top, low] = [Math.floor(first / width), Math.floor(last / width)];
  let [left, right] = [width, 0];
  for (let y = top; y <= low; y += 1) {
    const row = y * width;
    for (let x = 0; x < left; x += 1) if (pixels[row + x] !== 0) left = x;
    for (let x = width - 1; x >= right; x -= 1)
      if (pixels[row + x] !== 0) {
        right = x + 1;
        break;
      }
  }
  return { x: left, y: top, width: right - left, height: low - top + 1 };
}

function changePixels(canvas: Canvas | undefined, work: (rgba: Uint8ClampedArray) => void): void {
  if (!canvas) return;
  const context = canvas.getContext('2d');
  const pixels = context.getImageData(0, 0, canvas.width, canvas.height);
  work(pixels.data);
  context.putImageData(pixels, 0, 0);
}

/** A context whose origin lies at a corner; transforms are only ever set, or added to. */
function from(context: SKRSContext2D, { x, y }: { x: number; y: number }): SKRSContext2D {
  if (x === 0 && y === 0) return context;
  const set = context.setTransform.bind(context) as (...matrix: number[]) => void;
  context.setTransform = ((a: number, b: number, c: number, d: number, e: number, f: number) =>
    set(a, b, c, d, e - x, f - y)) as typeof context.setTransform;
  return context;
}

/** The server's context is the browser's in all that drawing uses; only the type of its images differs. */
function drawContext(context: SKRSContext2D): DrawContext<Canvas> {
  return context;
}
