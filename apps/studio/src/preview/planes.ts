import { fromPlanes } from '@flimzy/kernels';

/** A decoded picture as it lies in memory: three planes of BT.709, one after the other; both sides even. */
export interface Planes {
  bytes: Uint8Array<ArrayBuffer>;
  width: number;
  height: number;
}

/** Buffers for the frames that come: so many are kept. */
const spare: Uint8Array<ArrayBuffer>[] = [];
const SPARE = 4;

/**
 * The planes of a decoded frame, where they lie in memory as our kernels take them, to be given back by {@link giveBack}; null for others: what
 * hardware decodes never leaves it. Without a GPU, a browser takes three times as long to draw the frame itself as to draw what our kernels
 * make of it, which lies up to a sixteenth of a pixel from there: canvases are laid on each other less exactly than frames.
 */
export async function planesOf(image: CanvasImageSource): Promise<Planes | null> {
  if (typeof VideoFrame === 'undefined' || !(image instanceof VideoFrame) || image.format !== 'I420') return null;
  const { colorSpace, displayWidth: width, displayHeight: height, visibleRect } = image;
  if (colorSpace.matrix !== 'bt709' || colorSpace.fullRange !== false) return null;
  if (visibleRect?.width !== width || visibleRect.height !== height || width % 2 !== 0 || height % 2 !== 0 || width < 8) return null;
  const size = width * height * 1.5;
  const n = spare.findIndex(({ length }) => length === size);
  const bytes = spare.splice(n, n < 0 ? 0 : 1)[0] ?? new Uint8Array(size);
  await image.copyTo(bytes);
  return { bytes, width, height };
}

export function giveBack({ bytes }: Planes): void {
  spare.unshift(bytes);
  spare.length = Math.min(spare.length, SPARE);
}

/**
 * How often a picture is halved before it is drawn so wide: to the nearest such size, as canvases do that make pictures small without
 * leaving pixels out. @param own its own width
 */
export const halvingsFor = (own: number, drawn: number) => Math.max(0, Math.round(Math.log2(own / Math.max(1, drawn))));

/** Their pixels, for a picture that is drawn so wide: to be put somewhere at once. */
export function pixelsOf({ bytes, width: own, height: high }: Planes, drawn: number): ImageData {
  const { rgba, width, height } = fromPlanes(bytes, own, high, halvingsFor(own, drawn));
  return new ImageData(rgba, width, height);
}
