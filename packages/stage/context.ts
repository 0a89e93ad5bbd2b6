/** What shapes are drawn with. */
export interface Pen {
  beginPath(): void;
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  quadraticCurveTo(cx: number, cy: number, x: number, y: number): void;
  bezierCurveTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void;
  closePath(): void;
}

export interface Gradient {
  addColorStop(at: number, colour: string): void;
}

/**
 * The part of the Canvas 2D interface that drawing needs; a browser's context and the server's both have it. `Image` is
 * whatever that side can draw: a video frame, a bitmap, another canvas.
 */
export interface DrawContext<Image> extends Pen {
  globalAlpha: number;
  fillStyle: unknown;
  strokeStyle: unknown;
  lineWidth: number;
  lineJoin: string;
  lineCap: string;
  shadowColor: string;
  shadowBlur: number;
  shadowOffsetX: number;
  shadowOffsetY: number;
  font: string;
  letterSpacing: string;
  textAlign: string;
  textBaseline: string;
  direction: string;
  /** Missing where the browser has none: it then goes by the page's. */
  lang?: string;
  imageSmoothingEnabled: boolean;
  globalCompositeOperation: string;
  fillRect(x: number, y: number, width: number, height: number): void;
  clearRect(x: number, y: number, width: number, height: number): void;
  drawImage(image: Image, x: number, y: number, width: number, height: number): void;
  drawImage(image: Image, sx: number, sy: number, sw: number, sh: number, x: number, y: number, width: number, height: number): void;
  createRadialGradient(x0: number, y0: number, r0: number, x1: number, y1: number, r1: number): Gradient;
  createLinearGradient(x0: number, y0: number, x1: number, y1: number): Gradient;
  save(): void;
  restore(): void;
  setTransform(a: number, b: number, c: number, d: number, e: number, f: number): void;
  transform(a: number, b: number, c: number, d: number, e: number, f: number): void;
  measureText(text: string): { width: number };
  fillText(text: string, x: number, y: number): void;
  strokeText(text: string, x: number, y: number): void;
  fill(): void;
  stroke(): void;
  clip(): void;
}

/** Something that can be drawn, with its own size in pixels. */
export interface Seen<Image> {
  image: Image;
  width: number;
  height: number;
}

/** Gives the pixels of a canvas, four bytes each, to whoever changes them. */
export type ChangePixels = (work: (rgba: Uint8ClampedArray) => void) => void;

/** Canvases to draw parts of a frame in; made once and used again for every frame. */
export interface Scratch<Image> {
  /** Gives the context of scratch canvas `n` at a size in pixels, and the canvas as something drawable. */
  canvas(n: 0 | 1 | 2, width: number, height: number): { context: DrawContext<Image>; image: Image };
  /** A canvas on which what is not drawn is transparent, for a group within `depth` others; what it held may still be there. */
  layer(depth: number, width: number, height: number): { context: DrawContext<Image>; image: Image };
  /** A canvas whose pixels are read and written. */
  pixels(width: number, height: number): { context: DrawContext<Image>; image: Image; change: ChangePixels };
}
