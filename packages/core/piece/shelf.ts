import { z } from 'zod';
import { Marker } from './marker';
import { isFile, MediaFacts } from './media';

/** A stretch of a media item worth keeping: in and out, in flicks of the material (out is exclusive). */
export const Range = z.object({
  id: z.string().min(1).max(120),
  name: z.string().max(120),
  from: z.number().int().nonnegative(),
  to: z.number().int().positive(),
});
export type Range = z.infer<typeof Range>;

/** What a recorded narration was spoken to: takes of the same stretch belong together, and all begin at the same time of the timeline (flicks). */
export const Take = z.object({ of: z.string().min(1).max(120), at: z.number().int().nonnegative() });
export type Take = z.infer<typeof Take>;

/** A media item on the shelf of a piece, with what was found in it. */
export const ShelfEntry = z.object({
  media: MediaFacts,
  /** It is a take of a narration. */
  take: Take.optional(),
  ranges: z.array(Range).max(1_000),
  markers: z.array(Marker).max(10_000),
});
export type ShelfEntry = z.infer<typeof ShelfEntry>;

/** What is on a piece's shelf, in its order. A piece that never sorted its shelf has on it what its clips use. */
export function shelfOf(piece: { shelf?: ShelfEntry[] | undefined; media: Record<string, MediaFacts> }): ShelfEntry[] {
  if (piece.shelf) return piece.shelf;
  return Object.values(piece.media)
    .filter(isFile)
    .map((media) => ({ media, ranges: [], markers: [] }));
}

/** The takes that were spoken to the same stretch as one of them, itself among them, as they were made; none when it is no take. */
export function takesWith(piece: { shelf?: ShelfEntry[] | undefined }, media: string): ShelfEntry[] {
  const of = piece.shelf?.find((entry) => entry.media.id === media)?.take?.of;
  return of === undefined ? [] : (piece.shelf ?? []).filter((entry) => entry.take?.of === of);
}
