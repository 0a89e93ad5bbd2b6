import { EVENTS_URL, ServerEvent } from '@flimzy/contract';
import { create } from 'zustand';
import { deliveriesOf, KEYS, postsOf, putInto, queryClient, takeOut } from './queries';

/** Whether the server can be reached just now. */
export const useOnline = create<{ online: boolean }>(() => ({ online: true }));

const pieceListeners = new Set<(id: string, revision: number) => void>();

/** Calls back whenever any piece has changed on the server. */
export function onPieceChanged(listener: (id: string, revision: number) => void): () => void {
  pieceListeners.add(listener);
  return () => pieceListeners.delete(listener);
}

function takeIn(event: ServerEvent): void {
  switch (event.type) {
    case 'media':
      if (event.item.deletedAt) takeOut(KEYS.media, event.item.id);
      else putInto(KEYS.media, event.item);
      break;
    case 'media-gone':
      takeOut(KEYS.media, event.id);
      break;
    case 'delivery':
      if (event.delivery.deletedAt) takeOut(deliveriesOf(event.delivery.piece), event.delivery.id);
      else putInto(deliveriesOf(event.delivery.piece), event.delivery);
      break;
    case 'arrival':
      putInto(KEYS.arrivals, event.arrival);
      break;
    case 'arrival-gone':
      takeOut(KEYS.arrivals, event.id);
      break;
    case 'post':
      putInto(postsOf(event.post.piece), event.post);
      break;
    case 'post-gone':
      takeOut(postsOf(event.piece), event.id);
      break;
    case 'accounts':
      void queryClient.invalidateQueries({ queryKey: KEYS.platforms });
      break;
    case 'piece':
      void queryClient.invalidateQueries({ queryKey: KEYS.pieces });
      for (const listener of pieceListeners) listener(event.id, event.revision);
      break;
    case 'hello':
      // First, or back after an interruption: what was missed is asked for.
      useOnline.setState({ online: true });
      void queryClient.invalidateQueries();
      for (const listener of pieceListeners) listener('*', 0);
  }
}

/** Listens to the server for as long as the app is open; the browser connects again by itself. */
export function listenToServer(): () => void {
  const source = new EventSource(EVENTS_URL);
  source.onmessage = (message) => {
    const event = ServerEvent.safeParse(JSON.parse(String(message.data)));
    if (event.success) takeIn(event.data);
  };
  source.onerror = () => useOnline.setState({ online: false });
  return () => source.close();
}
