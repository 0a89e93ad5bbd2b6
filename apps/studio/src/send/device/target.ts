import { BufferTarget, StreamTarget, type StreamTargetChunk, type Target } from 'mediabunny';
import { openSync } from '../../look/syncHandle';

/** The folder of what is made, in this device's own storage. */
const FOLDER = 'exports';

/** Where a file is written to as it is made. */
export interface Place {
  target: Target;
  /** Whether it may not be longer than the memory. */
  inMemory: boolean;
  finish(): Promise<Blob>;
  /** Gives up what was written. */
  drop(): Promise<void>;
}

/** In the storage of this device: what was made before goes, since it was handed over. @throws where the browser has none for workers */
async function onDisk(name: string): Promise<Place> {
  const root = await navigator.storage.getDirectory();
  await root.removeEntry(FOLDER, { recursive: true }).catch(() => undefined);
  const folder = await root.getDirectoryHandle(FOLDER, { create: true });
  const { file, handle } = await openSync(folder, name);
  handle.truncate(0);
  let open = true;
  const close = () => {
    if (!open) return;
    open = false;
    handle.flush();
    handle.close();
  };
  const stream = new WritableStream<StreamTargetChunk>({
    write: ({ data, position }) => {
      if (handle.write(data, { at: position }) < data.length) throw new Error('the storage of this device is full');
    },
  });
  return {
    target: new StreamTarget(stream, { chunked: true, chunkSize: 4 * 1024 ** 2 }),
    inMemory: false,
    async finish() {
      close();
      return file.getFile();
    },
    async drop() {
      close();
      await folder.removeEntry(name).catch(() => undefined);
    },
  };
}

function inMemory(): Place {
  const target = new BufferTarget();
  return {
    target,
    inMemory: true,
    finish: () => Promise.resolve(new Blob([target.buffer ?? new ArrayBuffer(0)], { type: 'video/mp4' })),
    drop: () => Promise.resolve(),
  };
}

export const openPlace = (name: string): Promise<Place> => onDisk(name).catch(inMemory);
