import { EditRequest, LogEntry } from '@flimzy/core/edits';
import { Piece, PieceFormat, PieceName } from '@flimzy/core/piece';
import { z } from 'zod';

export const PieceId = z.string().regex(/^[a-z0-9-]{1,64}$/);

/** The last revision a piece can have. */
export const LAST_REVISION = 2 ** 31 - 1;

/** A piece as the list shows it. */
export const PieceSummary = z.object({
  id: PieceId,
  name: z.string(),
  format: PieceFormat,
  /** Length in flicks. */
  length: z.number().int().nonnegative(),
  clips: z.number().int().nonnegative(),
  revision: z.number().int().nonnegative(),
  createdAt: z.string(),
  changedAt: z.string(),
  deletedAt: z.string().nullable(),
});
export type PieceSummary = z.infer<typeof PieceSummary>;

export const NewPiece = z.object({
  name: PieceName,
  format: PieceFormat,
  /** False: the rate given holds only until the first clips are there. */
  rateChosen: z.boolean().default(true),
});
export type NewPiece = z.infer<typeof NewPiece>;

/** A piece opened for editing: the document, and the ends of its undo and redo stacks (last one first to be used). */
export const OpenedPiece = z.object({
  piece: Piece,
  revision: z.number().int().nonnegative(),
  undo: z.array(LogEntry),
  redo: z.array(LogEntry),
  /** How deep the undo stack is in all; more than `undo` holds when older entries were left out. */
  undoDepth: z.number().int().nonnegative(),
  redoDepth: z.number().int().nonnegative(),
});
export type OpenedPiece = z.infer<typeof OpenedPiece>;

/** A moment of a piece that was given a name. */
export const Version = z.object({
  id: z.uuid(),
  piece: PieceId,
  name: z.string(),
  /** The revision of the piece that it is. */
  revision: z.number().int().nonnegative(),
  at: z.string(),
});
export type Version = z.infer<typeof Version>;

/** Edits sent by an app that has confirmed everything up to `since`. */
export const EditBatch = z.object({
  since: z.number().int().nonnegative().max(LAST_REVISION),
  requests: z.array(EditRequest).max(500),
});

/** Most work of one batch: edits, where several made as one count each. A single request may come to more. */
export const BATCH_WEIGHT = 2_000;

/** The answer: all entries after `since`, others' and one's own, and what could not be done. */
export const EditAnswer = z.object({
  entries: z.array(LogEntry),
  refused: z.array(z.object({ id: z.uuid(), sentence: z.string() })),
  /** Requests that had been carried out before, at whatever revision: as good as done. */
  known: z.array(z.uuid()),
});
export type EditAnswer = z.infer<typeof EditAnswer>;
