import type { FrameDescription } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import type { Loop, LoudnessFigures, Measured } from '../open/engine';

/**
 * The shared clock and ring between the mixer (which writes), the audio worklet (which plays) and the picture worker (which
 * follows). All 32-bit integers in one shared buffer, then the samples: left and right interleaved.
 */
export const RING_FRAMES = 65_536;
export const CONTROL = {
  /** Sample frames written and played since playing began; both only grow. */
  written: 0,
  played: 1,
  /** 1 while the worklet may play. */
  playing: 2,
  /** Times the worklet had nothing to play. */
  underruns: 3,
  /** Highest sample of the last block, in millionths of full scale. */
  peak: 4,
  /** Sample frames from when the worklet plays something until it is heard. */
  latency: 5,
  /** The frame of the sound card's clock at which what plays began, but for its highest bit; −1 until it has. */
  began: 6,
} as const;
export const CONTROL_INTS = 16;

/** The shared buffer's size in bytes. */
export const SHARED_BYTES = CONTROL_INTS * 4 + RING_FRAMES * 2 * 4;

/** To the picture worker. */
export type PictureOrder =
  | { type: 'start'; canvas: OffscreenCanvas; origin: string }
  | { type: 'size'; width: number; height: number }
  | { type: 'piece'; piece: Piece }
  /** Other files of an item are there: what is open of it is opened anew. */
  | { type: 'renew'; media: string }
  | { type: 'show'; time: number }
  /** Shows a frame of a piece that is only tried; `media` are the facts of what it shows. */
  | { type: 'tryOut'; time: number; frame: FrameDescription; media: Piece['media'] }
  /** Draws one frame of any piece apart from what is on screen. */
  | { type: 'still'; piece: Piece; time: number; width: number; height: number; onward: boolean; ticket: number }
  /** Draws the first frames; and goes on as soon as the clock does. */
  | { type: 'play'; from: number; speed: number; loop: Loop | null; shared: SharedArrayBuffer; epoch: number }
  | { type: 'pause' };

/** From the picture worker. */
export type PictureReport =
  /** The frame now on screen: time in the piece (flicks), and the frame number of each source shown. */
  | { type: 'shown'; time: number; sources: { media: string; frame: number }[]; took: number }
  | { type: 'trouble'; sentence: string }
  | { type: 'still'; ticket: number; picture: ImageBitmap | null }
  /** The first frames of what is to be played are drawn. */
  | { type: 'prepared'; epoch: number }
  /** Figures of the playback that just ended. */
  | { type: 'played'; due: number; shown: number; late: number };

/** To the sound worker. */
export type SoundOrder =
  | { type: 'start'; shared: SharedArrayBuffer; origin: string }
  | { type: 'piece'; piece: Piece }
  /** `from` and `loop` in samples of the piece, `speed` times as fast as it is. */
  | { type: 'play'; from: number; speed: number; loop: Loop | null; epoch: number }
  | { type: 'pause' }
  /** The clip whose own sound is measured while it plays; null: none. */
  | { type: 'watch'; clip: string | null }
  /** Sound of an item that is on this device, until the server has it; null: it has. */
  | { type: 'lend'; media: string; file: Blob | null }
  /** Mixes a whole piece to measure it; a later one ends an earlier one. */
  | { type: 'measure'; ticket: number; piece: Piece; target: number | null };

/** How loud each track is in a stretch that was mixed: its highest sample in every step of so many, as factors of full scale. */
export interface Levels {
  /** Samples since playing began. */
  at: number;
  step: number;
  tracks: Record<string, number[]>;
  /** The same of the clip that is watched. */
  clip: number[];
  /** How much the limiter took away at most, in dB. */
  limited: number;
  /** Loudness at the end of it. */
  loudness: Omit<LoudnessFigures, 'limited'>;
}

/** From the sound worker: enough is mixed to begin. */
export type SoundReport =
  | { type: 'measuring'; ticket: number; share: number }
  | { type: 'measured'; ticket: number; figures: Measured | null }
  | { type: 'ready'; epoch: number }
  | ({ type: 'levels'; epoch: number } & Levels)
  | { type: 'trouble'; sentence: string };
