import type { Piece } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';

/** What a preview tells about itself. */
export interface EngineListener {
  /** The frame now on screen, in the time of the piece; `sources` names the frames of the material. */
  onShown(time: Flicks, sources: { media: string; frame: number }[]): void;
  /** Playback came to its end, or could not go on. */
  onEnded(): void;
  onTrouble(sentence: string): void;
}

/** A stretch that is played again and again, in flicks of the piece; one that has not come to its end yet comes into it. */
export interface Loop {
  from: Flicks;
  to: Flicks;
}

/** Loudness in LUFS of the last 0.4 s, the last 3 s, and all since playing began; the highest peak since, in dBTP. −∞ for nothing. */
export interface LoudnessFigures {
  momentary: number;
  shortTerm: number;
  integrated: number;
  peak: number;
  /** How much the limiter takes away just now, in dB. */
  limited: number;
}

/** How loud a whole piece is. */
export interface Measured {
  /** LUFS, and dBTP; −∞ when it is silent. */
  integrated: number;
  peak: number;
  /** How much the limiter takes away at most, in dB. */
  limited: number;
  /** The level of the whole with which it is so, in dB. */
  level: number;
}

/** Shows a piece at a time, and plays it. Two implementations: workers with WebCodecs, and media elements where that is missing. */
export interface PreviewEngine {
  /** What to put on the page; its size is set by whoever does. */
  readonly element: HTMLElement;
  /** What is shown and played from now on. */
  setPiece(piece: Piece): void;
  /** Other files of an item are there than before: they are shown from now on. */
  renew(media: string): void;
  /** Pixels to draw, in the shape of the piece. */
  resize(width: number, height: number): void;
  /** Shows the frame at a time; a later call overtakes an earlier one. */
  show(time: Flicks): void;
  /** Shows one frame of a piece that is only tried, while something is dragged; the one set stays. */
  tryOut(piece: Piece, time: Flicks): void;
  /** Draws one frame of any piece apart from what is on screen, `width` pixels wide; null when it cannot. */
  still(piece: Piece, time: Flicks, width: number, onward?: boolean): Promise<ImageBitmap | null>;
  /** Plays from a time, so many times as fast as it is, to the end; or a stretch again and again, without a gap. Resolves when it has begun. */
  play(from: Flicks, speed?: number, loop?: Loop | null): Promise<void>;
  pause(): void;
  /** Where the sound is now, in the time of the piece; null when not playing. */
  now(): Flicks | null;
  /** Highest sample just played, as a factor of full scale. */
  peak(): number;
  /** The same of what one track adds. */
  trackPeak(track: string): number;
  /** Has one clip's own sound measured while it plays (null: none), and its highest sample just played. */
  watch(clip: string | null): void;
  clipPeak(): number;
  /**
   * Mixes a whole piece and tells how loud it is; with a target (LUFS) also the level of the whole that brings it there.
   * @param onProgress gets how much is done, 0 to 1
   * @throws Error with a sentence when it cannot be measured here
   */
  measure(piece: Piece, target: number | null, onProgress: (share: number) => void): Promise<Measured>;
  /** The sound card, opened; must first be asked for from a touch or a key. What is recorded while playing is timed by its clock. */
  audio(): Promise<AudioContext>;
  /** The frame of the sound card's clock at which what plays now began; null while nothing has. */
  beganAt(): number | null;
  /** How loud what plays comes out here, as a factor; the piece is as loud as it was. */
  setVolume(factor: number): void;
  /** Takes the sound of an item from a file of this device (a WAV file of `core`'s making) until the server has it; null: it has. */
  lend(media: string, file: Blob | null): void;
  /** How loud what was played last is; null before anything was. */
  loudness(): LoudnessFigures | null;
  close(): void;
}

/** Whether this browser can run the exact preview. */
export function canRunExact(): boolean {
  return (
    typeof VideoDecoder !== 'undefined' &&
    typeof SharedArrayBuffer !== 'undefined' &&
    globalThis.crossOriginIsolated &&
    typeof OffscreenCanvas !== 'undefined' &&
    typeof AudioWorkletNode !== 'undefined' &&
    'transferControlToOffscreen' in HTMLCanvasElement.prototype
  );
}
