import { ProblemError } from '../http/problem';
import { isDiskFull } from '../media/run';
import { NotAsItShould } from './verify';

/** Why an export could not be made, and what to do: a sentence or two. */
export function whyItFailed(error: unknown): string {
  if (error instanceof ProblemError) return error.message;
  if (error instanceof NotAsItShould)
    return `The finished file was looked at and is not as it should be, so it was not kept. ${error.message} Send again.`;
  if (isDiskFull(error)) return 'The disk of the server is full. Free some space and send again: what is rendered is kept.';
  return 'The export stopped with an error of the server’s own. Send again: what is rendered is kept.';
}
