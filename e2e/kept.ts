import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/**
 * Where a data folder with the demo in it is kept for all tests: good for as long as the demo and the server stay the same. Whoever loads
 * the demo first leaves it there for the others.
 */
export function keptDemo(root: string): { folder: string; isThere(): boolean; isMade(): void } {
  const folder = path.join(root, '.cache/demo-data');
  const stamp = path.join(root, '.cache/demo-data.stamp');
  const hash = createHash('sha256');
  for (const place of ['apps/server/dist', 'demo/media'])
    for (const { name } of readdirSync(path.join(root, place), { withFileTypes: true }).filter((entry) => entry.isFile()))
      if (!name.endsWith('.map')) hash.update(readFileSync(path.join(root, place, name)));
  const wanted = hash.digest('hex');
  return {
    folder,
    isThere: () => existsSync(folder) && existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted,
    isMade: () => writeFileSync(stamp, wanted),
  };
}
