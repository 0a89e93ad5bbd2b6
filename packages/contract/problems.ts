import { z } from 'zod';

/** An error as the API sends it (RFC 9457, application/problem+json). `detail` is a sentence for people. */
export const Problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
});
export type Problem = z.infer<typeof Problem>;

/** Every error the API can answer with: name, status and what it is called. The sentence is written where it happens. */
export const PROBLEMS = {
  'bad-request': { status: 400, title: 'That request makes no sense' },
  'wrong-door': { status: 403, title: 'Not from here' },
  'needs-code': { status: 401, title: 'A code is needed' },
  'not-found': { status: 404, title: 'Not there' },
  'not-ready': { status: 409, title: 'Not ready yet' },
  'there-already': { status: 409, title: 'There already' },
  'in-use': { status: 409, title: 'Still in use' },
  'too-large': { status: 413, title: 'Too large' },
  'bad-range': { status: 416, title: 'Past the end' },
  'unsupported-media': { status: 415, title: 'Not a media file Flimzy can read' },
  'too-many': { status: 429, title: 'Too many requests' },
  'no-space': { status: 507, title: 'The disk is full' },
  internal: { status: 500, title: 'Something went wrong on the server' },
} as const;
export type ProblemName = keyof typeof PROBLEMS;
