// npm run backup -- DIR, npm run restore -- DIR: copies what cannot be made again, and makes a data folder of such a copy.
import path from 'node:path';
import { needNode, needPackages, root } from './setup.mjs';

needNode();
await needPackages();
const { build, must } = await import('./build.mjs');
await build(console.log, ['server']);
must(process.execPath, [path.join(root, 'apps/server/dist/backup.mjs'), ...process.argv.slice(2)], { cwd: process.env.INIT_CWD ?? root });
