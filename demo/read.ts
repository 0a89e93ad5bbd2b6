import { execFileSync } from 'node:child_process';
import { codePoints, readCode } from './code';

/**
 * Reads the frame numbers drawn into every frame of a video file.
 *
 * @param sideAt pixels that the short side of the material measures in output frame n (the picture is centred)
 * @returns a number for each frame, null where none can be read
 */
export function readCodes(file: string, width: number, height: number, sideAt: (n: number) => number): (number | null)[] {
  const raw = execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', file, '-an', '-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'gray', 'pipe:1'],
    { maxBuffer: 1 << 30 },
  );
  const count = Math.floor(raw.length / (width * height));
  return Array.from({ length: count }, (_, n) => {
    const frame = raw.subarray(n * width * height, (n + 1) * width * height);
    return readCode(codePoints(width, height, sideAt(n)).map(({ x, y }) => frame[y * width + x] ?? 0));
  });
}
