import type { ServerEvent } from '@/contract/edits';

/** Those who listen to the event stream, one a browser. */
export class Events {
  private readonly listeners = new Set<(event: ServerEvent) => void>();

  listen(listener: (event: ServerEvent) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  send(event: ServerEvent): void {
    for (const listener of this.listeners) listener(event);
  }
}
