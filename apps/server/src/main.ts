import { readFileSync } from 'node:fs';
import path from 'node:path';
import { createSecureContext } from 'node:tls';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import closeWithGrace from 'close-with-grace';
import { buildApp } from './app';
import { FolderInUse } from './db/lock';
import { loadDemo } from './demo';
import type { Certificate } from './http/certificate';
import { isEverywhere, isLoopback, networkAddresses, ownNames } from './http/guard';
import { ProgramMissing } from './media/run';

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

/** What HTTPS asks for: a certificate of the server's own, or the files named by CERT and KEY; null: nothing. */
function certificateAskedFor(): 'own' | Certificate | null {
  const asked = process.env.HTTPS?.trim() || null;
  if (asked === null || asked === 'own') return asked;
  if (asked !== 'given') stopWith('HTTPS=own makes a certificate of its own; HTTPS=given takes the files named by CERT=… and KEY=….');
  const read = (name: 'CERT' | 'KEY') => {
    try {
      return readFileSync(process.env[name] ?? '', 'utf8');
    } catch {
      return stopWith(`HTTPS=given wants a file as PEM in ${name}=…, which cannot be read: ${process.env[name] ?? '(nothing)'}`);
    }
  };
  const files = { cert: read('CERT'), key: read('KEY') };
  try {
    createSecureContext(files);
  } catch (error) {
    stopWith(`The files in CERT and KEY are no certificate with its key: ${(error as Error).message}`);
  }
  return files;
}

const certificate = certificateAskedFor();

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
    certificate,
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
  const addressOf = (name: string) => `${certificate ? 'https' : 'http'}://${name}:${bound}`;
  if (isEverywhere(host)) for (const name of networkAddresses()) console.log(`From a phone on the same network: ${addressOf(name)}`);
  if (certificate === 'own') console.log('Its certificate is its own: each browser asks once whether to go on.');
  console.log(`Flimzy is at ${addressOf(isEverywhere(host) ? 'localhost' : host)}`);
} catch (error) {
  if (closing?.aborted) await new Promise(() => undefined); // it ends when all is closed
  const problem = (error as NodeJS.ErrnoException).code;
  if (error instanceof FolderInUse) console.error(error.message);
  else if (error instanceof ProgramMissing && error.program === 'openssl')
    console.error('HTTPS=own makes its certificate with openssl, which is not installed (Debian: apt install openssl).');
  else if (problem === 'EADDRINUSE') console.error(`Port ${port} is taken by another program. Choose another: PORT=4200 npm start`);
  else console.error(error);
  process.exit(1);
}
