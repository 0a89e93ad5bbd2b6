import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import closeWithGrace from 'close-with-grace';
import { buildApp } from './app';
import { FolderInUse } from './db/lock';
import { loadDemo } from './demo';
import { isLoopback, ownNames } from './http/guard';

const here = path.dirname(fileURLToPath(import.meta.url));
const root = path.resolve(here, '../../..');
const { values } = parseArgs({
  options: {
    data: { type: 'string', default: path.join(root, 'data') },
    demo: { type: 'string', default: path.join(root, 'demo/media') },
    web: { type: 'string', default: path.join(root, 'apps/studio/dist') },
    'no-demo': { type: 'boolean', default: false },
    // Megabytes of the disk that uploads leave free.
    spare: { type: 'string', default: '500' },
    // Address of the service that posts go to.
    platforms: { type: 'string', default: '' },
  },
});

const host = process.env.HOST ?? '127.0.0.1';
const port = Number(process.env.PORT ?? 4173);
const code = process.env.CODE?.trim() || null;
const names = (process.env.NAMES ?? '').split(/[\s,]+/).filter(Boolean);

/** Fewest letters of an access code. */
const CODE_LEAST = 6;

function stopWith(sentence: string): never {
  console.error(sentence);
  process.exit(1);
}

if (!isLoopback(host) && code === null)
  stopWith(`With HOST=${host} others on the network reach this server, so it wants an access code: CODE=… HOST=${host} npm start`);
if (code !== null && code.length < CODE_LEAST) stopWith(`The access code needs at least ${CODE_LEAST} letters.`);

let closing: AbortSignal | null = null;
try {
  const running = await buildApp({
    data: path.resolve(values.data),
    template: path.join(root, '.cache/database-template'),
    migrations: path.join(root, 'apps/server/drizzle'),
    web: values.web === '' ? null : path.resolve(values.web),
    log: true,
    names: ownNames(host, names),
    code,
    spare: Number(values.spare) * 1e6,
    platforms: values.platforms || null,
    say: (line) => console.log(line),
  });
  ({ closing } = running);
  // What one request or one job leaves behind is told, and ends nothing else.
  process.on('unhandledRejection', (error) => running.app.log.error(error, 'a promise was rejected that nobody waited for'));
  closeWithGrace({ delay: 30_000, skip: ['unhandledRejection'] }, async ({ err }) => {
    if (err) console.error(err);
    await running.app.close();
    console.log('Flimzy has stopped. Everything is saved.');
  });
  await running.app.listen({ host, port });
  const address = running.app.server.address();
  const bound = address && typeof address === 'object' ? address.port : port;
  if (!values['no-demo']) await loadDemo(running, path.resolve(values.demo), (line) => console.log(line));
  console.log(`Flimzy is at http://${host === '0.0.0.0' ? 'localhost' : host}:${bound}`);
} catch (error) {
  if (closing?.aborted) await new Promise(() => undefined); // it ends when all is closed
  const problem = (error as NodeJS.ErrnoException).code;
  if (error instanceof FolderInUse) console.error(error.message);
  else if (problem === 'EADDRINUSE') console.error(`Port ${port} is taken by another program. Choose another: PORT=4200 npm start`);
  else console.error(error);
  process.exit(1);
}
