import { open } from 'node:fs/promises';
import { PEAK_BINS } from '@flimzy/core/analyse';
import type { FastifyInstance, FastifyReply } from 'fastify';
import { ProblemError } from '../http/problem';
import { handle } from '../http/register';
import type { DataFolder, MediaFile } from './folders';
import type { MediaRow, MediaStore } from './store';

/** What an item's files never do: change. */
const FOREVER = 'private, max-age=31536000, immutable';

function needReady(row: MediaRow): NonNullable<MediaRow['facts']> {
  if (row.status === 'failed') throw new ProblemError('not-found', row.error ?? 'That file could not be read.');
  if (!row.facts) throw new ProblemError('not-ready', `“${row.name}” is still being prepared.`);
  return row.facts;
}

/** Samples of decoded sound as they were decoded: interleaved 32-bit floats, over full scale too, so that preview and export hear the same. */
async function readSound(file: string, from: number, count: number): Promise<Buffer> {
  const handle = await open(file, 'r');
  try {
    const bytes = Buffer.alloc(count * 8);
    const { bytesRead } = await handle.read(bytes, 0, bytes.length, from * 8);
    return bytes.subarray(0, bytesRead - (bytesRead % 8));
  } finally {
    await handle.close();
  }
}

export function mediaRoutes(app: FastifyInstance, store: MediaStore, folder: DataFolder): void {
  const send = (reply: FastifyReply, id: string, name: MediaFile, type: string) =>
    reply.type(type).header('cache-control', FOREVER).sendFile(name, folder.medium(id), { cacheControl: false });

  handle(app, 'listMedia', () => store.list());
  handle(app, 'getMedia', ({ params }) => store.get(params.id));
  handle(app, 'deleteMedia', ({ params }) => store.row(params.id).then(() => store.update(params.id, { deletedAt: new Date() })));
  handle(app, 'restoreMedia', ({ params }) => store.row(params.id).then(() => store.update(params.id, { deletedAt: null })));
  handle(app, 'mediaFrames', async ({ params, reply }) => {
    const row = await store.row(params.id);
    needReady(row);
    if (!row.frames) throw new ProblemError('not-found', `“${row.name}” is not a video.`);
    void reply.header('cache-control', FOREVER);
    return row.frames;
  });
  handle(app, 'mediaProxy', async ({ params, reply }) => {
    const facts = needReady(await store.row(params.id));
    return facts.kind === 'photo' ? send(reply, params.id, 'proxy.jpg', 'image/jpeg') : send(reply, params.id, 'proxy.mp4', 'video/mp4');
  });
  handle(app, 'mediaOriginal', async ({ params, reply }) => {
    const row = await store.row(params.id);
    if (row.status === 'failed') throw new ProblemError('not-found', row.error ?? 'That file could not be read.');
    void reply.header('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(row.fileName)}`);
    return send(reply, params.id, 'original', 'application/octet-stream');
  });
  handle(app, 'mediaFilmstrip', async ({ params, reply }) => {
    const row = await store.row(params.id);
    if (!row.filmstrip) throw new ProblemError('not-ready', `The filmstrip of “${row.name}” is not made yet.`);
    return send(reply, params.id, 'filmstrip.jpg', 'image/jpeg');
  });
  handle(app, 'mediaPeaks', async ({ params, query, reply }) => {
    const row = await store.row(params.id);
    const bin = PEAK_BINS.find((b) => b === query.bin);
    if (!bin) throw new ProblemError('bad-request', `Peaks come in bins of ${PEAK_BINS.join(', ')} samples.`);
    if (!row.complete || !row.facts?.hasSound) throw new ProblemError('not-ready', `There is no waveform of “${row.name}”.`);
    return send(reply, params.id, `peaks-${bin}`, 'application/octet-stream');
  });
  handle(app, 'mediaSound', async ({ params, query, reply }) => {
    const facts = needReady(await store.row(params.id));
    if (!facts.hasSound) throw new ProblemError('not-found', `“${facts.name}” has no sound.`);
    const samples = await readSound(folder.file(params.id, 'sound.f32'), query.from, query.count);
    return reply.type('application/octet-stream').header('cache-control', FOREVER).send(samples);
  });
}
