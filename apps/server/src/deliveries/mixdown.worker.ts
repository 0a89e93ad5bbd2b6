import { closeSync, openSync, writeSync } from 'node:fs';
import { workerData } from 'node:worker_threads';
import { onlyTrack, type Piece } from '@flimzy/core/piece';
import { duckLines, mix, type Hearing, type Stereo } from '@flimzy/core/sound';
import { readStereo } from '../media/pcm';

/** What the worker is given: the piece, from which sample to which, and where decoded sound is. */
export interface MixdownTask {
  piece: Piece;
  from: number;
  to: number;
  /** The one track that is mixed, as it lies in the whole; null: all. */
  track: string | null;
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
const piece = task.track === null ? task.piece : onlyTrack(task.piece, task.track);
const out = openSync(task.target, 'w');
for (let from = task.from; from < task.to; from += BLOCK) {
  const to = Math.min(task.to, from + BLOCK);
  const sound = mix(piece, from, to, read, { lines });
  const bytes = Buffer.alloc((to - from) * 8);
  for (let i = 0; i < to - from; i += 1) {
    bytes.writeFloatLE(sound.left[i] as number, i * 8);
    bytes.writeFloatLE(sound.right[i] as number, i * 8 + 4);
  }
  writeSync(out, bytes);
}
closeSync(out);
for (const handle of open.values()) closeSync(handle);
