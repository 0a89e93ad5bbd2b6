import { z } from 'zod';
import { Arrival } from './archives';
import { Delivery } from './deliveries';
import { MediaItem } from './media';
import { Post } from './posting';
import { PieceId } from './pieces';

/** What the server tells on `/api/events` (server-sent events, one JSON object each). */
export const ServerEvent = z.discriminatedUnion('type', [
  z.object({ type: z.literal('media'), item: MediaItem }),
  z.object({ type: z.literal('media-gone'), id: z.string() }),
  z.object({ type: z.literal('delivery'), delivery: Delivery }),
  z.object({ type: z.literal('arrival'), arrival: Arrival }),
  z.object({ type: z.literal('arrival-gone'), id: z.string() }),
  z.object({ type: z.literal('post'), post: Post }),
  z.object({ type: z.literal('post-gone'), id: z.string(), piece: PieceId }),
  z.object({ type: z.literal('accounts') }),
  z.object({ type: z.literal('piece'), id: PieceId, revision: z.number().int() }),
  z.object({ type: z.literal('hello') }),
]);
export type ServerEvent = z.infer<typeof ServerEvent>;
