import { WAV_HEADER, wavHeader } from '@flimzy/core/sound';
import { openSync } from '../look/syncHandle';
import type { TakeNote } from './messages';

/** The folder of the takes in this device's own storage. */
export const FOLDER = 'takes';
export const fileOf = (id: string) => `${id}.wav`;
export const noteOf = (id: string) => `${id}.json`;

/** Where a take is written to, sample by sample; what was written before {@link flush} is whole whatever happens to the page. */
export interface Sink {
  readonly safe: boolean;
  /** Adds samples at the end. */
  write(samples: Float32Array): void;
  flush(): void;
  /** Ends it and gives the file. */
  finish(): Promise<Blob>;
}

/** In the storage of this device. @throws where the browser has none for workers */
async function stored(note: TakeNote): Promise<Sink> {
  const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle(FOLDER, { create: true });
  const words = await openSync(folder, noteOf(note.id));
  words.handle.write(new TextEncoder().encode(JSON.stringify(note)), { at: 0 });
  words.handle.flush();
  words.handle.close();
  const { file, handle } = await openSync(folder, fileOf(note.id));
  let samples = 0;
  handle.truncate(0);
  handle.write(wavHeader(0), { at: 0 });
  const flush = () => {
    handle.write(wavHeader(samples), { at: 0 });
    handle.flush();
  };
  flush();
  return {
    safe: true,
    write(more) {
      handle.write(more, { at: WAV_HEADER + samples * 4 });
      samples += more.length;
    },
    flush,
    async finish() {
      flush();
      handle.close();
      return file.getFile();
    },
  };
}

/** In memory: what is recorded is lost with the page. */
function inMemory(): Sink {
  const parts: Float32Array<ArrayBuffer>[] = [];
  let samples = 0;
  return {
    safe: false,
    write(more) {
      parts.push(more.slice());
      samples += more.length;
    },
    flush: () => undefined,
    finish: () => Promise.resolve(new Blob([wavHeader(samples).slice().buffer, ...parts])),
  };
}

export const openSink = (note: TakeNote): Promise<Sink> => stored(note).catch(inMemory);
