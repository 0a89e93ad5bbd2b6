import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';

/** The SHA-256 of a file's bytes, as 64 hexadecimal digits. */
export async function hashFile(file: string, signal?: AbortSignal): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash, ...(signal ? [{ signal }] : []));
  return hash.digest('hex');
}
