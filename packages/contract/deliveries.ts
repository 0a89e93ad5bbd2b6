import { z } from 'zod';
import { DeliverySettings } from '@flimzy/core/deliver';
import { PieceId } from './pieces';

/** Something that was looked at in a finished file: a sentence, and whether it is as it should be. */
export const DeliveryCheck = z.object({ says: z.string(), ok: z.boolean() });
export type DeliveryCheck = z.infer<typeof DeliveryCheck>;

/** One export of a piece. */
export const Delivery = z.object({
  id: z.uuid(),
  piece: PieceId,
  pieceName: z.string(),
  /** The revision of the piece that it shows. */
  revision: z.number().int().nonnegative(),
  status: z.enum(['waiting', 'rendering', 'paused', 'done', 'failed', 'cancelled']),
  /** 0 to 1. */
  progress: z.number().min(0).max(1),
  /** Estimated seconds left, once there is something to go by. */
  secondsLeft: z.number().nonnegative().nullable(),
  /** Why it failed: a sentence. */
  error: z.string().nullable(),
  fileName: z.string(),
  /** Bytes, when done. */
  size: z.number().int().nonnegative().nullable(),
  /** What was looked at in the finished file; null before, and in those of before. */
  checks: z.array(DeliveryCheck).nullable(),
  /** Its place among those that wait: the lowest comes first, of equal ones the oldest. */
  rank: z.number().int(),
  /** Length of what is sent, in flicks. */
  length: z.number().int().nonnegative(),
  /** How it is made. */
  settings: DeliverySettings,
  /** How many captions go beside it, in a file of their own. */
  captions: z.number().int().nonnegative(),
  /** Segments in all, and how many of them were already there from an earlier export. */
  segments: z.number().int().nonnegative(),
  segmentsKept: z.number().int().nonnegative(),
  createdAt: z.string(),
  finishedAt: z.string().nullable(),
  deletedAt: z.string().nullable(),
});
export type Delivery = z.infer<typeof Delivery>;
