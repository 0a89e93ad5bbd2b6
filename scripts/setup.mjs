// What every command needs first: Node packages as locked, and ffmpeg. Uses nothing but Node itself.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
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

/** Installs Node packages when they are not there as the lock file says. */
export function needPackages() {
  const stamp = path.join(root, 'node_modules/.flimzy-lock');
  const lock = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing packages (2 to 4 minutes, once) …');
  const { status } = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
    shell: WINDOWS,
  });
  if (status !== 0) stopWith('The packages could not be installed. Is there a network? Try: npm ci');
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, lock);
}

/** How programs are got, by system. */
const installs = (names) =>
  ({ darwin: `brew install ${names}`, win32: `winget install ${names}` })[process.platform] ?? `sudo apt-get install ${names}`;

/** Installs Debian packages whose programs are missing, where that is allowed; else says in one sentence what to run. */
export function needPrograms(wanted) {
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
    spawnSync(by[0] ?? 'apt-get', by.length > 0 ? [...by.slice(1), 'apt-get', ...args] : args, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status;
  apt('update', '-qq');
  apt('install', '-y', '-qq', '--no-install-recommends', ...missing.map((m) => m.debian));
  lacking(missing.filter(({ program, args }) => !works(program, args)));
}

export const FFMPEG = { program: 'ffmpeg', args: ['-version'], debian: 'ffmpeg' };
/** Reads the photos of many phones; everything else works without it. */
export const HEIF = { program: 'heif-convert', args: ['--version'], debian: 'libheif-examples', without: 'HEIC photos cannot be read' };
export const CHROMIUM = { program: '/usr/bin/chromium', args: ['--version'], debian: 'chromium' };
export const ESPEAK = { program: 'espeak-ng', args: ['--version'], debian: 'espeak-ng' };
export const OPENSSL = { program: 'openssl', args: ['version'], debian: 'openssl' };

export function needNode() {
  if (Number(process.versions.node.split('.')[0]) < 20) stopWith(`Flimzy needs Node 20 or newer; this is ${process.version}.`);
}

export function needFfmpeg() {
  needPrograms([FFMPEG, HEIF]);
  const version = spawnSync('ffmpeg', ['-version'], { encoding: 'utf8' }).stdout ?? '';
  const major = Number(/^ffmpeg version n?(\d+)/.exec(version)?.[1] ?? 99);
  if (major < 5)
    stopWith(`Flimzy needs ffmpeg 5 or newer; this one is ${major}. Install a newer one, for example from Debian 12 or later.`);
}
