// What every command needs first: Node packages as locked, and ffmpeg. Uses nothing but Node itself.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { spawn, spawnSync } from 'node:child_process';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

/** There npm and npx are scripts, which only a shell can start. */
export const WINDOWS = process.platform === 'win32';

const works = (program, args) => spawnSync(program, args, { stdio: 'ignore' }).status === 0;

function stopWith(sentence) {
  console.error(sentence);
  process.exit(1);
}

/** Runs a program beside others; gives its exit status. It does not outlive this one. */
export function ran(program, args, options) {
  const child = spawn(program, args, options);
  const end = () => child.kill();
  process.once('exit', end);
  return new Promise((resolve) => {
    child.once('error', () => resolve(-1));
    child.once('close', (status) => resolve(status));
  }).finally(() => process.off('exit', end));
}

/** Installs Node packages when they are not there as the lock file says. */
export async function needPackages() {
  const stamp = path.join(root, 'node_modules/.flimzy-lock');
  const read = (file) => readFileSync(path.join(root, file), 'utf8');
  const lock = createHash('sha256').update(read('pnpm-lock.yaml')).digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing packages (about a minute, once) …');
  // What npm has put there is not all cleared away, and some of it would be found before what belongs there.
  if (existsSync(path.join(root, 'node_modules/.package-lock.json')))
    for (const place of ['.', 'apps/studio', 'apps/server'])
      rmSync(path.join(root, place, 'node_modules'), { recursive: true, force: true });
  const pnpm = JSON.parse(read('package.json')).packageManager;
  const options = { cwd: root, stdio: 'inherit', shell: WINDOWS };
  const status = await ran('npx', ['--yes', pnpm, 'install', '--frozen-lockfile', '--reporter=append-only', '--loglevel=warn'], options);
  if (status !== 0) stopWith(`The packages could not be installed. Is there a network? Try: npx ${pnpm} install --frozen-lockfile`);
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, lock);
}

/** How programs are got, by system. */
const installs = (names) =>
  ({ darwin: `brew install ${names}`, win32: `winget install ${names}` })[process.platform] ?? `sudo apt-get install ${names}`;

/** Installs Debian packages whose programs are missing, where that is allowed; else says in one sentence what to run. */
async function needPrograms(wanted) {
  const missing = wanted.filter(({ program, args }) => !works(program, args));
  if (missing.length === 0) return;
  const names = missing.map((m) => m.debian).join(' ');
  const by = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  const lacking = (still) => {
    const bad = still.filter((m) => !m.without).map((m) => m.debian);
    if (bad.length > 0) stopWith(`Flimzy needs ${bad.join(' ')}. Run: ${installs(bad.join(' '))}`);
    for (const { debian, without } of still) console.log(`Without ${debian} ${without}.`);
  };
  if (!existsSync('/usr/bin/apt-get') || (by.length > 0 && !works('sudo', ['-n', 'true']))) return lacking(missing);
  console.log(`Installing ${names} …`);
  const apt = (...args) =>
    ran(by[0] ?? 'apt-get', by.length > 0 ? [...by.slice(1), 'apt-get', ...args] : args, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  await apt('update', '-qq');
  await apt('install', '-y', '-qq', '--no-install-recommends', ...missing.map((m) => m.debian));
  lacking(missing.filter(({ program, args }) => !works(program, args)));
}

const FFMPEG = { program: 'ffmpeg', args: ['-version'], debian: 'ffmpeg' };
/** Reads the photos of many phones; everything else works without it. */
const HEIF = { program: 'heif-convert', args: ['--version'], debian: 'libheif-examples', without: 'HEIC photos cannot be read' };
export const CHROMIUM = { program: '/usr/bin/chromium', args: ['--version'], debian: 'chromium' };
export const ESPEAK = { program: 'espeak-ng', args: ['--version'], debian: 'espeak-ng' };
export const OPENSSL = { program: 'openssl', args: ['version'], debian: 'openssl' };

export function needNode() {
  if (Number(process.versions.node.split('.')[0]) < 20) stopWith(`Flimzy needs Node 20 or newer; this is ${process.version}.`);
}

/** All that a command needs, got at the same time: packages, ffmpeg, and further programs. */
export async function need(...further) {
  needNode();
  await Promise.all([needPackages(), needPrograms([FFMPEG, HEIF, ...further])]);
  const version = spawnSync('ffmpeg', ['-version'], { encoding: 'utf8' }).stdout ?? '';
  const major = Number(/^ffmpeg version n?(\d+)/.exec(version)?.[1] ?? 99);
  if (major < 5)
    stopWith(`Flimzy needs ffmpeg 5 or newer; this one is ${major}. Install a newer one, for example from Debian 12 or later.`);
}
