// npm run bench: builds what is stale, then prints ratios measured in one run. Takes about 10 minutes.
import { CHROMIUM, ESPEAK, need } from './setup.mjs';

await need(CHROMIUM, ESPEAK);
const { build, must } = await import('./build.mjs');
await build();
for (const name of process.argv.length > 2
  ? process.argv.slice(2)
  : ['edits', 'log', 'speech', 'mix', 'first', 'export', 'drawn', 'sending', 'device', 'preview', 'memory', 'large'])
  must('npx', ['tsx', `bench/${name}.ts`]);
