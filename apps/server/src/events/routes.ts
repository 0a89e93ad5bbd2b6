import { EVENTS_URL } from '@flimzy/contract';
import type { FastifyInstance } from 'fastify';
import type { EventHub } from './hub';

/** How often a silent connection says it is alive, in ms, so that nothing on the way closes it. */
const HEARTBEAT = 20_000;

/** `GET /api/events`: everything that happens, as it happens. */
export function eventRoutes(app: FastifyInstance, hub: EventHub): void {
  const open = new Set<() => void>();
  app.get(EVENTS_URL, { schema: { summary: 'What happens, as server-sent events.', tags: ['events'] } }, (request, reply) => {
    reply.hijack();
    const { raw } = reply;
    raw.writeHead(200, {
      ...(reply.getHeaders() as Record<string, string>),
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      connection: 'keep-alive',
    });
    const send = (data: unknown) => raw.write(`data: ${JSON.stringify(data)}\n\n`);
    send({ type: 'hello' });
    const stop = hub.listen(send);
    const beat = setInterval(() => raw.write(': still here\n\n'), HEARTBEAT);
    const close = () => {
      clearInterval(beat);
      stop();
      open.delete(close);
      raw.end();
    };
    open.add(close);
    request.raw.on('close', close);
  });
  app.addHook('preClose', async () => {
    for (const close of [...open]) close();
  });
}
