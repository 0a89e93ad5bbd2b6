import type { z } from 'zod';
import { formatTimecode } from '../time';
import { findClip, type Piece } from '../piece';
import type { Plan } from './plan';

export { EditRefused } from './refused';

/** What an edit may use besides its own parameters. */
export interface EditContext {
  /** Ids for what the edit makes: the same ones wherever the edit is applied, since they derive from the edit's own id. */
  newId(): string;
  /** Where changes to clips are worked out; written into the draft when the edit is done. */
  readonly plan: Plan;
}

/** One kind of change a person can make. */
export interface EditKind<P extends z.ZodType> {
  params: P;
  /** What history and undo call it, in a few words: "Split Hilltop wide". Read from the piece before the edit. */
  title(params: z.output<P>, piece: Piece): string;
  /** What is said stays where it was, though the clips that say it are others: their captions do not follow them. */
  wordsStay?: true;
  /** Changes the draft in place. @throws EditRefused when it cannot be done. */
  apply(draft: Piece, params: z.output<P>, context: EditContext): void;
}

/** Declares an edit with its parameter types inferred from its schema. */
export function defineEdit<P extends z.ZodType>(kind: EditKind<P>): EditKind<P> {
  return kind;
}

/** The name of a clip for a title, also when it is gone. */
export function clipName(piece: Piece, id: string | undefined): string {
  return (id !== undefined && findClip(piece, id)?.clip.name) || 'clip';
}

/** "Hilltop", "3 clips": some clips in a title. */
export function clipNames(piece: Piece, ids: readonly string[]): string {
  return ids.length === 1 ? clipName(piece, ids[0]) : `${ids.length} clips`;
}

/** A time in the piece's own timecode, for sentences. */
export function at(piece: Piece, time: number): string {
  return formatTimecode(time, piece.format.rate);
}
