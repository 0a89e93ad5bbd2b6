import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { TestPlatforms } from '../apps/server/test/beside';
import { serve, withDemo } from './serving';

/** One server for all tests, on a copy of a data folder with the demo in it, so that nothing leaks into the next run. */
export default async function setUp(): Promise<() => Promise<void>> {
  const kept = await withDemo();
  const data = mkdtempSync(path.join(tmpdir(), 'flimzy-e2e-'));
  cpSync(kept, data, { recursive: true });
  const platforms = await TestPlatforms.start(path.join(data, 'platforms'));
  const server = await serve(data, 0, {}, ['--platforms', platforms.address]);
  process.env.FLIMZY = server.address;
  process.env.FLIMZY_DATA = data;
  process.env.FLIMZY_PLATFORMS = platforms.address;
  return async () => {
    await server.stop();
    await platforms.stop();
    rmSync(data, { recursive: true, force: true });
  };
}
