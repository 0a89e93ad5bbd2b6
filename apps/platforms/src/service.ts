import { randomUUID } from 'node:crypto';
import { mkdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import rateLimit from '@fastify/rate-limit';
import fastifyStatic from '@fastify/static';
import { FileStore } from '@tus/file-store';
import { Server, Upload } from '@tus/server';
import Fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify';
import { Announced, PlatformBook, type Video } from './book';
import { reasonsAgainst } from './check';
import { frontPage, tokenPage, videoPage } from './pages';
import { isPlatform, PLATFORMS, type PlatformId } from './rules';
import { makeTrouble, Trouble, type How, type Place } from './trouble';

export interface ServiceConfig {
  /** Where tokens, videos and what is said of them are kept. */
  data: string;
  /** One in so many requests finds it busy; 0: none. */
  troubleEvery: number;
  /** Whether a test may say what goes wrong next, at POST /trouble. */
  tested: boolean;
  /** Requests a minute for each token. */
  requestsPerMinute: number;
  /** How long it looks at a file before it is shown, in ms. */
  looking: number;
}

type Platformed = FastifyRequest<{ Params: { platform: string } }>;

const UPLOADS = '/upload';

/** A stand-in for the services that videos are posted to: three made-up platforms, which behave as such services do. */
export async function buildService(config: ServiceConfig): Promise<FastifyInstance> {
  const files = path.join(config.data, 'files');
  await mkdir(files, { recursive: true });
  const book = await PlatformBook.open(config.data);
  const trouble = new Trouble(config.troubleEvery);
  const app = Fastify({ bodyLimit: 512 * 1024, routerOptions: { maxParamLength: 100 } });
  const datastore = new FileStore({ directory: files });
  const fileOf = (id: string) => path.join(files, id);

  const platformOf = (request: Platformed): PlatformId | null => (isPlatform(request.params.platform) ? request.params.platform : null);
  const bearer = (request: FastifyRequest) => /^Bearer (\S+)$/.exec(request.headers.authorization ?? '')?.[1] ?? '';
  const say = (reply: FastifyReply, status: number, error: string, message: string) => reply.code(status).send({ error, message });
  const shown = (video: Video, request: FastifyRequest) => {
    const here = `${request.protocol}://${request.host}`;
    return {
      id: video.id,
      state: video.state,
      reasons: video.reasons,
      upload: video.state === 'waiting' ? `${here}${UPLOADS}/${video.id}` : null,
      page: video.state === 'live' ? `${here}/${video.platform}/v/${video.id}` : null,
    };
  };

  /** Looks at a file that has arrived, and shows it or not. */
  async function process(video: Video): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, config.looking).unref());
    const reasons = await reasonsAgainst(fileOf(video.id), video.size, PLATFORMS[video.platform as PlatformId]);
    await book.put({ ...video, state: reasons.length > 0 ? 'refused' : 'live', reasons });
    if (reasons.length > 0) await rm(fileOf(video.id), { force: true });
  }

  await app.register(rateLimit, {
    max: config.requestsPerMinute,
    timeWindow: '1 minute',
    keyGenerator: (request) => bearer(request) || request.ip,
  });
  await app.register(fastifyStatic, { root: files, serve: false });
  app.addContentTypeParser('application/x-www-form-urlencoded', { parseAs: 'string', bodyLimit: 4096 }, (_request, body, done) =>
    done(null, Object.fromEntries(new URLSearchParams(String(body)))),
  );

  for (const id of Object.keys(PLATFORMS) as PlatformId[]) {
    const rules = PLATFORMS[id];
    const html = (reply: FastifyReply, text: string) => reply.type('text/html').send(text);
    app.get(`/${id}/`, (_request, reply) => html(reply, frontPage(rules, book.live(id))));
    app.get(`/${id}/token`, (_request, reply) => html(reply, tokenPage(rules, null)));
    app.post(`/${id}/token`, async (request, reply) => {
      const { name = '' } = (request.body ?? {}) as { name?: string };
      return html(reply, tokenPage(rules, await book.token(id, name.trim().slice(0, 60) || 'Someone')));
    });
    app.get<{ Params: { video: string } }>(`/${id}/v/:video`, (request, reply) => {
      const video = book.video(request.params.video);
      if (video?.platform !== id || video.state !== 'live') return say(reply, 404, 'not-found', 'There is no such video.');
      return html(reply, videoPage(rules, video, ''));
    });
    app.get<{ Params: { video: string } }>(`/${id}/v/:video/captions`, (request, reply) => {
      const video = book.video(request.params.video);
      if (video?.platform !== id || video.state !== 'live' || !video.captions) return say(reply, 404, 'not-found', 'It has no captions.');
      return reply.type('text/vtt; charset=utf-8').send(video.captions);
    });
    app.get<{ Params: { video: string } }>(`/${id}/v/:video/file`, (request, reply) => {
      const video = book.video(request.params.video);
      if (video?.platform !== id || video.state !== 'live') return say(reply, 404, 'not-found', 'There is no such video.');
      return reply.type('video/mp4').sendFile(video.id, files, { contentType: false });
    });
  }

  app.get('/api/platforms', () =>
    Object.entries(PLATFORMS).map(([id, { name, about, title }]) => ({ id, name, about, titleLongest: title })),
  );

  /** Who asks; null when that was answered. */
  const someone = (request: Platformed, reply: FastifyReply): { owner: string; name: string; platform: PlatformId } | null => {
    const platform = platformOf(request);
    const person = platform && book.person(platform, bearer(request));
    if (platform && person) return { ...person, platform };
    if (platform) void say(reply, 401, 'signed-out', 'That token is not known here.');
    else void say(reply, 404, 'not-found', 'There is no such platform.');
    return null;
  };
  /** Does what was asked for, or what goes wrong instead of it, or after it. */
  const oddly = async (place: Place, request: FastifyRequest, reply: FastifyReply, work: () => Promise<unknown>) => {
    const how = trouble.at(place);
    if (makeTrouble(how, request, reply)) return reply;
    const answer = await work();
    if (how === 'lost') request.raw.socket.destroy();
    else void reply.send(answer);
    return reply;
  };

  app.get('/api/:platform/me', (request: Platformed, reply) => {
    const person = someone(request, reply);
    return person ? reply.send({ name: person.name }) : reply;
  });

  app.post('/api/:platform/videos', async (request: Platformed, reply) => {
    const person = someone(request, reply);
    if (!person) return reply;
    const key = request.headers['idempotency-key'];
    const read = Announced.safeParse(request.body);
    if (typeof key !== 'string' || key.length > 100) return say(reply, 400, 'no-key', 'A video is announced with a key of its own.');
    if (!read.success) return say(reply, 422, 'refused', read.error.issues[0]?.message ?? 'That makes no sense.');
    const rules = PLATFORMS[person.platform];
    if (read.data.title.length > rules.title) return say(reply, 422, 'refused', `A title has at most ${rules.title} letters here.`);
    if (read.data.size > rules.bytes) return say(reply, 422, 'refused', `The file is larger than ${rules.bytes / 1e6} MB.`);
    return oddly('announce', request, reply, async () => {
      const there = book.announcedAs(person.owner, key);
      if (there) return shown(there, request);
      const id = randomUUID();
      await datastore.create(new Upload({ id, size: read.data.size, offset: 0 }));
      const { owner, platform } = person;
      const at = new Date().toISOString();
      return shown(await book.put({ ...read.data, id, platform, owner, key, state: 'waiting', reasons: [], at }), request);
    });
  });

  app.get('/api/:platform/videos/:video', async (request: FastifyRequest<{ Params: { platform: string; video: string } }>, reply) => {
    const person = someone(request, reply);
    if (!person) return reply;
    const video = book.video(request.params.video);
    if (!video || video.owner !== person.owner) return say(reply, 404, 'not-found', 'There is no such video of yours.');
    return oddly('ask', request, reply, async () => shown(video, request));
  });

  const tus = new Server({
    path: UPLOADS,
    datastore,
    relativeLocation: true,
    onUploadFinish: async (request, upload) => {
      const video = book.video(upload.id);
      if (video?.state === 'waiting') {
        const arrived = await book.put({ ...video, state: 'processing' });
        process(arrived).catch((error: unknown) => app.log.error(error));
      }
      // All is here, and the one who sent it does not hear of it.
      if (trouble.at('arrived') === 'lost')
        (request as unknown as { node?: { req?: { socket: { destroy(): void } } } }).node?.req?.socket.destroy();
      return {};
    },
  });
  await app.register(async (scope) => {
    scope.removeAllContentTypeParsers();
    scope.addContentTypeParser('*', (_request, _payload, done) => done(null));
    scope.route<{ Params: { id: string } }>({
      method: ['PATCH', 'HEAD'],
      url: `${UPLOADS}/:id`,
      config: { rateLimit: false },
      handler: async (request, reply) => {
        const video = book.video(request.params.id);
        if (!video || book.person(video.platform, bearer(request))?.owner !== video.owner)
          return say(reply, 401, 'signed-out', 'That upload is not yours.');
        const how = request.method === 'PATCH' ? trouble.at('send') : null;
        if (makeTrouble(how, request, reply)) return reply;
        reply.hijack();
        return tus.handle(request.raw, reply.raw);
      },
    });
  });

  if (config.tested) {
    app.post<{ Body: { place: Place; how: How } }>('/trouble', ({ body }) => {
      trouble.want(body.place, body.how);
      return { ok: true };
    });
    app.post<{ Params: { platform: string } }>('/forget/:platform', async ({ params }) => {
      await book.forget(params.platform);
      return { ok: true };
    });
  }

  for (const video of book.processing())
    if (await stat(fileOf(video.id)).catch(() => null)) process(video).catch((error: unknown) => app.log.error(error));
  return app;
}
