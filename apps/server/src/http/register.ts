import { ROUTES, type RouteName } from '@flimzy/contract';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { z } from 'zod';

type Spec<N extends RouteName> = (typeof ROUTES)[N];
type Parsed<S, K extends string> = S extends Record<K, infer Z extends z.ZodType> ? z.output<Z> : undefined;
type Answer<S> = S extends { answer: infer A } ? (A extends z.ZodType ? z.input<A> : FastifyReply) : never;

/** What a handler gets: the validated parts of the request. */
export interface Given<N extends RouteName> {
  params: Parsed<Spec<N>, 'params'>;
  query: Parsed<Spec<N>, 'query'>;
  body: Parsed<Spec<N>, 'body'>;
  request: FastifyRequest;
  reply: FastifyReply;
}

/** Registers a route of the contract: its place, its validation and its documentation come from there. */
export function handle<N extends RouteName>(app: FastifyInstance, name: N, handler: (given: Given<N>) => Promise<Answer<Spec<N>>>): void {
  const spec: {
    method: 'GET' | 'POST' | 'DELETE' | 'PATCH';
    url: string;
    summary: string;
    params?: z.ZodType;
    query?: z.ZodType;
    body?: z.ZodType;
    answer: unknown;
  } = ROUTES[name];
  const json = spec.answer instanceof z.ZodType;
  app.route({
    method: spec.method,
    url: spec.url,
    schema: {
      summary: spec.summary,
      operationId: name,
      tags: [spec.url.split('/')[2] ?? 'api'],
      ...(spec.params ? { params: spec.params } : {}),
      ...(spec.query ? { querystring: spec.query } : {}),
      ...(spec.body ? { body: spec.body } : {}),
      ...(json ? { response: { 200: spec.answer } } : {}),
    },
    handler: async (request, reply) =>
      handler({ params: request.params, query: request.query, body: request.body, request, reply } as Given<N>),
  });
}
