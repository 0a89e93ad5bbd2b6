/** Gives the pixels of a canvas to whoever changes them. */
export function changePixels(
  context: OffscreenCanvasRenderingContext2D | CanvasRenderingContext2D,
  width: number,
  height: number,
  work: (rgba: Uint8ClampedArray) => void,
): void {
  const pixels = context.getImageData(0, 0, width, height);
  work(pixels.data);
  context.putImageData(pixels, 0, 0);
}
