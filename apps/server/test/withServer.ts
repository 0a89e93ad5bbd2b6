import { rmSync } from 'node:fs';
import path from 'node:path';
import { newFolder, TestServer } from './running';

/** One server for all tests of a file, and a folder for their material: gives where something of a name is in it. */
export function withServer(take: (server: TestServer) => void): (name: string) => string {
  const files = newFolder();
  let server: TestServer;
  beforeAll(async () => {
    server = await TestServer.start();
    take(server);
  });
  afterAll(async () => {
    await server.stopAndRemove();
    rmSync(files, { recursive: true, force: true });
  });
  return (name) => path.join(files, name);
}
