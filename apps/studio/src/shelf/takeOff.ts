import type { MediaItem } from '@flimzy/contract';
import { call } from '../api/client';
import { KEYS, putInto, takeOut } from '../api/queries';
import { say } from '../look/Toast';

/** Takes an item off every shelf; its original stays, and pieces that use it keep it. */
export async function takeOffEverywhere(item: MediaItem): Promise<void> {
  takeOut(KEYS.media, item.id);
  await call('deleteMedia', { params: { id: item.id } }).catch((e: Error) => {
    putInto(KEYS.media, item);
    say(e.message);
  });
  if (item.status === 'failed') return;
  say(`“${item.name}” is off the shelf. Pieces that use it keep it.`, {
    label: 'Put back',
    run: () =>
      void call('restoreMedia', { params: { id: item.id } })
        .then((back) => putInto(KEYS.media, back))
        .catch((e: Error) => say(e.message)),
  });
}
