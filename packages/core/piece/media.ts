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
  /** `nest`: not from a file, but a timeline of the piece's own. `overlay`: drawn, a title or a sticker, which its clip holds. */
  kind: z.enum(['video', 'photo', 'sound', 'nest', 'overlay']),
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
  /** Its frames hold two fields each, recorded one after the other. Missing where they do not. */
  interlaced: z.literal(true).optional(),
});
export type MediaFacts = z.infer<typeof MediaFacts>;

/** Whether an item has something to look at. */
export function hasPicture(media: MediaFacts): boolean {
  return media.kind === 'overlay' || (media.kind !== 'sound' && media.width > 0);
}

/** Whether an item comes from a file, and so has originals, proxies, a place on the shelf. */
export function isFile(media: Pick<MediaFacts, 'kind'>): boolean {
  return media.kind !== 'nest' && media.kind !== 'overlay';
}

/** The size of what an item shows in a piece, in pixels: a nest and an overlay have the frame of the piece. */
export function sizeIn(format: { width: number; height: number }, media: MediaFacts): { width: number; height: number } {
  return isFile(media) ? media : format;
}

/** What all titles and stickers are clips of. */
export const OVERLAY: MediaFacts = {
  id: 'overlay',
  name: 'Title',
  kind: 'overlay',
  length: 0,
  width: 0,
  height: 0,
  rate: null,
  hasSound: false,
};
