import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { cubeFile } from '@flimzy/core/formats';
import type { Effect } from '@flimzy/core/properties';
import type { SegmentWork } from './work';

/** ffmpeg cuts off what is over a whole level, where the kernel rounds. */
const HALF = 0.5 / 255;

/** A file's name within a chain of filters: for the option it is in, and for the chain. */
const named = (file: string) => file.replace(/[\\':]/g, '\\$&').replace(/[\\'[\],;]/g, '\\$&');

/** Does work with the filter that does effects of colour; null where there are none. Its table is a file for as long. */
export async function withColours(
  { target }: SegmentWork,
  effects: readonly Effect[],
  render: (filter: string | null) => Promise<unknown>,
): Promise<void> {
  if (effects.length === 0) return void (await render(null));
  const folder = await mkdtemp(path.join(path.dirname(target), 'work-'));
  try {
    const table = path.join(folder, 'look.cube');
    await writeFile(table, cubeFile(effects, 'look', { more: HALF }));
    // The way between entries that the kernel goes, too.
    await render(`lut3d=file=${named(table)}:interp=tetrahedral`);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
