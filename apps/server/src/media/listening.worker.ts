import { closeSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { Listener, weightsOf } from '@flimzy/core/analyse';
import { SAMPLE_RATE } from '@flimzy/core/time';
import { pcmFrames, readStereo } from './pcm';

/** What the worker is given: a file of decoded sound, and where to write what was heard in it. */
export interface ListeningTask {
  sound: string;
  target: string;
}

/** Sample frames listened to at a time: 10 s. */
const BLOCK = SAMPLE_RATE * 10;

const { sound, target } = workerData as ListeningTask;
const listener = new Listener(weightsOf(readFileSync(new URL('../assets/speech.f32', import.meta.url))));
const handle = openSync(sound, 'r');
const frames = pcmFrames(handle);
for (let from = 0; from < frames; from += BLOCK) {
  listener.push(readStereo(handle, from, BLOCK));
  parentPort?.postMessage(Math.min(1, (from + BLOCK) / frames));
}
closeSync(handle);
writeFileSync(target, JSON.stringify(listener.finish()));
