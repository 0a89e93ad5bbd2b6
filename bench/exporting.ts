import { readdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { Delivery } from '@flimzy/contract';
import type { DeliverySettings } from '@flimzy/core/deliver';
import type { Served } from './served';

/** The same settings as apps/server/src/deliveries/encoding.ts, as anyone would type them. */
export const CODEC =
  '-c:v libx264 -preset veryfast -profile:v high -crf 19 -pix_fmt yuv420p -g 60 -bf 2 -c:a aac -b:a 192k -ar 48000 -ac 2'.split(' ');

/**
 * Exports, with settings if some are wished for, and gives what came out. It waits to be told, as the app does: asking forty times a second took a
 * sixth of a core from what is measured.
 */
export async function exported({ api, hear }: Served, piece: string, settings?: DeliverySettings): Promise<Delivery> {
  const { id } = await api<Delivery>('POST', '/api/deliveries', { piece, settings });
  const isOver = (one: Delivery) => one.id === id && !['waiting', 'rendering'].includes(one.status);
  const event = await hear((one) => one.type === 'delivery' && isOver(one.delivery));
  if (event.type !== 'delivery' || event.delivery.status !== 'done') throw new Error(JSON.stringify(event));
  return event.delivery;
}

/** Exports once and gives the seconds from asking until the file is there; it is forgotten then, so that the next one is made. */
export async function exportOnce(served: Served, piece: string): Promise<number> {
  const began = performance.now();
  const { id } = await exported(served, piece);
  const seconds = (performance.now() - began) / 1000;
  await served.api('DELETE', `/api/deliveries/${id}`);
  return seconds;
}

/** Lets the next export render all of it anew. */
export function forgetSegments({ data }: Served): void {
  for (const name of readdirSync(path.join(data, 'segments'))) rmSync(path.join(data, 'segments', name));
}
