/** Longest side of the picture of a photo that a preview shows, in pixels; smaller ones are shown as they are. */
export const PHOTO_PROXY_SIDE = 1920;

/** Bytes of a photo's picture once it is decoded, four for each pixel: of its proxy, or of the original. */
export function photoBytes({ width, height }: { width: number; height: number }, original: boolean): number {
  const scale = original ? 1 : Math.min(1, PHOTO_PROXY_SIDE / Math.max(width, height));
  return 4 * Math.max(1, Math.round(width * scale)) * Math.max(1, Math.round(height * scale));
}
