// npm start: installs what is missing, builds what is stale, serves the app.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { needFfmpeg, needNode, needPackages, root } from './setup.mjs';

needNode();
needPackages();
needFfmpeg();
const { build } = await import('./build.mjs');
await build();

const server = spawn(process.execPath, ['--enable-source-maps', path.join(root, 'apps/server/dist/server.mjs'), ...process.argv.slice(2)], {
  stdio: 'inherit',
});
// Ctrl-C reaches the server too, which closes by itself; waiting for that is all there is to do here.
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => signal === 'SIGTERM' && server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
