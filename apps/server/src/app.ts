import path from 'node:path';
import { stat } from 'node:fs/promises';
import compress from '@fastify/compress';
import helmet from '@fastify/helmet';
import rateLimit from '@fastify/rate-limit';
import fastifyStatic from '@fastify/static';
import swagger from '@fastify/swagger';
import swaggerUi from '@fastify/swagger-ui';
import Fastify, { type FastifyInstance } from 'fastify';
import { jsonSchemaTransform, serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import { openDatabase } from './db/open';
import { lockFolder } from './db/lock';
import { SegmentCache } from './deliveries/cache';
import { deliveryRoutes } from './deliveries/routes';
import { DeliveryStore } from './deliveries/store';
import { EventHub } from './events/hub';
import { eventRoutes } from './events/routes';
import { ProblemError, problemHandler } from './http/problem';
import { handle } from './http/register';
import { JobQueue } from './jobs/queue';
import { DataFolder } from './media/folders';
import { mediaRoutes } from './media/routes';
import { MediaStore } from './media/store';
import { adoptFinished, uploadRoutes } from './media/uploads';
import { workOnMedia } from './media/work';
import { pieceRoutes } from './pieces/routes';
import { PieceStore } from './pieces/store';

export const VERSION = '0.1.0';

export interface AppConfig {
  /** Where everything is kept. */
  data: string;
  /** The database template and the migrations. */
  template: string;
  migrations: string;
  /** The built app to serve; null to serve the API alone. */
  web: string | null;
  log: boolean;
  /** Requests a minute from one address. */
  requestsPerMinute?: number;
}

/** A running Flimzy: the HTTP server and what stands behind it. Closing the server closes all of it. */
export interface Running {
  app: FastifyInstance;
  folder: DataFolder;
  pieces: PieceStore;
  media: MediaStore;
  queue: JobQueue;
  database: Awaited<ReturnType<typeof openDatabase>>;
}

/** Builds everything on one data folder. @throws FolderInUse */
export async function buildApp(config: AppConfig): Promise<Running> {
  const folder = new DataFolder(config.data);
  await folder.make();
  const lock = await lockFolder(config.data);
  const database = await openDatabase(folder.database(), config.template, config.migrations);
  const app = Fastify({
    logger: config.log ? { level: 'warn' } : false,
    bodyLimit: 8 * 1024 ** 2,
    requestTimeout: 0,
    routerOptions: { maxParamLength: 100 },
  });
  const failed = (error: unknown) => app.log.error(error);
  const queue = await JobQueue.open(database, failed);
  const hub = new EventHub();
  const media = new MediaStore(database.db, hub);
  const pieces = new PieceStore(database.db, hub);
  const cache = new SegmentCache(folder.segments());
  await cache.prune();
  const deliveries = new DeliveryStore(database.db, hub, media, folder, cache);

  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  problemHandler(app);
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
    strictTransportSecurity: false,
  });
  await app.register(rateLimit, { max: config.requestsPerMinute ?? 6000, timeWindow: '1 minute' });
  await app.register(compress, { customTypes: /^(text\/(?!event-stream)|application\/(json|javascript|problem\+json)|font\/|image\/svg)/ });
  await app.register(swagger, { openapi: { info: { title: 'Flimzy', version: VERSION } }, transform: jsonSchemaTransform });
  await app.register(swaggerUi, { routePrefix: '/api/docs', staticCSP: true });
  await app.register(fastifyStatic, { root: config.web ?? config.data, serve: false, acceptRanges: true });

  handle(app, 'health', async () => ({ ok: true, version: VERSION }));
  mediaRoutes(app, media, folder);
  pieceRoutes(app, pieces, media, folder);
  deliveryRoutes(app, deliveries, pieces, queue);
  eventRoutes(app, hub);
  await uploadRoutes(app, media, folder, (id) => queue.send('prepare', id));
  if (config.web) await serveWeb(app, config.web);
  else
    app.setNotFoundHandler(() => {
      throw new ProblemError('not-found', 'There is nothing at this address.');
    });

  await queue.work('prepare', 2, (id) => workOnMedia(media, folder, id));
  await queue.work('deliver', 1, (id) => deliveries.work(id));
  await adoptFinished(media, folder);
  for (const row of await media.unfinished()) await queue.send('prepare', row.id);
  for (const id of await deliveries.unfinished()) await queue.send('deliver', id);

  app.addHook('onClose', async () => {
    deliveries.stopAll();
    await queue.close();
    await database.close();
    await lock.release();
  });
  return { app, folder, pieces, media, queue, database };
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
