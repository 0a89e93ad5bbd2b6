import { closeSync, openSync, writeSync } from 'node:fs';
import { workerData } from 'node:worker_threads';
import type { Piece } from '@flimzy/core/piece';
import { duckLines, mix, type Hearing, type Stereo } from '@flimzy/core/sound';
import { readStereo } from '../media/pcm';

/** What the worker is given: the piece, its length in samples, and where decoded sound is. */
export interface MixdownTask {
  piece: Piece;
  samples: number;
  files: Record<string, string>;
  /** What was heard in the material, where the piece needs to know. */
  hearings: Record<string, Hearing>;
  target: string;
}

/** Samples mixed at a time. */
const BLOCK = 65_536;

const task = workerData as MixdownTask;
const open = new Map<string, number>();

function read(media: string, from: number, count: number): Stereo | null {
  const file = task.files[media];
  if (!file) return null;
  let handle = open.get(media);
  if (handle === undefined) open.set(media, (handle = openSync(file, 'r')));
  return readStereo(handle, from, count);
}

const lines = duckLines(task.piece, (media) => task.hearings[media] ?? null);
const out = openSync(task.target, 'w');
for (let from = 0; from < task.samples; from += BLOCK) {
  const to = Math.min(task.samples, from + BLOCK);
  const sound = mix(task.piece, from, to, read, { lines });
  const bytes = Buffer.alloc((to - from) * 8);
  for (let i = 0; i < to - from; i += 1) {
    bytes.writeFloatLE(sound.left[i] as number, i * 8);
    bytes.writeFloatLE(sound.right[i] as number, i * 8 + 4);
  }
  writeSync(out, bytes);
}
closeSync(out);
for (const handle of open.values()) closeSync(handle);
