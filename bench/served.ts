import { randomUUID } from 'node:crypto';
import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { OURS_HEADER, UPLOADS_URL, type OpenedPiece } from '@flimzy/contract';
import { listenTo, type Hear } from '../apps/server/test/running';
import { serve, withDemo, type Serving } from '../e2e/serving';

/** A server on a copy of the demo, to be measured. */
export interface Served {
  server: Serving;
  /** Its data folder. */
  data: string;
  /** Calls its API. @throws Error with what it said */
  api<T>(method: string, url: string, body?: unknown): Promise<T>;
  /** Waits for something that it tells. */
  hear: Hear;
  /** Sends a file whole; gives the id of its item. */
  upload(file: string, name: string): Promise<string>;
  /** Does edits to a piece in one step. @throws Error with the sentence of a refusal */
  together(piece: string, edits: readonly unknown[]): Promise<void>;
  /** Ends it, and forgets what was done there. */
  close(): Promise<void>;
}

export async function servedDemo(): Promise<Served> {
  const data = mkdtempSync(path.join(tmpdir(), 'flimzy-bench-'));
  cpSync(await withDemo(), data, { recursive: true });
  const server = await serve(data);
  async function api<T>(method: string, url: string, body?: unknown): Promise<T> {
    const headers = { [OURS_HEADER]: '1', ...(body === undefined ? {} : { 'content-type': 'application/json' }) };
    const response = await fetch(server.address + url, {
      method,
      headers,
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!response.ok) throw new Error(`${method} ${url}: ${await response.text()}`);
    return (await response.json()) as T;
  }
  return {
    server,
    data,
    api,
    hear: await listenTo(server.address),
    async upload(file, name) {
      const bytes = readFileSync(file);
      const headers = { 'tus-resumable': '1.0.0', [OURS_HEADER]: '1' };
      const begun = await fetch(server.address + UPLOADS_URL, {
        method: 'POST',
        headers: { ...headers, 'upload-length': String(bytes.length), 'upload-metadata': `filename ${btoa(name)}` },
      });
      const place = begun.headers.get('location') ?? '';
      await fetch(new URL(place, server.address), {
        method: 'PATCH',
        headers: { ...headers, 'upload-offset': '0', 'content-type': 'application/offset+octet-stream' },
        body: bytes,
      });
      return place.split('/').at(-1) ?? '';
    },
    async together(piece, edits) {
      const { revision } = await api<OpenedPiece>('GET', `/api/pieces/${piece}`);
      const requests = [{ kind: 'do', id: randomUUID(), name: 'together', params: { title: 'Many', edits } }];
      const url = `/api/pieces/${piece}/edits`;
      const { refused } = await api<{ refused: { sentence: string }[] }>('POST', url, { since: revision, requests });
      if (refused[0]) throw new Error(refused[0].sentence);
    },
    async close() {
      await server.stop();
      rmSync(data, { recursive: true, force: true });
    },
  };
}
