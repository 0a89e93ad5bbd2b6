import type { FastifyReply } from 'fastify';

/** Aborted when the one who asks closes the connection. */
export function leaving(reply: FastifyReply): AbortSignal {
  const left = new AbortController();
  reply.raw.once('close', () => left.abort());
  return left.signal;
}
