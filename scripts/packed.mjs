// Lays packed files beside those that are sent to browsers, so that a server need not pack them each time.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { gzipSync } from 'node:zlib';

const WORTH_IT = /\.(js|css|html|json|svg|ttf)$/;

/** Packs all files of a folder that get smaller by it. */
export function pack(folder) {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !WORTH_IT.test(entry.name)) continue;
    const file = path.join(entry.parentPath ?? entry.path, entry.name);
    writeFileSync(`${file}.gz`, gzipSync(readFileSync(file), { level: 9 }));
  }
}
