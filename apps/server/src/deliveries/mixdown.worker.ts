import { closeSync, openSync, writeSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import type { Piece } from '@flimzy/core/piece';
import { mix, type Stereo } from '@flimzy/core/sound';
import { readPcm } from '../media/pcm';

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
  const samples = readPcm(handle, from, count);
  const left = new Float32Array(samples.length / 2);
  const right = new Float32Array(samples.length / 2);
  for (let i = 0; i < left.length; i += 1) {
    left[i] = samples[i * 2] as number;
    right[i] = samples[i * 2 + 1] as number;
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
