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
// Further databases would be made from these two. There is one here and never another, so that the two, with three hundred files each,
// need not be copied at a first start and brought to the disk at every end.
await database.executeSql('update pg_database set datistemplate = false');
for (const name of ['template0', 'template1']) await database.executeSql(`drop database ${name}`);
await database.close();
await rm(template, { recursive: true, force: true });
await rename(unfinished, template);
process.exit(0);
