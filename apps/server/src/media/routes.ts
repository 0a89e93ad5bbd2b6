import { closeSync, openSync } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { PEAK_BINS } from '@flimzy/core/analyse';
import type { Hearing } from '@flimzy/core/sound';
import type { FastifyInstance, FastifyReply } from 'fastify';
import { proxyOf } from '../deliveries/pictures';
import type { Stills } from '../deliveries/stills';
import { attached } from '../http/attached';
import { leaving } from '../http/leaving';
import { ProblemError } from '../http/problem';
import { handle } from '../http/register';
import { fieldsAt } from './fields';
import type { DataFolder, MediaFile } from './folders';
import { HEARING } from './hearing';
import { LIGHT, type LightMeter } from './light';
import { readPcm } from './pcm';
import type { MediaRow, MediaStore } from './store';
import { readTile } from './tiles';

/** What an item's files never do: change. */
const FOREVER = 'private, max-age=31536000, immutable';

function need(row: MediaRow, there: boolean): NonNullable<MediaRow['facts']> {
  if (row.status === 'failed') throw new ProblemError('not-found', row.error ?? 'That file could not be read.');
  if (!there || !row.facts) throw new ProblemError('not-ready', `“${row.name}” is still being prepared.`);
  return row.facts;
}

const needReady = (row: MediaRow) => need(row, row.status === 'ready');

/** Samples of decoded sound, interleaved 32-bit floats, over full scale too: what export and preview hear alike. */
function readSound(file: string, from: number, count: number): Buffer {
  const handle = openSync(file, 'r');
  try {
    const samples = readPcm(handle, from, count);
    return Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength);
  } finally {
    closeSync(handle);
  }
}

export function mediaRoutes(
  app: FastifyInstance,
  store: MediaStore,
  folder: DataFolder,
  light: LightMeter,
  stills: Stills,
  again: (id: string) => Promise<void>,
): void {
  const needUsable = (row: MediaRow) => need(row, store.isUsable(row));
  const send = (reply: FastifyReply, id: string, name: MediaFile, type: string) =>
    reply.type(type).header('cache-control', FOREVER).sendFile(name, folder.medium(id), { cacheControl: false });

  handle(app, 'listMedia', () => store.list());
  handle(app, 'getMedia', ({ params }) => store.get(params.id));
  handle(app, 'deleteMedia', ({ params }) => store.row(params.id).then(() => store.update(params.id, { deletedAt: new Date() })));
  handle(app, 'restoreMedia', async ({ params }) => {
    const row = await store.row(params.id);
    if (row.purgedAt) throw new ProblemError('not-found', `“${row.name}” was removed for good, to free its space.`);
    return store.update(params.id, { deletedAt: null });
  });
  handle(app, 'prepareAgain', async ({ params }) => {
    const row = await store.row(params.id);
    if (!row.error) return store.get(params.id);
    if (!(await stat(folder.file(row.id, 'original')).catch(() => null)))
      throw new ProblemError('not-found', `The file of “${row.name}” is no longer on the server. Bring it in again.`);
    const status = row.status === 'ready' ? 'ready' : 'preparing';
    const item = await store.update(row.id, { status, complete: false, error: null });
    await again(row.id);
    return item;
  });
  handle(app, 'mediaFrames', async ({ params, reply }) => {
    const row = await store.row(params.id);
    needUsable(row);
    if (!row.frames) throw new ProblemError('not-found', `“${row.name}” is not a video.`);
    void reply.header('cache-control', row.status === 'ready' ? FOREVER : 'no-store');
    return row.frames;
  });
  handle(app, 'mediaProxy', async ({ params, query, reply }) => {
    const row = await store.row(params.id);
    needReady(row);
    const name = proxyOf(row, query.fields === 'recorded');
    const type = {
      'proxy.mp4': 'video/mp4',
      'proxy-fields.mp4': 'video/mp4',
      'proxy.webm': 'video/webm',
      'proxy.jpg': 'image/jpeg',
      'proxy.png': 'image/png',
    }[name];
    return send(reply, params.id, name, type);
  });
  handle(app, 'mediaOriginal', async ({ params, reply }) => {
    const row = await store.row(params.id);
    void reply.header('content-disposition', attached(row.fileName));
    return send(reply, params.id, 'original', 'application/octet-stream');
  });
  handle(app, 'mediaFilmstrip', async ({ params, reply }) => {
    const row = await store.row(params.id);
    if (!row.filmstrip) throw new ProblemError('not-ready', `The filmstrip of “${row.name}” is not made yet.`);
    return send(reply, params.id, 'filmstrip.jpg', 'image/jpeg');
  });
  handle(app, 'mediaTile', async ({ params, query, reply }) => {
    const { name, filmstrip } = await store.row(params.id);
    if (!filmstrip?.sharp) throw new ProblemError('not-ready', `The pictures of “${name}” are not made yet.`);
    const tile = await readTile(folder.file(params.id, 'tiles'), query.n);
    if (!tile) throw new ProblemError('not-found', `“${name}” has ${filmstrip.count} pictures.`);
    return reply.type('image/jpeg').header('cache-control', FOREVER).send(tile);
  });
  handle(app, 'mediaAt', async ({ params, query, reply }) => {
    const row = await store.row(params.id);
    if (!needUsable(row).interlaced) throw new ProblemError('not-found', `“${row.name}” is not interlaced.`);
    const key = `fields ${row.id} ${JSON.stringify(query)}`;
    const bytes = await stills.get(key, (signal) => fieldsAt(folder, row, query, signal), leaving(reply));
    return reply.type('image/jpeg').header('cache-control', FOREVER).send(bytes);
  });
  handle(app, 'mediaPeaks', async ({ params, query, reply }) => {
    const row = await store.row(params.id);
    const bin = PEAK_BINS.find((b) => b === query.bin);
    if (!bin) throw new ProblemError('bad-request', `Peaks come in bins of ${PEAK_BINS.join(', ')} samples.`);
    if (!needUsable(row).hasSound) throw new ProblemError('not-ready', `There is no waveform of “${row.name}”.`);
    return send(reply, params.id, `peaks-${bin}`, 'application/octet-stream');
  });
  handle(app, 'mediaHearing', async ({ params, reply }) => {
    const row = await store.row(params.id);
    if (!row.made || !(HEARING in row.made)) throw new ProblemError('not-ready', `“${row.name}” was not listened to yet.`);
    void reply.header('cache-control', FOREVER);
    return JSON.parse(await readFile(folder.file(params.id, HEARING), 'utf8')) as Hearing;
  });
  handle(app, 'mediaLight', async ({ params, reply }) => {
    const row = await store.row(params.id);
    if (needReady(row).width === 0) throw new ProblemError('not-found', `“${row.name}” has no picture.`);
    await light.measure(row);
    return send(reply, params.id, LIGHT, 'application/octet-stream');
  });
  handle(app, 'mediaSound', async ({ params, query, reply }) => {
    const facts = needUsable(await store.row(params.id));
    if (!facts.hasSound) throw new ProblemError('not-found', `“${facts.name}” has no sound.`);
    const samples = readSound(folder.file(params.id, 'sound.pcm'), query.from, query.count);
    return reply.type('application/octet-stream').header('cache-control', FOREVER).send(samples);
  });
}
