// npm test: all the set-up of the tests, then every suite, then one line over all of them.
import { Buffer } from 'node:buffer';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { CHROMIUM, ESPEAK, OPENSSL, WINDOWS, need, ran, root } from './setup.mjs';

const only = process.argv[2];
await need(CHROMIUM, ESPEAK, OPENSSL);
const { must, whenStale } = await import('./build.mjs');

const results = path.join(root, 'test-results');
mkdirSync(results, { recursive: true });
let passed = 0;
let failed = 0;

function count(name, ok, seconds) {
  if (ok) passed += 1;
  else failed += 1;
  console.log(`${ok ? 'ok  ' : 'FAIL'} ${name} (${seconds.toFixed(0)} s)`);
}

/** Runs one of package.json's checks; what it prints comes in one piece, since several run at once. */
async function check(name, script) {
  const began = Date.now();
  const running = spawn('npm', ['run', '--silent', script], { cwd: root });
  const said = [];
  for (const stream of [running.stdout, running.stderr]) stream.on('data', (bytes) => said.push(bytes));
  const [status] = await once(running, 'close');
  process.stdout.write(Buffer.concat(said));
  count(name, status === 0, (Date.now() - began) / 1000);
}

/** Runs a program to its end, and goes no further where it fails. */
async function needed(command, args, options = {}) {
  const status = await ran(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (status !== 0) process.exit(status ?? 1);
}

async function checks() {
  await check('types', 'types');
  await check('format', 'format:check');
  await check('lint', 'lint');
}

/** The clips of the tests, and what is tested: each takes little more than one core, so the checks go on beside it. */
async function made() {
  await whenStale('coded', ['demo'], 'demo/test-media/spars.mp4', () => {
    console.log('Making the test variant of the demo clips, each frame with its number in it …');
    return needed('npx', ['tsx', 'demo/make.ts', '--coded', '--out', 'demo/test-media'], { shell: WINDOWS });
  });
  await needed(process.execPath, [path.join(root, 'scripts/build.mjs')]);
}

const checked = !only || only === 'static';
if (checked)
  must('npx', ['expo', 'customize', 'tsconfig.json'], {
    cwd: path.join(root, 'apps/studio'),
    stdio: 'ignore',
    env: { ...process.env, CI: '1', EXPO_NO_TELEMETRY: '1', EXPO_OFFLINE: '1' },
  });
// What is checked needs nothing of what is made, and has a core to itself for long: the first suites go on beside it.
const checking = checked ? checks() : null;
await made();

if (!only || only === 'jest') {
  const file = path.join(results, 'jest.json');
  rmSync(file, { force: true });
  const status = await ran('npx', ['jest', '--json', `--outputFile=${file}`], { cwd: root, stdio: 'inherit' });
  const report = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null;
  passed += report?.numPassedTests ?? 0;
  failed += (report?.numFailedTests ?? 0) + (report?.numRuntimeErrorTestSuites ?? 0) + (status !== 0 && !report ? 1 : 0);
}

if (!only || only === 'e2e') {
  const file = path.join(results, 'playwright.json');
  rmSync(file, { force: true });
  const status = await ran('npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts', ...process.argv.slice(3)], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: file },
  });
  const stats = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')).stats : null;
  passed += stats?.expected ?? 0;
  failed += (stats?.unexpected ?? 0) + (stats?.flaky ?? 0) + (status !== 0 && !stats ? 1 : 0);
}

await checking;
console.log(`Tests: ${passed} passed, ${failed} failed`);
process.exit(failed > 0 || passed === 0 ? 1 : 0);
