import { createCanvas, loadImage } from '@napi-rs/canvas';

/** Brightness of a picture, 0 to 255, row by row. */
export interface Grey {
  width: number;
  height: number;
  data: Float32Array;
}

export async function greyOfPng(png: Buffer): Promise<Grey> {
  const image = await loadImage(png);
  const canvas = createCanvas(image.width, image.height);
  const context = canvas.getContext('2d');
  context.drawImage(image, 0, 0);
  return greyOfRgba(context.getImageData(0, 0, image.width, image.height).data, image.width, image.height);
}

/** BT.709 luma of RGBA bytes. */
export function greyOfRgba(rgba: Uint8Array | Uint8ClampedArray, width: number, height: number): Grey {
  const data = new Float32Array(width * height);
  for (let i = 0; i < data.length; i += 1)
    data[i] = 0.2126 * (rgba[i * 4] ?? 0) + 0.7152 * (rgba[i * 4 + 1] ?? 0) + 0.0722 * (rgba[i * 4 + 2] ?? 0);
  return { width, height, data };
}

/**
 * Structural similarity (Wang et al., 2004) of two pictures of one size: the mean over 8 × 8 windows, 4 pixels apart. 1 when
 * they are equal.
 */
export function ssim(a: Grey, b: Grey): number {
  if (a.width !== b.width || a.height !== b.height) throw new RangeError('the pictures differ in size');
  const [c1, c2] = [(0.01 * 255) ** 2, (0.03 * 255) ** 2];
  let sum = 0;
  let windows = 0;
  for (let y = 0; y + 8 <= a.height; y += 4)
    for (let x = 0; x + 8 <= a.width; x += 4) {
      let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0];
      for (let j = 0; j < 8; j += 1)
        for (let i = 0; i < 8; i += 1) {
          const n = (y + j) * a.width + x + i;
          const [p, q] = [a.data[n] ?? 0, b.data[n] ?? 0];
          sa += p;
          sb += q;
          saa += p * p;
          sbb += q * q;
          sab += p * q;
        }
      const [ma, mb] = [sa / 64, sb / 64];
      const [va, vb, cov] = [saa / 64 - ma * ma, sbb / 64 - mb * mb, sab / 64 - ma * mb];
      sum += ((2 * ma * mb + c1) * (2 * cov + c2)) / ((ma * ma + mb * mb + c1) * (va + vb + c2));
      windows += 1;
    }
  return sum / windows;
}
