import { PROBLEMS, type Problem, type ProblemName } from '@flimzy/contract';
import type { FastifyInstance, FastifyReply } from 'fastify';
import { isDiskFull } from '../media/run';
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod';

/** An error for people: a name from the table and a sentence that says what happened and what to do. */
export class ProblemError extends Error {
  override name = 'ProblemError';
  constructor(
    readonly problem: ProblemName,
    sentence: string,
  ) {
    super(sentence);
  }
}

/** The body of an error answer (RFC 9457). */
export function problemBody(name: ProblemName, detail: string): Problem {
  return { type: `/problems/${name}`, title: PROBLEMS[name].title, status: PROBLEMS[name].status, detail };
}

function sendProblem(reply: FastifyReply, name: ProblemName, detail: string): FastifyReply {
  return reply
    .code(PROBLEMS[name].status)
    .header('content-type', 'application/problem+json')
    .send(JSON.stringify(problemBody(name, detail)));
}

const BY_STATUS: Record<number, ProblemName> = {
  400: 'bad-request',
  404: 'not-found',
  401: 'needs-code',
  403: 'wrong-door',
  413: 'too-large',
  415: 'unsupported-media',
  416: 'bad-range',
  429: 'too-many',
};

/** One handler for every error of the API. */
export function problemHandler(app: FastifyInstance): void {
  app.setErrorHandler((error: Error & { statusCode?: number; code?: string }, request, reply) => {
    if (error instanceof ProblemError) return sendProblem(reply, error.problem, error.message);
    if (hasZodFastifySchemaValidationErrors(error))
      return sendProblem(
        reply,
        'bad-request',
        `The request does not fit: ${error.validation.map((v) => `${v.instancePath || 'it'} ${v.message}`).join('; ')}.`,
      );
    if (isDiskFull(error))
      return sendProblem(reply, 'no-space', 'The disk of the server is full. Free some space, then try again; nothing is lost.');
    const name = error.statusCode ? BY_STATUS[error.statusCode] : undefined;
    if (name) return sendProblem(reply, name, error.message);
    request.log.error(error);
    return sendProblem(reply, 'internal', 'The server ran into an error of its own. Nothing was changed; try again.');
  });
}
