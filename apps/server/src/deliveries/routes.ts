import path from 'node:path';
import { cuesBeside } from '@flimzy/core/deliver';
import { CAPTION_FILES, captionFile } from '@flimzy/core/formats';
import type { FastifyInstance } from 'fastify';
import { attached } from '../http/attached';
import { ProblemError } from '../http/problem';
import { handle } from '../http/register';
import type { JobQueue } from '../jobs/queue';
import type { PieceStore } from '../pieces/store';
import type { FormatStore } from './formats';
import { kindOf } from './sent';
import { settingsOf, type DeliveryStore } from './store';

export function deliveryRoutes(
  app: FastifyInstance,
  store: DeliveryStore,
  pieces: PieceStore,
  queue: JobQueue,
  formats: FormatStore,
): void {
  handle(app, 'listDeliveries', ({ query }) => store.list(query.piece));
  handle(app, 'newDelivery', async ({ body }) => {
    const { delivery, fresh } = await store.create(await pieces.head(body.piece), body.settings, body.name);
    if (fresh) await queue.send('deliver', delivery.id);
    return delivery;
  });
  handle(app, 'estimateDelivery', async ({ body }) => store.estimate(await pieces.head(body.piece), body.settings));
  handle(app, 'cancelDelivery', ({ params }) => store.cancel(params.id));
  handle(app, 'pauseDelivery', ({ params }) => store.pause(params.id));
  handle(app, 'resumeDelivery', async ({ params }) => {
    const { delivery, fresh } = await store.resume(params.id);
    if (fresh) await queue.send('deliver', delivery.id);
    return delivery;
  });
  handle(app, 'firstDelivery', ({ params }) => store.first(params.id));
  handle(app, 'pieceOfDelivery', async ({ params }) => {
    const { document, createdAt } = await store.get(params.id);
    return pieces.copyOf(document, `as sent ${createdAt.toISOString().slice(0, 10)}`);
  });
  handle(app, 'deleteDelivery', ({ params }) => store.setDeleted(params.id, true));
  handle(app, 'restoreDelivery', ({ params }) => store.setDeleted(params.id, false));
  handle(app, 'listFormats', () => formats.list());
  handle(app, 'saveFormat', ({ body }) => formats.save(body));
  handle(app, 'deleteFormat', ({ params }) => formats.remove(params.id));
  handle(app, 'deliveryFile', async ({ params, reply }) => {
    const row = await store.get(params.id);
    if (row.status !== 'done') throw new ProblemError('not-ready', 'That export is not finished.');
    void reply.header('content-disposition', attached(row.fileName));
    return reply.type(kindOf(row.settings).mime).sendFile(path.basename(store.fileOf(row)), store.folderOfFiles());
  });
  handle(app, 'deliveryCaptions', async ({ params, reply }) => {
    const row = await store.get(params.id);
    const cues = cuesBeside(row.document, settingsOf(row));
    if (cues.length === 0) throw new ProblemError('not-found', 'No captions go beside that export.');
    const { extension, mime } = CAPTION_FILES[params.kind];
    void reply.header('content-disposition', attached(`${path.parse(row.fileName).name}.${extension}`));
    return reply.type(`${mime}; charset=utf-8`).send(captionFile(cues, params.kind));
  });
}
