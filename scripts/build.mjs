// Builds what is stale: the server's bundle, the database template, the web app.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { makeFonts } from './fonts.mjs';
import { pack } from './packed.mjs';
import { root, WINDOWS } from './setup.mjs';

const cache = path.join(root, '.cache');
/** What is made, or says nothing of what is built: by its name, and the demo's media. */
const SKIP = new Set(['node_modules', 'dist', '.expo', 'test']);
const MEDIA = new Set(['media', 'test-media'].map((name) => path.join(root, 'demo', name)));

function* filesUnder(place) {
  if (!existsSync(place)) return;
  if (statSync(place).isFile()) return void (yield place);
  for (const name of readdirSync(place).sort())
    if (!SKIP.has(name) && !MEDIA.has(path.join(place, name))) yield* filesUnder(path.join(place, name));
}

function hashOf(places) {
  const hash = createHash('sha256');
  for (const place of places)
    for (const file of filesUnder(path.join(root, place))) hash.update(path.relative(root, file)).update(readFileSync(file));
  return hash.digest('hex');
}

/** Does some work when what it is made from has changed since it was last done. */
export async function whenStale(name, places, product, work) {
  mkdirSync(cache, { recursive: true });
  const stamp = path.join(cache, `${name}.stamp`);
  const hash = hashOf(places);
  if (existsSync(path.join(root, product)) && existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return false;
  await work();
  writeFileSync(stamp, hash);
  return true;
}

/** Runs a program in the repository and stops everything when it fails. */
export function must(program, args, options = {}) {
  const { status } = spawnSync(program, args, { cwd: root, stdio: 'inherit', shell: WINDOWS && program === 'npx', ...options });
  if (status !== 0) process.exit(status ?? 1);
}

/** What stays outside of a bundle: it brings machine code, or files that it looks for beside itself. */
const OUTSIDE = ['@electric-sql/pglite', '@napi-rs/canvas', 'sharp', '@fastify/swagger-ui', 'pg-native'];

/** What CommonJS among the packages expects to be there. */
const AS_COMMONJS = `import { createRequire as __cr } from 'node:module';
import { fileURLToPath as __of } from 'node:url';
const require = __cr(import.meta.url);
const __filename = __of(import.meta.url);
const __dirname = __of(new URL('.', import.meta.url));`;

/** How a program for Node is bundled: in one file with the packages it needs, which starts in two thirds of the time that asking for each takes. */
function bundled(app, entryPoints) {
  return {
    absWorkingDir: root,
    entryPoints: Object.fromEntries(Object.entries(entryPoints).map(([name, file]) => [name, path.join(root, app, 'src', file)])),
    outdir: path.join(root, app, 'dist'),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    sourcemap: true,
    external: OUTSIDE,
    banner: { js: AS_COMMONJS },
  };
}

export async function bundleServer(watch = false) {
  const esbuild = await import('esbuild');
  const entryPoints = {
    server: 'main.ts',
    'listening.worker': 'media/listening.worker.ts',
    'mixdown.worker': 'deliveries/mixdown.worker.ts',
    'segment.process': 'deliveries/segment.process.ts',
    'photo.process': 'media/photo.process.ts',
    template: 'db/template.ts',
    backup: 'backup.ts',
  };
  const options = bundled('apps/server', entryPoints);
  if (!watch) return void (await esbuild.build(options));
  const context = await esbuild.context(options);
  await context.watch();
}

/** The made-up platforms: a service of its own, which the server talks to as to any other. */
async function bundlePlatforms() {
  const esbuild = await import('esbuild');
  await esbuild.build(bundled('apps/platforms', { platforms: 'main.ts' }));
}

/** @param only the parts wanted, where not all are */
export async function build(say = console.log, only = ['server', 'database', 'studio']) {
  await whenStale(
    'fonts',
    ['packages/stage/fonts.json', 'scripts/fonts.mjs', 'scripts/packed.mjs'],
    'apps/server/dist/fonts/emoji.ttf.gz',
    () => {
      makeFonts();
      pack(path.join(root, 'apps/server/dist/fonts'));
    },
  );
  await whenStale(
    'server',
    ['apps/server/src', 'packages', 'demo/scenario.ts', 'pnpm-lock.yaml'],
    'apps/server/dist/server.mjs',
    async () => {
      say('Building the server …');
      await bundleServer();
    },
  );
  await whenStale('platforms', ['apps/platforms', 'pnpm-lock.yaml'], 'apps/platforms/dist/platforms.mjs', bundlePlatforms);
  if (only.includes('database'))
    await whenStale(
      'database',
      ['apps/server/drizzle', 'apps/server/src/db', 'apps/server/src/jobs/queue.ts', 'apps/server/package.json'],
      '.cache/database-template',
      async () => {
        say('Making the database template (about 10 s, once) …');
        must(process.execPath, ['apps/server/dist/template.mjs']);
      },
    );
  if (only.includes('studio'))
    await whenStale('studio', ['apps/studio', 'packages', 'pnpm-lock.yaml', 'scripts/packed.mjs'], 'apps/studio/dist/index.html.gz', () => {
      say('Building the app (1 to 3 minutes the first time) …');
      must('npx', ['expo', 'export', '-p', 'web', '--max-workers', String(availableParallelism())], {
        cwd: path.join(root, 'apps/studio'),
        env: { ...process.env, CI: '1', EXPO_NO_TELEMETRY: '1', EXPO_OFFLINE: '1', NODE_ENV: 'production' },
      });
      pack(path.join(root, 'apps/studio/dist'));
    });
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) await build();
