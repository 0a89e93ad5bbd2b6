import type { Segment } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import type { PictureFile } from './pictures';

/** One segment to be rendered. */
export interface SegmentWork {
  piece: Piece;
  segment: Segment;
  /** ffmpeg's options for how it is encoded. */
  encoding: readonly string[];
  fileOf: (media: string) => PictureFile;
  /** Where the finished segment goes; it appears there whole or not at all. */
  target: string;
  signal: AbortSignal;
  /** Threads each ffmpeg may use; 0 for as many as it likes. With a segment on every core, one each is quickest. */
  threads: number;
  /** Frames done so far. */
  onFrames: (done: number) => void;
}

/** ffmpeg's options for what comes out of a segment. */
export function output({ segment, encoding, threads }: SegmentWork, file: string): string[] {
  return ['-frames:v', String(segment.frames), ...encoding, '-threads', String(threads), '-an', '-map_metadata', '-1', '-f', 'mp4', file];
}
