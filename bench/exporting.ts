import { readdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { Delivery } from '@flimzy/contract';
import type { Served } from './served';

/** The same settings as apps/server/src/deliveries/encoding.ts, as anyone would type them. */
export const CODEC =
  '-c:v libx264 -preset veryfast -profile:v high -crf 19 -pix_fmt yuv420p -g 60 -bf 2 -c:a aac -b:a 192k -ar 48000 -ac 2'.split(' ');

/** Exports once and gives the seconds from asking until the file is there; it is forgotten then, so that the next one is made. */
export async function exportOnce({ api }: Served, piece: string): Promise<number> {
  const began = performance.now();
  const { id } = await api<Delivery>('POST', '/api/deliveries', { piece });
  for (;;) {
    const now = (await api<Delivery[]>('GET', `/api/deliveries?piece=${piece}`)).find((d) => d.id === id);
    if (now?.status === 'done') {
      const seconds = (performance.now() - began) / 1000;
      await api('DELETE', `/api/deliveries/${id}`);
      return seconds;
    }
    if (now?.status === 'failed') throw new Error(now.error ?? 'failed');
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
}

/** Lets the next export render all of it anew. */
export function forgetSegments({ data }: Served): void {
  for (const name of readdirSync(path.join(data, 'segments'))) rmSync(path.join(data, 'segments', name));
}
