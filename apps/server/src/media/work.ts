import { ProblemError } from '../http/problem';
import type { DataFolder } from './folders';
import { discard, embellish, prepare } from './prepare';
import type { MediaStore } from './store';

/** Does all the work on a new item, or what is left of it after a crash. */
export async function workOnMedia(store: MediaStore, folder: DataFolder, id: string): Promise<void> {
  let row = await store.row(id);
  if (row.complete) return;
  let told = 0;
  const onStep = (step: 'reading' | 'proxy', progress: number) => {
    if (Date.now() - told < 250 && progress > 0) return;
    told = Date.now();
    void store.setWork(id, { step, progress }, row);
  };
  try {
    if (row.status === 'preparing') {
      const prepared = await prepare(folder, id, row.fileName, onStep);
      const facts = { ...prepared.facts, id, name: row.name };
      await store.setWork(id, { step: 'filmstrip', progress: 0 });
      await store.update(id, { status: 'ready', facts, source: prepared.source, frames: prepared.frames, sha256: prepared.sha256 });
      row = await store.row(id);
    }
    if (row.facts) {
      const { filmstrip } = await embellish(folder, id, row.facts);
      await store.setWork(id, null, row);
      await store.update(id, { filmstrip, complete: true });
    }
  } catch (error) {
    await store.setWork(id, null, row);
    const sentence =
      error instanceof ProblemError
        ? error.message
        : `“${row.fileName}” could not be prepared: the server ran into an error of its own. Bring it in again.`;
    await discard(folder, id);
    await store.update(id, { status: 'failed', error: sentence, complete: true });
    if (!(error instanceof ProblemError)) throw error;
  }
}
