import { closeSync, openSync, readSync, writeSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import type { Piece } from '@flimzy/core/piece';
import { mix, type Stereo } from '@flimzy/core/sound';

/** What the worker is given: the piece, its length in samples, and where decoded sound is. */
export interface MixdownTask {
  piece: Piece;
  samples: number;
  files: Record<string, string>;
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
  const bytes = Buffer.alloc(count * 8);
  const got = Math.floor(readSync(handle, bytes, 0, bytes.length, from * 8) / 8);
  const left = new Float32Array(got);
  const right = new Float32Array(got);
  for (let i = 0; i < got; i += 1) {
    left[i] = bytes.readFloatLE(i * 8);
    right[i] = bytes.readFloatLE(i * 8 + 4);
  }
  return { left, right };
}

const out = openSync(task.target, 'w');
for (let from = 0; from < task.samples; from += BLOCK) {
  const to = Math.min(task.samples, from + BLOCK);
  const sound = mix(task.piece, from, to, read);
  const bytes = Buffer.alloc((to - from) * 8);
  for (let i = 0; i < to - from; i += 1) {
    bytes.writeFloatLE(sound.left[i] as number, i * 8);
    bytes.writeFloatLE(sound.right[i] as number, i * 8 + 4);
  }
  writeSync(out, bytes);
}
closeSync(out);
for (const handle of open.values()) closeSync(handle);
parentPort?.postMessage('done');
