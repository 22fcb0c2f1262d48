import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { toast } from 'sonner';
import type { ServerEvent } from '@/contract/edits';
import { Spaced } from '../parts/spaced';
import { tabId } from './api';
import { refetchTouched } from './commit';
import { decoding } from './decoding';
import { keys } from './queries';
import { refetch } from './turns';

/** Slices come in batches, several a second: all that are there are fetched anew and put on shelves no oftener than this. */
const DESCRIBED_MS = 800;
const described = new Spaced(DESCRIBED_MS);

/**
 * Listens to what the server tells. One tab of the browser holds the stream (a lock elects it) and passes events on to
 * the others, since browsers allow a server only few open connections.
 */
export function useServerEvents(): void {
  const client = useQueryClient();
  useEffect(() => {
    const channel = new BroadcastChannel('undercroft-events');
    const gone = new AbortController();
    const hear = (event: ServerEvent) => {
      if (event.type === 'edit') {
        if (event.tab !== tabId) refetchTouched(client, event.touched);
        return;
      }
      if (event.type === 'decoding') {
        decoding.tell(event.key, event.share);
        return;
      }
      if (event.type === 'scan') {
        client.setQueryData(keys.scan(event.scan.folderId), event.scan);
        if (event.scan.finished) refetch(client, keys.folders, keys.hits);
        return;
      }
      if (event.type === 'hits') {
        refetch(client, keys.hits);
        return;
      }
      if (event.type === 'described') {
        const key = keys.sounds(event.recordingId);
        if (event.error === null) described.run(event.recordingId, () => refetch(client, key));
        // Not asked for again by itself: the same slice would fail again.
        else toast.error(`The slices could not be listened to: ${event.error}`, { id: event.recordingId });
        return;
      }
      if (event.type === 'analysis') {
        client.setQueryData(keys.analysis(event.recordingId), event.progress);
        if (event.progress < 1) return;
        refetch(client, keys.cut(event.recordingId));
      }
      refetch(client, keys.recordings);
    };
    channel.onmessage = (message: MessageEvent<ServerEvent>) => hear(message.data);
    void navigator.locks
      .request('undercroft-events', { signal: gone.signal }, () => {
        const source = new EventSource('/api/events');
        source.onmessage = (message: MessageEvent<string>) => {
          const event = JSON.parse(message.data) as ServerEvent;
          channel.postMessage(event);
          hear(event);
        };
        return new Promise<void>((resolve) => {
          gone.signal.addEventListener('abort', () => {
            source.close();
            resolve();
          });
        });
      })
      .catch(() => {
        // The page went before its turn came.
      });
    return () => {
      gone.abort();
      channel.close();
    };
  }, [client]);
}
