import { FrameTimes } from '@flimzy/core/frame';
import { MediaFacts, MediaId } from '@flimzy/core/piece';
import { z } from 'zod';

/** Small pictures of a video at even steps, side by side in one image. */
export const Filmstrip = z.object({
  /** Pictures in a row of the image, and in all. */
  columns: z.number().int().positive(),
  count: z.number().int().positive(),
  /** Size of one picture in pixels. */
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  /** Flicks from one picture to the next; the first is at 0. */
  step: z.number().int().positive(),
  /** The width of the same pictures one by one, for where these would be blurred; missing where there are none. */
  sharp: z.number().int().positive().optional(),
});
export type Filmstrip = z.infer<typeof Filmstrip>;

/** A media item on the shelf. */
export const MediaItem = z.object({
  id: MediaId,
  /** Its name for people, and the name of the file it came from. */
  name: z.string(),
  fileName: z.string(),
  /** Bytes of the original. */
  size: z.number().int().nonnegative(),
  /** All files that belong to it are made when it is `ready`. */
  status: z.enum(['preparing', 'ready', 'failed']),
  /** It can be shown, heard and sent; while it is being prepared, its original stands in for what is not made yet. */
  usable: z.boolean(),
  /** What is being done, and how much of it, 0 to 1; null when nothing is. */
  work: z
    .object({ step: z.enum(['waiting', 'reading', 'proxy', 'filmstrip', 'listening']), progress: z.number().min(0).max(1) })
    .nullable(),
  /** Why it failed: a sentence. */
  error: z.string().nullable(),
  /** What a person should know of it: how much could be read, when that is not all. A sentence. */
  note: z.string().nullable(),
  /** Whether the file itself is still there, to be downloaded or tried again. */
  originalKept: z.boolean(),
  facts: MediaFacts.nullable(),
  /** Whether frames come at uneven times. */
  variableRate: z.boolean(),
  /** The kind of HDR it was recorded in; null for none. */
  hdr: z.enum(['hlg', 'pq']).nullable(),
  filmstrip: Filmstrip.nullable(),
  hasPeaks: z.boolean(),
  /** It was listened to: how loud it is and where someone speaks is known. */
  heard: z.boolean(),
  createdAt: z.string(),
  deletedAt: z.string().nullable(),
});
export type MediaItem = z.infer<typeof MediaItem>;

/** When each frame of an item begins. */
export const FrameTable = FrameTimes;
