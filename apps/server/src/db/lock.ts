import { createHash } from 'node:crypto';
import { rmSync, statSync } from 'node:fs';
import { connect, createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** Another server already works on the data folder. */
export class FolderInUse extends Error {
  override name = 'FolderInUse';
  constructor(folder: string) {
    super(
      `Another Flimzy server is already working on ${folder}. Stop that one first, or start this one with another folder: npm start -- --data DIR`,
    );
  }
}

/** Where the lock of a folder is held: a name that the kernel frees when its holder dies, where there is such a thing; else a socket file. */
function placeOf(name: string, platform: NodeJS.Platform): string {
  if (platform === 'linux') return `\0flimzy-${name}`;
  if (platform === 'win32') return `\\\\.\\pipe\\flimzy-${name}`;
  return path.join(tmpdir(), `flimzy-${name}.sock`);
}

const listening = (server: Server, place: string) =>
  new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(place, () => {
      server.off('error', reject);
      resolve();
    });
  });

/** Whether someone listens at a socket: a file that was left by a process that died has nobody behind it. */
const answers = (place: string) =>
  new Promise<boolean>((resolve) => {
    const socket = connect(place);
    socket.once('connect', () => (socket.destroy(), resolve(true)));
    socket.once('error', () => resolve(false));
  });

/**
 * Takes the data folder for this process. The database has no lock of its own and two servers would lose each other's work, so
 * a socket named after the folder on its disk is held; it is free when the process dies, however it dies.
 * @throws FolderInUse
 */
export async function lockFolder(folder: string, platform = process.platform): Promise<{ release(): Promise<void> }> {
  // By what the folder is on its disk, not by its path: mounted twice it has two.
  const { dev, ino } = statSync(folder, { bigint: true });
  const place = placeOf(createHash('sha256').update(`${dev}:${ino}`).digest('hex').slice(0, 32), platform);
  const server: Server = createServer((socket) => socket.destroy());
  const inUse = (error: unknown) => (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
  try {
    await listening(server, place).catch(async (error: unknown) => {
      if (!inUse(error) || !path.isAbsolute(place) || platform === 'win32' || (await answers(place))) throw error;
      rmSync(place, { force: true });
      await listening(server, place);
    });
  } catch (error) {
    throw inUse(error) ? new FolderInUse(folder) : error;
  }
  server.unref();
  return { release: () => new Promise((resolve) => server.close(() => resolve())) };
}
