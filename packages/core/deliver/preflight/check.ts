import type { Flashing, Ground } from '../../analyse';
import type { TogetherStep } from '../../edits';
import type { Piece } from '../../piece';
import type { HearingReader } from '../../sound';
import type { Flicks } from '../../time';
import type { BoxOf } from '../inShape';
import type { PlatformFormat } from '../platform';

/** A way to put something right: an edit like any other, or a panel where it is done. */
export type Mend =
  | { label: string; edits: { title: string; steps: TogetherStep[] } }
  | { label: string; open: 'pauses' | 'loudness' | 'shelf' | 'captions'; select?: readonly string[] }
  /** Measured once more and brought to a loudness (LUFS), limiter and all. */
  | { label: string; bringTo: number };

/** Something that would go wrong on a platform. */
export interface Finding {
  /** What is wrong: a sentence. */
  says: string;
  /** Why it matters: a sentence. */
  why: string;
  /** `refused`: the platform does not take it. `hurts`: it takes it, and people see or hear it. */
  weight: 'refused' | 'hurts';
  /** Where on the timeline, in flicks; null: all of it. */
  at: Flicks | null;
  mends: Mend[];
}

/** How loud a whole piece is: LUFS and dBTP. */
export interface Loud {
  integrated: number;
  peak: number;
}

/** What checks look at. */
export interface Checked {
  /** As it is edited, and in the shape in which it is sent. */
  piece: Piece;
  sent: Piece;
  length: Flicks;
  format: PlatformFormat;
  boxOf: BoxOf;
  hearing: HearingReader;
  /** How dark and bright it is behind the words of a title, as it is sent; null while that is not known. */
  groundOf: (clip: string) => Ground | null;
  /** Whether the file of a media item is there. */
  isThere: (media: string) => boolean;
  /** Where it flashes, in frames of the piece, as far as that is known. */
  flashes: readonly Flashing[];
  /** As measured; null while it is not. */
  loud: Loud | null;
}

/** Looks for one kind of trouble. */
export type Check = (checked: Checked) => Finding[];
