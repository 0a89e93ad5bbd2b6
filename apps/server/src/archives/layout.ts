import { PieceId, Version } from '@flimzy/contract';
import { MediaId } from '@flimzy/core/piece';
import { z } from 'zod';

/**
 * An archive is a ZIP: first what is in it, then the document, then its first state and every edit since, then the originals, each
 * under the SHA-256 of its bytes. Nothing in it is compressed (film does not get smaller), and what is small comes first, so that half
 * a file still gives what arrived.
 */
export const MANIFEST = 'manifest.json';

/** The parts that are text, in their order. */
export const TEXTS = ['document.json', 'first.json', 'log.jsonl', 'versions.json', 'formats.json'] as const;
export type TextName = (typeof TEXTS)[number];

/** Most bytes of a manifest, and of one text: more is nobody's piece. */
export const MANIFEST_LONGEST = 16 * 1024 ** 2;
export const TEXT_LONGEST = 1024 ** 3;

const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
const size = z.number().int().nonnegative().max(Number.MAX_SAFE_INTEGER);

/** The name of an original in the archive. */
export const originalName = (hash: string) => `media/${hash}`;

/** What is in an archive. */
export const Manifest = z.object({
  /** The version of this layout. */
  flimzy: z.literal(1),
  made: z.string(),
  piece: z.object({ id: PieceId, name: z.string().max(200), revision: z.number().int().nonnegative() }),
  texts: z.array(z.object({ name: z.enum(TEXTS), size, sha256 })).max(TEXTS.length),
  media: z
    .array(
      z.object({
        id: MediaId,
        name: z.string().min(1).max(200),
        fileName: z.string().min(1).max(255),
        size,
        /** Null when its original was not there to be put in. */
        sha256: sha256.nullable(),
      }),
    )
    .max(10_000),
});
export type Manifest = z.infer<typeof Manifest>;

export const Versions = z.array(Version.pick({ name: true, revision: true, at: true })).max(10_000);
