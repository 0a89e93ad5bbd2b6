import { mkdir, readdir, readFile, rm, stat } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { ARCHIVE_PURPOSE, MAX_UPLOAD, UPLOADS_URL, wellFormed } from '@flimzy/contract';
import { MediaId } from '@flimzy/core/piece';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { z } from 'zod';
import type { Arrivals } from '../archives/arrivals';
import { room, type Space } from '../files/space';
import { putInPlace, toDisk } from '../files/whole';
import { problemBody, ProblemError } from '../http/problem';
import type { DataFolder } from './folders';
import type { MediaStore } from './store';

/** Free bytes under which a write that failed is taken to have failed for want of room. */
const HARDLY_ANY = 4 * 1024 ** 2;

/** The name for people: the file's, without folders, ending or control characters. */
export function nameFrom(fileName: string): string {
  const base = fileName.split(/[\\/]/).at(-1) ?? '';
  const clean = base
    .replace(/\p{Cc}/gu, '')
    .replace(/\.[^.]{1,5}$/, '')
    .replace(/_+/g, ' ')
    .trim();
  return [...clean].slice(0, 200).join('') || 'Untitled';
}

/** The id that an app chose for what it sends: one that nobody else can have chosen. Null when it makes no sense. */
const wishedFor = (id: string | null | undefined): string | null => z.uuid().safeParse(id?.toLowerCase()).data ?? null;

/** What stands beside an upload, as it is written by the upload library. */
const Noted = z.object({
  id: MediaId,
  size: z.number().int().positive().max(MAX_UPLOAD),
  metadata: z.object({ filename: z.string().nullish(), purpose: z.string().nullish() }).nullish(),
});
type Noted = z.infer<typeof Noted>;

/** A file's name as it is kept: of letters that a name may have, and not too long. */
function fileNameOf(upload: Pick<Noted, 'metadata'>): string {
  const name = upload.metadata?.filename ?? '';
  return (wellFormed(name) ? [...name].slice(0, 255).join('') : '') || 'Untitled';
}

/** Whether it is an archive of a piece, not media. */
const isArchive = (upload: { metadata?: { purpose?: string | null | undefined } | null | undefined }) =>
  upload.metadata?.purpose === ARCHIVE_PURPOSE;

/** Where uploads go, and who is told that one has arrived. */
export interface Takers {
  store: MediaStore;
  folder: DataFolder;
  arrivals: Arrivals;
}

/**
 * Takes a finished upload onto the shelf, or among the archives that are brought in: its bytes are on the disk in their place before the item is there, and the item is on the
 * disk before the upload is forgotten. Done twice, it does nothing the second time.
 */
async function adopt({ store, folder, arrivals }: Takers, upload: Noted): Promise<void> {
  const fileName = fileNameOf(upload);
  const arrived = path.join(folder.uploads(), upload.id);
  if (isArchive(upload)) {
    await arrivals.take(upload.id, arrived, fileName, upload.size);
    await rm(`${arrived}.json`, { force: true });
    return;
  }
  await mkdir(folder.medium(upload.id), { recursive: true, mode: 0o700 });
  if (await stat(arrived).catch(() => null)) {
    await toDisk(folder.media());
    await putInPlace(arrived, folder.file(upload.id, 'original'));
  }
  await store.insert({ id: upload.id, name: nameFrom(fileName), fileName, size: upload.size, status: 'preparing' });
  await rm(`${arrived}.json`, { force: true });
}

/**
 * After a start: takes in uploads that were complete when the server died. Incomplete ones wait for their app to go on. One that makes
 * no sense is left where it is and told of: it must not keep the server from starting.
 */
export async function adoptFinished(takers: Takers, onFailure: (error: unknown) => void): Promise<void> {
  const { folder, arrivals } = takers;
  for (const name of await readdir(folder.uploads())) {
    if (!name.endsWith('.json')) continue;
    try {
      const upload = Noted.parse(JSON.parse(await readFile(path.join(folder.uploads(), name), 'utf8')));
      const size = async (file: string) => (await stat(file).catch(() => null))?.size;
      const [arrived, placed] = [path.join(folder.uploads(), upload.id), folder.file(upload.id, 'original')];
      const inPlace = async () => (isArchive(upload) ? (await arrivals.has(upload.id)) && upload.size : size(placed));
      if (((await size(arrived)) ?? (await inPlace())) === upload.size) await adopt(takers, upload);
    } catch (error) {
      onFailure(error);
    }
  }
}

/** Resumable uploads (tus 1.0.0) at {@link UPLOADS_URL}. */
export async function uploadRoutes(
  app: FastifyInstance,
  takers: Takers,
  space: Space,
  onArrived: (id: string, what: 'medium' | 'archive') => Promise<void>,
): Promise<void> {
  const { store, folder, arrivals } = takers;
  const problem = ({ problem: name, message }: ProblemError) => {
    const body = problemBody(name, message);
    return { status_code: body.status, body: JSON.stringify(body) };
  };
  const datastore = new FileStore({ directory: folder.uploads() });
  const idOf = (request: { url: string }) => new URL(request.url, 'http://flimzy').pathname.split('/').at(-1) ?? '';
  const tus = new Server({
    path: UPLOADS_URL,
    datastore,
    maxSize: MAX_UPLOAD,
    relativeLocation: true,
    allowedOrigins: [],
    namingFunction: (_request, metadata) => wishedFor(metadata?.item) ?? randomUUID(),
    onUploadCreate: async (_request, upload) => {
      // An id that an app chose is its item for good: what comes under it a second time is not taken for the first.
      if (await arrivals.has(upload.id)) throw problem(new ProblemError('there-already', 'That archive has arrived already.'));
      if ((await store.exists(upload.id)) || (await stat(folder.file(upload.id, 'original')).catch(() => null)))
        throw problem(new ProblemError('there-already', 'An item with that id is on the shelf already.'));
      const name = upload.metadata?.filename ?? 'The file';
      if (!wellFormed(name)) throw problem(new ProblemError('bad-request', 'The file’s name holds letters that no name can have.'));
      if (upload.size === 0) throw problem(new ProblemError('unsupported-media', `“${name}” is empty: it has no bytes in it.`));
      if (upload.size === undefined) throw problem(new ProblemError('bad-request', 'An upload says at its beginning how long it is.'));
      await space.need(upload.size, `“${name}”`).catch((error: ProblemError) => Promise.reject(problem(error)));
      return {};
    },
    onIncomingRequest: async (request, id) => {
      if (request.method !== 'PATCH') return;
      const upload = await datastore.getUpload(id).catch(() => null);
      if (upload?.size === undefined) return;
      await space.need(upload.size - upload.offset, 'the rest of it').catch((error: ProblemError) => Promise.reject(problem(error)));
    },
    onUploadFinish: async (_request, upload) => {
      await adopt(takers, Noted.parse(upload));
      await onArrived(upload.id, isArchive(upload) ? 'archive' : 'medium');
      return {};
    },
    onResponseError: async (request, error) => {
      if ('status_code' in error && error.status_code < 500) return undefined;
      if ((await room(folder.uploads())).free >= HARDLY_ANY) {
        if (!('status_code' in error)) app.log.error(error);
        return undefined;
      }
      // What did not fit is not kept half: its bytes are what others need now.
      await datastore.remove(idOf(request)).catch(() => undefined);
      return problem(new ProblemError('no-space', 'The disk of the server is full. Free some under Storage, then send it again.'));
    },
  });
  await app.register(async (scope) => {
    scope.removeAllContentTypeParsers();
    scope.addContentTypeParser('*', (_request, _payload, done) => done(null));
    const handler = (request: FastifyRequest, reply: FastifyReply) => {
      reply.hijack();
      void tus.handle(request.raw, reply.raw);
    };
    const options = { schema: { hide: true }, config: { rateLimit: false } } as const;
    scope.route({ method: 'POST', url: UPLOADS_URL, ...options, handler });
    scope.route({ method: ['PATCH', 'HEAD', 'DELETE'], url: `${UPLOADS_URL}/:id`, ...options, handler });
  });
}
