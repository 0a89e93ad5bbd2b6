import { open, writeFile } from 'node:fs/promises';
import { whole } from '../files/whole';

/** Bytes of one number of the list at the beginning. */
const NUMBER = 4;

/** Where each JPEG of several, one after the other, begins. Within one, a marker byte is always followed by another than these. */
function beginnings(jpegs: Buffer): number[] {
  const found: number[] = [];
  for (let at = jpegs.indexOf('ffd8ff', 0, 'hex'); at >= 0; at = jpegs.indexOf('ffd8ff', at + 3, 'hex')) found.push(at);
  return found;
}

/** Keeps JPEGs, one after the other, in one file that begins with their number and where each ends (32 bits, little-endian). */
export async function writeTiles(file: string, jpegs: Buffer): Promise<void> {
  const begin = beginnings(jpegs);
  const ends = [...begin.slice(1), jpegs.length];
  const head = Buffer.alloc((1 + ends.length) * NUMBER);
  [ends.length, ...ends].forEach((value, i) => head.writeUInt32LE(value, i * NUMBER));
  await whole(file, (to) => writeFile(to, Buffer.concat([head, jpegs])));
}

/** One of the JPEGs of a file; null when it has none of that number. @throws Error when there is no file */
export async function readTile(file: string, n: number): Promise<Buffer | null> {
  const handle = await open(file, 'r');
  try {
    const read = async (from: number, bytes: number) => (await handle.read(Buffer.alloc(bytes), 0, bytes, from)).buffer;
    const count = (await read(0, NUMBER)).readUInt32LE(0);
    if (n >= count) return null;
    const ends = await read(n * NUMBER, 2 * NUMBER); // what stands before the first end is the number of all
    const [begin, end] = [n === 0 ? 0 : ends.readUInt32LE(0), ends.readUInt32LE(NUMBER)];
    return await read((1 + count) * NUMBER + begin, end - begin);
  } finally {
    await handle.close();
  }
}
