import { readFile } from 'node:fs/promises';
import { Hearing } from '@flimzy/core/sound';
import { thread } from '../files/thread';
import { whole } from '../files/whole';
import type { DataFolder } from './folders';
import type { ListeningTask } from './listening.worker';

/** The file, in an item's folder, of what was heard in it. */
export const HEARING = 'hearing.json';

/** Listens to an item's decoded sound, in a thread of its own, and keeps what was heard. */
export async function listenTo(folder: DataFolder, id: string, signal?: AbortSignal, onProgress?: (share: number) => void): Promise<void> {
  const sound = folder.file(id, 'sound.pcm');
  await whole(folder.file(id, HEARING), (target) =>
    thread<ListeningTask>('listening', { sound, target }, signal, (share) => onProgress?.(share as number)),
  );
}

/** What was heard in an item; it is listened to now when that was not done yet. */
export async function hearingOf(folder: DataFolder, id: string, signal?: AbortSignal): Promise<Hearing> {
  const read = async () => Hearing.parse(JSON.parse(await readFile(folder.file(id, HEARING), 'utf8')));
  return read().catch(async () => {
    await listenTo(folder, id, signal);
    return read();
  });
}
