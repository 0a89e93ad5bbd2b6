import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { OURS_HEADER } from '@flimzy/contract';
import { serve, withDemo, type Serving } from '../e2e/serving';

/** A server on a copy of the demo, to be measured. */
export interface Served {
  server: Serving;
  /** Its data folder. */
  data: string;
  /** Calls its API. @throws Error with what it said */
  api<T>(method: string, url: string, body?: unknown): Promise<T>;
  /** Ends it, and forgets what was done there. */
  close(): Promise<void>;
}

export async function servedDemo(): Promise<Served> {
  const data = mkdtempSync(path.join(tmpdir(), 'flimzy-bench-'));
  cpSync(await withDemo(), data, { recursive: true });
  const server = await serve(data);
  return {
    server,
    data,
    async api<T>(method: string, url: string, body?: unknown): Promise<T> {
      const headers = { [OURS_HEADER]: '1', ...(body === undefined ? {} : { 'content-type': 'application/json' }) };
      const response = await fetch(server.address + url, {
        method,
        headers,
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
      if (!response.ok) throw new Error(`${method} ${url}: ${await response.text()}`);
      return (await response.json()) as T;
    },
    async close() {
      await server.stop();
      rmSync(data, { recursive: true, force: true });
    },
  };
}
