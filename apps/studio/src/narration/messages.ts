import type { Peaks, VoiceReading } from '@flimzy/core/analyse';

/** What is known of a take while it is recorded, and kept beside its file: enough to find its place after a crash. */
export interface TakeNote {
  /** The media item that it will be. */
  id: string;
  name: string;
  piece: string;
  inside: string | null;
  /** The stretch that it is a take of, and the time of the timeline (flicks) that it begins at. */
  of: string;
  at: number;
}

/** From the worklet: mono samples at 48 kHz, and the frame of the sound card's clock at which they begin. */
export interface Heard {
  at: number;
  samples: Float32Array;
}

/** To the recording worker. */
export type RecordOrder =
  | { type: 'listen'; port: MessagePort }
  /** Writes what is heard from frame `first` on, no more than `limit` samples of it. */
  | { type: 'record'; note: TakeNote; first: number; limit: number | null }
  /** Ends with what is heard before frame `last`; null: with what has come. */
  | { type: 'stop'; last: number | null }
  /** Listens for the clicks of core's `clicks()`, played from frame `from` on. */
  | { type: 'delay'; from: number };

/** From the recording worker. */
export type RecordReport =
  /** How loud it is, ten times a second; `frame`: up to which it was heard. */
  | { type: 'heard'; peak: number; reading: VoiceReading; frame: number }
  /** What is written by now, and the highest sample of what came since it was last told. */
  | { type: 'grown'; samples: number; peak: number }
  /** It is whole; `safe` when it is in the storage of this device and not in memory alone. */
  | { type: 'done'; note: TakeNote; samples: number; peaks: Peaks[]; file: Blob; safe: boolean }
  /** It could not be ended: what was made safe of it is in the storage of this device. */
  | { type: 'lost' }
  | { type: 'delay'; samples: number | null }
  | { type: 'trouble'; sentence: string };
