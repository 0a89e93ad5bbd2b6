import type { Flicks } from '@flimzy/core/time';

/** What the server alone needs to decode an original as it is meant to be seen. */
export interface SourceFacts {
  /** Size as stored, before rotation, in pixels. */
  codedWidth: number;
  codedHeight: number;
  /** Turn to apply by hand, in degrees clockwise: only for photos brought in before they had a picture of their own. */
  turn: 0 | 90 | 180 | 270;
  /** The YCbCr matrix as ffmpeg's scaler names it, guessed from the size where the file does not say. */
  matrix: 'bt709' | 'smpte170m' | 'bt2020' | 'smpte240m' | 'fcc';
  /** The video stream to use, by its number in the file; null when there is none. */
  videoStream: number | null;
  soundStream: number | null;
  /** Its sound has one channel, which is played as loud on either side. */
  mono?: true | undefined;
  interlaced: boolean;
  codec: string;
  /** The transfer curve of an HDR recording; missing where it is none. */
  transfer?: 'hlg' | 'pq' | undefined;
  /** How long its picture (or its sound, where that is all there is) claims to be; missing where a container only guesses. */
  claimed?: Flicks | undefined;
  /** What a person should know about how it is coded: a sentence. */
  coding?: string | undefined;
  /** The file that stands in for the original when exports are drawn: of a photo, or of a moving file of pictures. */
  standIn?: 'picture.jpg' | 'picture.png' | 'moving.mp4' | 'moving.mov' | undefined;
}
