import { z } from 'zod';
import { ADDRESSES } from './addresses';
import { PieceId } from './pieces';
import { route } from './route';

/** What an upload says of itself when it is not media for the shelf: an archive of a piece, to be brought in. */
export const ARCHIVE_PURPOSE = 'archive';

/** An archive of a piece on its way in. */
export const Arrival = z.object({
  id: z.uuid(),
  fileName: z.string(),
  /** Bytes. */
  size: z.number().int().nonnegative(),
  status: z.enum(['waiting', 'reading', 'done', 'failed']),
  /** 0 to 1. */
  progress: z.number().min(0).max(1),
  /** The piece that came of it. */
  piece: PieceId.nullable(),
  name: z.string().nullable(),
  /** What was missing or damaged, a sentence each. */
  missing: z.array(z.string()),
  /** Why nothing came of it: a sentence. */
  error: z.string().nullable(),
  /** ISO 8601. */
  at: z.string(),
});
export type Arrival = z.infer<typeof Arrival>;

const arrivalId = z.object({ id: z.uuid() });

/** The routes of archives: a piece with its history and all its originals, as one ZIP file. */
export const ARCHIVES = {
  pieceArchive: route({
    method: 'GET',
    url: ADDRESSES.pieceArchive,
    summary: 'The piece with its history and the originals of all its media, as one ZIP file.',
    params: z.object({ id: PieceId }),
    answer: { bytes: 'application/zip' },
  }),
  listArrivals: route({
    method: 'GET',
    url: '/api/arrivals',
    summary: 'Archives that are being brought in, and what came of those of late; newest first.',
    answer: z.array(Arrival),
  }),
  arrivalAgain: route({
    method: 'POST',
    url: '/api/arrivals/:id/again',
    summary: 'Tries once more to bring in an archive of which nothing came.',
    params: arrivalId,
    answer: Arrival,
  }),
  deleteArrival: route({
    method: 'DELETE',
    url: '/api/arrivals/:id',
    summary: 'Takes an archive that is read, or failed, off the list; what came of it stays.',
    params: arrivalId,
    answer: Arrival,
  }),
} as const;
