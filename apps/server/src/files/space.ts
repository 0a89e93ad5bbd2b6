import { statfs } from 'node:fs/promises';
import { ProblemError } from '../http/problem';

/** How much room a disk has, in bytes, for this user. */
export async function room(place: string): Promise<{ free: number; total: number }> {
  const { bavail, blocks, bsize } = await statfs(place);
  return { free: bavail * bsize, total: blocks * bsize };
}

const gigabytes = (bytes: number) => (bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${Math.ceil(bytes / 1e6)} MB`);

/** Keeps some of the disk free: what is left over is needed to go on working with what is there. */
export class Space {
  /** @param spare bytes that uploads leave free */
  constructor(
    private readonly place: string,
    private readonly spare: number,
  ) {}

  /** @throws ProblemError `no-space` when so much more would not fit */
  async need(bytes: number, what: string): Promise<void> {
    const { free } = await room(this.place);
    if (bytes + this.spare <= free) return;
    const fits = Math.max(0, free - this.spare);
    throw new ProblemError(
      'no-space',
      `There is not enough room on the server for ${what} (${gigabytes(bytes)}): ${gigabytes(fits)} can still be taken. Free some under Storage, then try again.`,
    );
  }
}
