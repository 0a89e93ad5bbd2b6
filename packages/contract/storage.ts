import { z } from 'zod';

/** What can be freed: kept segments of exports, exports, items that no piece uses, and what was deleted already. */
export const Freeable = z.enum(['segments', 'deliveries', 'unused', 'deleted']);
export type Freeable = z.infer<typeof Freeable>;

const bytes = z.number().nonnegative();

/** What takes how much room, in bytes. */
export const Storage = z.object({
  /** Of the disk that the data folder is on. */
  free: bytes,
  total: bytes,
  /** Files as they were brought in, and what was made of them. */
  originals: bytes,
  made: bytes,
  uploads: bytes,
  segments: bytes,
  deliveries: bytes,
  /** The database, its journal and its backups. */
  database: bytes,
  backups: bytes,
  /** What each kind would free, and how many things that are. */
  freeable: z.record(Freeable, z.object({ bytes, count: z.number().int().nonnegative() })),
  /** When the newest backup was made, ISO 8601; null for never. */
  backedUpAt: z.string().nullable(),
  /** What was mended at the last start: a sentence; null when nothing was. */
  mended: z.string().nullable(),
});
export type Storage = z.infer<typeof Storage>;
