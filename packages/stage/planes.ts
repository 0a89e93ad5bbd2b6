/**
 * RGBA pixels as Y, Cb and Cr planes, 4:2:0, in the matrix of BT.709 and its limited range (ITU-R BT.709-6, section 3): what video
 * encoders take. Left to themselves, browsers take another matrix, and every colour is a little off.
 * @param rgba 4 bytes for each of width × height pixels; both even
 * @param out 1.5 bytes for each pixel: Y, then Cb, then Cr
 */
export function toPlanes(rgba: Uint8ClampedArray, width: number, height: number, out: Uint8Array): void {
  const [half, count] = [width >> 1, width * height];
  const [cb, cr] = [count, count + (count >> 2)];
  for (let y = 0; y < height; y += 2) {
    for (let x = 0; x < width; x += 2) {
      let [r, g, b] = [0, 0, 0];
      for (let n = 0; n < 4; n += 1) {
        const at = (y + (n >> 1)) * width + x + (n & 1);
        const [red, green, blue] = [rgba[at * 4] as number, rgba[at * 4 + 1] as number, rgba[at * 4 + 2] as number];
        out[at] = (11_966 * red + 40_254 * green + 4_064 * blue + 1_081_344) >> 16;
        r += red;
        g += green;
        b += blue;
      }
      const to = (y >> 1) * half + (x >> 1);
      out[cb + to] = (-6_596 * r - 22_189 * g + 28_785 * b + 33_685_504) >> 18;
      out[cr + to] = (28_785 * r - 26_145 * g - 2_640 * b + 33_685_504) >> 18;
    }
  }
}
