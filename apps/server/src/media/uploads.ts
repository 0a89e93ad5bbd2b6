import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { MAX_UPLOAD, UPLOADS_URL } from '@flimzy/contract';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import type { FastifyInstance } from 'fastify';
import { problemBody } from '../http/problem';
import type { DataFolder } from './folders';
import type { MediaStore } from './store';

/** The name for people: the file's, without folders, ending or control characters. */
export function nameFrom(fileName: string): string {
  const base = fileName.split(/[\\/]/).at(-1) ?? '';
  const clean = base
    .replace(/\p{Cc}/gu, '')
    .replace(/\.[^.]{1,5}$/, '')
    .replace(/_+/g, ' ')
    .trim();
  return clean.slice(0, 200) || 'Untitled';
}

/** Takes a finished upload onto the shelf. Done twice, it does nothing the second time. */
async function adopt(store: MediaStore, folder: DataFolder, upload: Pick<Upload, 'id' | 'size' | 'metadata'>): Promise<void> {
  const fileName = (upload.metadata?.filename ?? 'Untitled').slice(0, 255);
  await store.insert({ id: upload.id, name: nameFrom(fileName), fileName, size: upload.size ?? 0, status: 'preparing' });
  await mkdir(folder.medium(upload.id), { recursive: true, mode: 0o700 });
  const arrived = path.join(folder.uploads(), upload.id);
  if (await stat(arrived).catch(() => null)) await rename(arrived, folder.file(upload.id, 'original'));
  await rm(`${arrived}.json`, { force: true });
}

/** After a start: takes in uploads that were complete when the server died. Incomplete ones wait for their app to go on. */
export async function adoptFinished(store: MediaStore, folder: DataFolder): Promise<void> {
  const datastore = new FileStore({ directory: folder.uploads() });
  for (const name of await readdir(folder.uploads())) {
    if (!name.endsWith('.json')) continue;
    const upload = await datastore.getUpload(name.slice(0, -5)).catch(() => null);
    if (upload && upload.size === upload.offset) await adopt(store, folder, upload);
    else if (!upload && (await store.exists(name.slice(0, -5)))) await rm(path.join(folder.uploads(), name), { force: true });
  }
}

/** Resumable uploads (tus 1.0.0) at {@link UPLOADS_URL}. */
export async function uploadRoutes(
  app: FastifyInstance,
  store: MediaStore,
  folder: DataFolder,
  onArrived: (id: string) => Promise<void>,
): Promise<void> {
  const problem = (status_code: number, name: Parameters<typeof problemBody>[0], detail: string) => ({
    status_code,
    body: JSON.stringify(problemBody(name, detail)),
  });
  const tus = new Server({
    path: UPLOADS_URL,
    datastore: new FileStore({ directory: folder.uploads() }),
    maxSize: MAX_UPLOAD,
    relativeLocation: true,
    namingFunction: () => randomUUID(),
    onUploadCreate: async (_request, upload) => {
      const name = upload.metadata?.filename ?? 'The file';
      if (upload.size === 0) throw problem(415, 'unsupported-media', `“${name}” is empty: it has no bytes in it.`);
      return {};
    },
    onUploadFinish: async (_request, upload) => {
      await adopt(store, folder, upload);
      await onArrived(upload.id);
      return {};
    },
  });
  await app.register(async (scope) => {
    scope.removeAllContentTypeParsers();
    scope.addContentTypeParser('*', (_request, _payload, done) => done(null));
    scope.all(`${UPLOADS_URL}`, { schema: { hide: true }, config: { rateLimit: false } }, (request, reply) => {
      reply.hijack();
      void tus.handle(request.raw, reply.raw);
    });
    scope.all(`${UPLOADS_URL}/*`, { schema: { hide: true }, config: { rateLimit: false } }, (request, reply) => {
      reply.hijack();
      void tus.handle(request.raw, reply.raw);
    });
  });
}
