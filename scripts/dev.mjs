// npm run dev: the server, built again and started again on every change, and the app rebuilt when it changes.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { need, root } from './setup.mjs';

await need();
const { build, bundleServer } = await import('./build.mjs');
await build();
await bundleServer(true);

const children = [
  spawn(process.execPath, ['--watch', '--enable-source-maps', path.join(root, 'apps/server/dist/server.mjs'), ...process.argv.slice(2)], {
    stdio: 'inherit',
  }),
  spawn(process.execPath, [path.join(root, 'scripts/dev-studio.mjs')], { stdio: 'inherit' }),
];
process.on('SIGINT', () => children.forEach((child) => child.kill('SIGINT')));
