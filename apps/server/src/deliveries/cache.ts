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

  /** Removes what was longest not asked for, down to the limit, and what a crash left half-made. */
  async prune(limit = KEPT_BYTES): Promise<void> {
    const files = await Promise.all(
      (await readdir(this.folder)).map(async (name) => {
        const file = path.join(this.folder, name);
        return {
          file,
          half: name.endsWith('.new'),
          ...(await stat(file).then(
            ({ size, mtimeMs }) => ({ size, mtimeMs }),
            () => ({ size: 0, mtimeMs: 0 }),
          )),
        };
      }),
    );
    let kept = 0;
    for (const { file, half, size } of files.sort((a, b) => b.mtimeMs - a.mtimeMs)) {
      kept += size;
      if (half || kept > limit) await rm(file, { force: true });
    }
  }
}
