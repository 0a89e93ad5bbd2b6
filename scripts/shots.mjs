// npm run shots: takes the pictures of docs/screenshots from the demo data, on the built app. Names of views may follow.
import { CHROMIUM, need } from './setup.mjs';

await need(CHROMIUM);
const { build, must } = await import('./build.mjs');
await build();
must('npx', ['tsx', 'e2e/shots.ts', ...process.argv.slice(2)]);
