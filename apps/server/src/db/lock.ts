import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
import { createServer, type Server } from 'node:net';

/** Another server already works on the data folder. */
export class FolderInUse extends Error {
  override name = 'FolderInUse';
  constructor(folder: string) {
    super(
      `Another Flimzy server is already working on ${folder}. Stop that one first, or start this one with another folder: npm start -- --data DIR`,
    );
  }
}

/**
 * Takes the data folder for this process. The database has no lock of its own and two servers would lose each other's work, so
 * an abstract socket named after the folder on its disk is held; the kernel frees it when the process dies, however it dies.
 * @throws FolderInUse
 */
export async function lockFolder(folder: string): Promise<{ release(): Promise<void> }> {
  // By what the folder is on its disk, not by its path: mounted twice it has two.
  const { dev, ino } = statSync(folder, { bigint: true });
  const name = createHash('sha256').update(`${dev}:${ino}`).digest('hex').slice(0, 32);
  const server: Server = createServer((socket) => socket.destroy());
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => reject(error.code === 'EADDRINUSE' ? new FolderInUse(folder) : error));
    server.listen(`\0flimzy-${name}`, () => resolve());
  });
  server.unref();
  return { release: () => new Promise((resolve) => server.close(() => resolve())) };
}
