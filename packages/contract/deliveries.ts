import { z } from 'zod';
import { PieceId } from './pieces';

/** One export of a piece. */
export const Delivery = z.object({
  id: z.uuid(),
  piece: PieceId,
  pieceName: z.string(),
  /** The revision of the piece that it shows. */
  revision: z.number().int().nonnegative(),
  status: z.enum(['waiting', 'rendering', 'done', 'failed', 'cancelled']),
  /** 0 to 1. */
  progress: z.number().min(0).max(1),
  /** Estimated seconds left, once there is something to go by. */
  secondsLeft: z.number().nonnegative().nullable(),
  /** Why it failed: a sentence. */
  error: z.string().nullable(),
  fileName: z.string(),
  /** Bytes, when done. */
  size: z.number().int().nonnegative().nullable(),
  /** Length of the piece in flicks, and pixels. */
  length: z.number().int().nonnegative(),
  width: z.number().int(),
  height: z.number().int(),
  /** Segments in all, and how many of them were already there from an earlier export. */
  segments: z.number().int().nonnegative(),
  segmentsKept: z.number().int().nonnegative(),
  createdAt: z.string(),
  finishedAt: z.string().nullable(),
  deletedAt: z.string().nullable(),
});
export type Delivery = z.infer<typeof Delivery>;
