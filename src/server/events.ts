import type { ServerEvent } from '@/contract/edits';
import type { Told } from './jobs/protocol';

/** Subscribers of the event stream, one a browser. */
export class Events {
  private readonly listeners = new Set<(event: ServerEvent) => void>();

  listen(listener: (event: ServerEvent) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  send(event: ServerEvent): void {
    for (const listener of this.listeners) listener(event);
  }

  /** Passes on reports of worker threads. */
  tellOf(message: Told): void {
    const { recordingId } = message;
    switch (message.type) {
      case 'progress':
        this.send({ type: 'analysis', recordingId, progress: message.progress });
        break;
      case 'removed':
      case 'recovered':
        this.send({ type: 'recordings' });
        break;
      case 'described':
        this.send({ type: 'described', recordingId, whole: false, error: null });
        break;
      case 'settled': {
        const { kind, error } = message;
        if (error) console.error(`${kind} ${recordingId}: ${error}`);
        if (kind === 'describe') this.send({ type: 'described', recordingId, whole: true, error });
        if (kind !== 'analyse') break;
        this.send({ type: 'analysis', recordingId, progress: 1 });
        this.send({ type: 'recordings' });
        this.send({ type: 'hits' });
        break;
      }
    }
  }
}
