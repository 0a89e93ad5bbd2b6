// Exports the app again whenever its sources change: about 10 s, and it is then served isolated, as it ships.
import { spawnSync } from 'node:child_process';
import { watch } from 'node:fs';
import path from 'node:path';
import { root } from './setup.mjs';

let timer = null;
const rebuild = () => {
  console.log('Building the app …');
  const env = { ...process.env, CI: '1', EXPO_NO_TELEMETRY: '1', EXPO_OFFLINE: '1' };
  const { status } = spawnSync('npx', ['expo', 'export', '-p', 'web'], {
    cwd: path.join(root, 'apps/studio'),
    stdio: ['ignore', 'ignore', 'inherit'],
    env,
  });
  console.log(status === 0 ? 'The app is built: reload the page.' : 'The app did not build.');
};
for (const place of ['apps/studio/app', 'apps/studio/src', 'packages'])
  watch(path.join(root, place), { recursive: true }, () => {
    clearTimeout(timer);
    timer = setTimeout(rebuild, 300);
  });
