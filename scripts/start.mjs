// npm start: installs what is missing, builds what is stale, serves the app.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { need, root } from './setup.mjs';

await need();
const { build } = await import('./build.mjs');
await build();

const own = process.argv.slice(2);
/** The made-up platforms, to post to: a service of their own beside the server, reached from where the server is. */
const host = process.env.HOST || '127.0.0.1';
const near = ['0.0.0.0', '::'].includes(host) ? '127.0.0.1' : host.includes(':') ? `[${host}]` : host;
const port = Number(process.env.PLATFORMS_PORT ?? Number(process.env.PORT || 4173) + 1);
const beside = own.some((word) => word.startsWith('--platforms')) ? null : `http://${near}:${port}`;
const platforms = beside
  ? spawn(process.execPath, [path.join(root, 'apps/platforms/dist/platforms.mjs'), '--port', String(port)], {
      stdio: 'inherit',
      env: { ...process.env, HOST: host },
    })
  : null;

const server = spawn(
  process.execPath,
  ['--enable-source-maps', path.join(root, 'apps/server/dist/server.mjs'), ...(beside ? ['--platforms', beside] : []), ...own],
  { stdio: 'inherit' },
);
// Ctrl-C reaches both, which close by themselves; waiting for that is all there is to do here.
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    if (signal !== 'SIGTERM') return;
    server.kill(signal);
    platforms?.kill(signal);
  });
server.on('exit', (code) => {
  platforms?.kill('SIGTERM');
  process.exit(code ?? 0);
});
