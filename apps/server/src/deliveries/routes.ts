import type { FastifyInstance } from 'fastify';
import { ProblemError } from '../http/problem';
import { handle } from '../http/register';
import type { JobQueue } from '../jobs/queue';
import type { PieceStore } from '../pieces/store';
import type { DeliveryStore } from './store';

export function deliveryRoutes(app: FastifyInstance, store: DeliveryStore, pieces: PieceStore, queue: JobQueue): void {
  handle(app, 'listDeliveries', ({ query }) => store.list(query.piece));
  handle(app, 'newDelivery', async ({ body }) => {
    const { delivery, fresh } = await store.create(await pieces.head(body.piece));
    if (fresh) await queue.send('deliver', delivery.id);
    return delivery;
  });
  handle(app, 'cancelDelivery', ({ params }) => store.cancel(params.id));
  handle(app, 'deleteDelivery', ({ params }) => store.setDeleted(params.id, true));
  handle(app, 'restoreDelivery', ({ params }) => store.setDeleted(params.id, false));
  handle(app, 'deliveryFile', async ({ params, reply }) => {
    const row = await store.get(params.id);
    if (row.status !== 'done') throw new ProblemError('not-ready', 'That export is not finished.');
    void reply.header(
      'content-disposition',
      `attachment; filename="${row.fileName.replace(/[^\x20-\x7e]|["\\]/g, '-')}"; filename*=UTF-8''${encodeURIComponent(row.fileName)}`,
    );
    return reply.type('video/mp4').sendFile(`${row.id}.mp4`, store.folderOfFiles());
  });
}
