import { z } from 'zod';
import { Rate } from '../time';

export const MediaId = z.string().regex(/^[a-z0-9-]{1,64}$/);

/**
 * What a piece knows of a media item it uses: enough to compute every edit and frame without asking anyone. Copied into the
 * document when the item is first used.
 */
export const MediaFacts = z.object({
  id: MediaId,
  /** The name shown to people, without extension. */
  name: z.string().min(1).max(200),
  /** `nest`: not from a file, but a timeline of the piece's own. */
  kind: z.enum(['video', 'photo', 'sound', 'nest']),
  /** Length in flicks; 0 for a photo, which lasts as long as it is asked to. */
  length: z.number().int().nonnegative(),
  /** Size in pixels as it is seen: rotation and pixel shape applied. 0 for sound. */
  width: z.number().int().nonnegative(),
  height: z.number().int().nonnegative(),
  /** Average rate for a video, null otherwise; a variable rate keeps its own frame times elsewhere. */
  rate: Rate.nullable(),
  hasSound: z.boolean(),
  /** Something shines through the picture: what lies under it is seen. Missing where nothing does. */
  alpha: z.literal(true).optional(),
});
export type MediaFacts = z.infer<typeof MediaFacts>;

/** Whether an item has something to look at. */
export function hasPicture(media: MediaFacts): boolean {
  return media.kind !== 'sound' && media.width > 0;
}
