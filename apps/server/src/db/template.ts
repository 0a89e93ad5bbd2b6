import { mkdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { JobQueue } from '../jobs/queue';
import { openAt } from './open';

// Makes the template: an empty database with all tables and the job queue's own. Slow (about 10 s), so run once at build time:
// node apps/server/dist/template.mjs
const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../..');
const template = path.join(root, '.cache/database-template');
const unfinished = `${template}.new`;
await rm(unfinished, { recursive: true, force: true });
await mkdir(path.dirname(template), { recursive: true });
const database = await openAt(unfinished, path.join(root, 'apps/server/drizzle'));
const queue = await JobQueue.open(database, (error) => {
  throw error;
});
await queue.close();
await database.close();
await rm(template, { recursive: true, force: true });
await rename(unfinished, template);
process.exit(0);
