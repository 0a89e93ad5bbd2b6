import type { FastifyInstance } from 'fastify';
import { attached } from '../http/attached';
import { handle } from '../http/register';
import type { JobQueue } from '../jobs/queue';
import type { Arrivals } from './arrivals';
import { writeArchive, type Stores } from './write';

export function archiveRoutes(app: FastifyInstance, arrivals: Arrivals, stores: Stores, queue: JobQueue): void {
  handle(app, 'pieceArchive', async ({ params, reply }) => {
    const { name, bytes, size } = await writeArchive(stores, params.id);
    reply.raw.once('close', () => bytes.destroy());
    return reply
      .header('content-disposition', attached(`${name}.flimzy.zip`))
      .header('content-length', size)
      .type('application/zip')
      .send(bytes);
  });
  handle(app, 'listArrivals', async () => arrivals.list());
  handle(app, 'arrivalAgain', async ({ params }) => {
    const arrival = await arrivals.again(params.id);
    await queue.send('arrive', arrival.id);
    return arrival;
  });
  handle(app, 'deleteArrival', ({ params }) => arrivals.remove(params.id));
}
