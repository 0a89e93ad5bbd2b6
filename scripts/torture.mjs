// npm run torture: kills, power cuts, odd and hostile files. Names of parts may follow: odd broken writing imports exports power full.
import { need } from './setup.mjs';

await need();
const { build, must } = await import('./build.mjs');
await build(console.log, ['server', 'database']);
must('npx', ['tsx', 'torture/run.ts', ...process.argv.slice(2)]);
