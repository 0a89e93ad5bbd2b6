import type { z } from 'zod';

/** One route: where it is, what goes in, what comes out. The server registers it and the app calls it from this alone. */
export interface Route {
  method: 'GET' | 'POST' | 'DELETE' | 'PATCH';
  url: string;
  summary: string;
  params?: z.ZodObject;
  query?: z.ZodObject;
  body?: z.ZodType;
  /** What it answers: a schema for JSON, or the type of the bytes. */
  answer: z.ZodType | { bytes: string };
}

/** Declares a route with its types inferred. */
export const route = <const R extends Route>(r: R): R => r;
