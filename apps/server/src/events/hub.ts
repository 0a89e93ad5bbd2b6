import type { ServerEvent } from '@flimzy/contract';

/** Passes what happens on to everyone who listens: the open pages, by server-sent events. */
export class EventHub {
  private readonly listeners = new Set<(event: ServerEvent) => void>();

  tell(event: ServerEvent): void {
    for (const listener of this.listeners) listener(event);
  }

  listen(listener: (event: ServerEvent) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
}
