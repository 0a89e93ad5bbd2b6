import { createHash } from 'node:crypto';
import { readdir, rm, stat, utimes } from 'node:fs/promises';
import path from 'node:path';

/** Bytes of finished segments kept for later exports. */
const KEPT_BYTES = 8 * 1024 ** 3;

/** Finished segments by the hash of all that decides their pixels. */
export class SegmentCache {
  constructor(private readonly folder: string) {}

  fileFor(key: string): string {
    return path.join(this.folder, `${createHash('sha256').update(key).digest('hex')}.mp4`);
  }

  /** Whether a segment is there; being asked for keeps it from being the next to go. */
  async has(file: string): Promise<boolean> {
    const now = new Date();
    return utimes(file, now, now).then(
      () => true,
      () => false,
    );
  }

  /** Removes what was longest not asked for, down to the limit. */
  async prune(limit = KEPT_BYTES): Promise<void> {
    const files = await Promise.all(
      (await readdir(this.folder))
        .filter((name) => name.endsWith('.mp4'))
        .map(async (name) => {
          const file = path.join(this.folder, name);
          return {
            file,
            ...(await stat(file).then(
              ({ size, mtimeMs }) => ({ size, mtimeMs }),
              () => ({ size: 0, mtimeMs: 0 }),
            )),
          };
        }),
    );
    let kept = 0;
    for (const { file, size } of files.sort((a, b) => b.mtimeMs - a.mtimeMs)) {
      kept += size;
      if (kept > limit) await rm(file, { force: true });
    }
  }
}
