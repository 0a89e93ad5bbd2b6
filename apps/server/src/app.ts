import type { Server } from 'node:http';
import path from 'node:path';
import { stat } from 'node:fs/promises';
import compress from '@fastify/compress';
import helmet from '@fastify/helmet';
import rateLimit from '@fastify/rate-limit';
import fastifyStatic from '@fastify/static';
import swagger from '@fastify/swagger';
import swaggerUi from '@fastify/swagger-ui';
import { ENTER_URL, FONTS_URL } from '@flimzy/contract';
import Fastify, { type FastifyHttpOptions, type FastifyInstance } from 'fastify';
import { jsonSchemaTransform, serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import { Arrivals } from './archives/arrivals';
import { archiveRoutes } from './archives/routes';
import { lockFolder } from './db/lock';
import type { OpenDatabase } from './db/open';
import { SegmentCache } from './deliveries/cache';
import { FONTS } from './deliveries/fonts';
import { deliveryRoutes } from './deliveries/routes';
import { Stills } from './deliveries/stills';
import { FormatStore } from './deliveries/formats';
import { DeliveryStore } from './deliveries/store';
import { EventHub } from './events/hub';
import { eventRoutes } from './events/routes';
import { clearLeftovers, clearOldUploads } from './files/leftovers';
import { secretOf } from './files/secret';
import { Space } from './files/space';
import { StorageKeeper } from './files/storage';
import { askForCode } from './http/access';
import { ownCertificate, type Certificate } from './http/certificate';
import { guard } from './http/guard';
import { ProblemError, problemHandler } from './http/problem';
import { handle } from './http/register';
import { JobQueue } from './jobs/queue';
import { OneAtATime } from './jobs/turns';
import { Keeper } from './keeping/keeper';
import { markClosed, markOpen, openKept } from './keeping/opening';
import { DataFolder } from './media/folders';
import { LightMeter } from './media/light';
import { mediaRoutes } from './media/routes';
import { MediaStore } from './media/store';
import { adoptFinished, uploadRoutes } from './media/uploads';
import { beginMedia, checkMade, finishMedia, listenToMedia, Stopped, type Working } from './media/work';
import { pieceRoutes } from './pieces/routes';
import { PieceStore } from './pieces/store';
import { Accounts } from './posting/accounts';
import { Posts } from './posting/posts';
import { Remote } from './posting/remote';
import { postingRoutes } from './posting/routes';
import { Seal } from './posting/seal';

export const VERSION = '0.1.0';

/** How often what was deleted long ago, and uploads that nobody goes on with, are cleared, in ms. */
const TIDY_EVERY = 3_600_000;

/** How long what takes long waits for items that are still to be begun with, in ms: they can be used then. */
const BEGUN_MOST = 60_000;

export interface AppConfig {
  /** Where everything is kept. */
  data: string;
  /** The database template and the migrations. */
  template: string;
  migrations: string;
  /** The built app to serve; null to serve the API alone. */
  web: string | null;
  log: boolean;
  /** The host names that are answered to. */
  names: ReadonlySet<string>;
  /** What every device types once; null for none. */
  code: string | null;
  /** What HTTPS is spoken with: a certificate of the server's own, or one that it was given; left out: it speaks plain HTTP. */
  certificate?: 'own' | Certificate | null;
  /** Bytes of the disk that uploads leave free. */
  spare: number;
  /** Address of the service that posts go to; null: nothing is posted. */
  platforms?: string | null;
  /** Requests a minute from one address. */
  requestsPerMinute?: number;
  /** Says a line to whoever started the server. */
  say: (line: string) => void;
}

/** A running Flimzy: the HTTP server and what stands behind it. Closing the server closes all of it. */
export interface Running {
  app: FastifyInstance;
  folder: DataFolder;
  pieces: PieceStore;
  media: MediaStore;
  queue: JobQueue;
  database: OpenDatabase;
  keeper: Keeper;
  /** Aborted when the server begins to close. */
  closing: AbortSignal;
}

/** Builds everything on one data folder. @throws FolderInUse */
export async function buildApp(config: AppConfig): Promise<Running> {
  const folder = new DataFolder(config.data);
  await folder.make();
  const lock = await lockFolder(config.data);
  await clearLeftovers(folder);
  const tls = config.certificate === 'own' ? await ownCertificate(folder, config.names) : (config.certificate ?? null);
  const options: FastifyHttpOptions<Server> = {
    logger: config.log ? { level: 'warn' } : false,
    bodyLimit: 8 * 1024 ** 2,
    requestTimeout: 0,
    routerOptions: { maxParamLength: 100 },
  };
  const app: FastifyInstance = Fastify({ ...options, ...(tls ? { https: tls } : {}) } as typeof options);
  const { database, mended } = await openKept(folder, config.template, config.migrations);
  if (mended) config.say(mended);
  await markOpen(folder);
  const failed = (error: unknown) => app.log.error(error);
  const keeper = await Keeper.open(database.db, folder, mended !== null, failed);
  const queue = await JobQueue.open(database, failed);
  const hub = new EventHub();
  const media = new MediaStore(database.db, hub, keeper);
  const pieces = new PieceStore(database.db, hub, keeper);
  const cache = new SegmentCache(folder.segments());
  await cache.prune();
  const deliveries = new DeliveryStore(database.db, hub, media, folder, cache, keeper);
  const storage = new StorageKeeper(folder, media, pieces, deliveries, mended);
  const arrivals = await Arrivals.open(folder, hub);
  const stills = new Stills();
  const closing = new AbortController();
  const again = (id: string) => queue.send('prepare', id);

  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  problemHandler(app);
  await secure(app, config, folder);
  await app.register(compress, { customTypes: /^(text\/(?!event-stream)|application\/(json|javascript|problem\+json)|font\/|image\/svg)/ });
  await app.register(swagger, { openapi: { info: { title: 'Flimzy', version: VERSION } }, transform: jsonSchemaTransform });
  await app.register(swaggerUi, { routePrefix: '/api/docs', staticCSP: true });
  await app.register(fastifyStatic, { root: config.web ?? config.data, serve: false, acceptRanges: true, preCompressed: true });

  handle(app, 'health', async () => ({ ok: true, version: VERSION }));
  mediaRoutes(app, media, folder, new LightMeter(folder, closing.signal), stills, again);
  pieceRoutes(app, pieces, media, folder, stills);
  const formats = new FormatStore(database.db, keeper);
  deliveryRoutes(app, deliveries, pieces, queue, formats);
  const stores = { pieces, media, formats, folder };
  archiveRoutes(app, arrivals, stores, queue);
  const remote = config.platforms ? new Remote(config.platforms) : null;
  const accounts = new Accounts(database.db, hub, keeper, new Seal(await secretOf(folder)), remote);
  const posts = new Posts(database.db, hub, keeper, deliveries, accounts, remote);
  postingRoutes(app, accounts, posts, queue);
  handle(app, 'storage', () => storage.report());
  handle(app, 'freeStorage', ({ body }) => storage.free(body.what));
  eventRoutes(app, hub);
  const space = new Space(folder.root, config.spare);
  const takers = { store: media, folder, arrivals };
  await uploadRoutes(app, takers, space, (id, what) => (what === 'archive' ? queue.send('arrive', id) : again(id)));
  serveFonts(app);
  if (config.web) await serveWeb(app, config.web);
  else
    app.setNotFoundHandler(() => {
      throw new ProblemError('not-found', 'There is nothing at this address.');
    });

  await adoptFinished(takers, failed);
  for (const id of await checkMade(media, folder)) await again(id);
  const { signal } = closing;
  const working: Working = { store: media, folder, signal, onFailure: failed, later: (...what) => queue.send(...what) };
  // Asked for twice, or put off and begun with anew: two works on one item would take each other's files for their own.
  const items = new OneAtATime();
  const afterAll = (work: typeof finishMedia) => async (id: string) => {
    await queue.idle('prepare', BEGUN_MOST, signal);
    await items.of(id, () => work(working, id));
  };
  await queue.work('prepare', 2, (id) => items.of(id, () => beginMedia(working, id)));
  await queue.work('finish', 2, afterAll(finishMedia));
  await queue.work('listen', 1, afterAll(listenToMedia));
  await queue.work('deliver', 1, () => deliveries.workNext());
  await queue.work('arrive', 1, (id) => arrivals.work(id, { ...stores, space, signal }, again));
  for (const id of arrivals.unfinished()) await queue.send('arrive', id);
  await queue.work('post', 3, (id) => posts.work(id));
  for (const id of await posts.unfinished()) await queue.send('post', id);
  for (const id of await deliveries.unfinished()) await queue.send('deliver', id);
  const tidy = () =>
    storage
      .tidy()
      .then(() => clearOldUploads(folder))
      .catch(failed);
  await tidy();
  const tidying = setInterval(() => void tidy(), TIDY_EVERY);
  tidying.unref();

  // Before the connections are waited for: what works must not go on meanwhile.
  app.addHook('preClose', async () => closing.abort(new Stopped('the server is closing')));
  app.addHook('onClose', async () => {
    clearInterval(tidying);
    deliveries.stopAll();
    posts.stopAll();
    stills.close();
    await queue.close();
    await keeper.close();
    await database.close();
    await markClosed(folder);
    await lock.release();
  });
  return { app, folder, pieces, media, queue, database, keeper, closing: closing.signal };
}

/** Who may ask, and what a browser may do with the answers. */
async function secure(app: FastifyInstance, config: AppConfig, folder: DataFolder): Promise<void> {
  guard(app, config.names, [ENTER_URL]);
  await app.register(helmet, {
    contentSecurityPolicy: {
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'", 'blob:'],
        workerSrc: ["'self'", 'blob:'],
        mediaSrc: ["'self'", 'blob:'],
        imgSrc: ["'self'", 'blob:', 'data:'],
        styleSrc: ["'self'", "'unsafe-inline'"],
        upgradeInsecureRequests: null,
      },
    },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    // Without any referrer a browser hides the origin of our own form, too.
    referrerPolicy: { policy: 'same-origin' },
    strictTransportSecurity: false,
  });
  await app.register(rateLimit, { max: config.requestsPerMinute ?? 6000, timeWindow: '1 minute' });
  if (config.code !== null) await askForCode(app, folder, config.code);
}

/** The fonts of titles, which never change under their names. */
function serveFonts(app: FastifyInstance): void {
  app.get<{ Params: { file: string } }>(FONTS_URL, (request, reply) => {
    const { file } = request.params;
    if (!/^[a-z\d-]+\.ttf$/.test(file)) throw new ProblemError('not-found', 'There is no such font.');
    return reply.header('cache-control', 'public, max-age=604800').sendFile(file, FONTS, { cacheControl: false });
  });
}

/** Serves the built app: its files, and its page for every other address. */
async function serveWeb(app: FastifyInstance, web: string): Promise<void> {
  const page = 'index.html';
  app.setNotFoundHandler(async (request, reply) => {
    const { pathname } = new URL(request.url, 'http://flimzy');
    if (pathname.startsWith('/api/') || (request.method !== 'GET' && request.method !== 'HEAD'))
      throw new ProblemError('not-found', 'There is nothing at this address.');
    const wanted = path.normalize(decodeURIComponent(pathname));
    const file = wanted !== '/' && !wanted.includes('..') && (await stat(path.join(web, wanted)).catch(() => null))?.isFile();
    if (!file && path.extname(wanted)) throw new ProblemError('not-found', 'There is no such file.');
    const lasting = file && wanted.startsWith('/_expo/static/');
    return reply
      .header('cache-control', lasting ? 'public, max-age=31536000, immutable' : 'no-cache')
      .sendFile(file ? wanted : page, web, { cacheControl: false });
  });
}
