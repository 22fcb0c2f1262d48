import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { ServerEvent } from '@/contract/edits';
import type { ScanProgress } from '@/contract/imports';
import { tellInstead } from '../parts/notice';
import { Throttle } from '../parts/throttle';
import { tabId } from './api';
import { refetchTouched } from './commit';
import { decoding } from './decoding';
import { unhearable } from './descriptions';
import { preparing } from './preparing';
import { keys } from './queries';
import { saving } from './saving';
import { refetch } from './turns';

/**
 * Slices arrive in batches, several a second: their view is fetched at most once in this time, and once more at the
 * end.
 */
const DESCRIBED_MS = 400;
const described = new Throttle(DESCRIBED_MS);

/** Files arrive several a second: lists are fetched at most once in this time. */
const LISTED_MS = 300;
const listed = new Throttle(LISTED_MS);

/** At most so many files that a scan could not import are named. */
const SHOWN_FAILURES = 200;

/** The stream was closed for a while, and anything may have changed. */
interface Missed {
  readonly type: 'missed';
}

/** Prefix of all lock and channel names. */
const EVERYTHING = [] as const;

/** A tab that gets the lock within this time has missed no events. */
const AT_ONCE_MS = 2000;
/** Delay before reconnecting after a refused stream. */
const RECONNECT_MS = 3000;

/**
 * Follows the server's events. One tab of the browser holds the stream (elected by a lock) and broadcasts events to the
 * others, because browsers allow only few connections to a server.
 */
export function useServerEvents(): void {
  const client = useQueryClient();
  useEffect(() => {
    const channel = new BroadcastChannel('undercroft-events');
    const gone = new AbortController();
    const hear = (event: ServerEvent | Missed) => {
      if (event.type === 'missed') {
        refetch(client, EVERYTHING);
        return;
      }
      if (event.type === 'edit') {
        if (event.tab !== tabId) refetchTouched(client, event.touched);
        return;
      }
      if (event.type === 'preparing') {
        if (event.tab === tabId) preparing.set(event.share);
        return;
      }
      if (event.type === 'decoding') {
        decoding.tell(event.key, event.share);
        return;
      }
      if (event.type === 'scan') {
        client.setQueryData<ScanProgress | null>(keys.scan(event.scan.folderId), (before) => ({
          ...event.scan,
          failed: [...(event.scan.begun ? [] : (before?.failed ?? [])), ...event.scan.failed].slice(0, SHOWN_FAILURES),
        }));
        if (event.scan.finished) refetch(client, keys.folders, keys.hits);
        return;
      }
      if (event.type === 'hits') {
        listed.run('hits', () => refetch(client, keys.hits));
        return;
      }
      if (event.type === 'described') {
        const { recordingId, whole, error } = event;
        if (error === null)
          described.run(recordingId, () => refetch(client, keys.sounds(recordingId)), { last: whole });
        else {
          unhearable.add(recordingId);
          tellInstead(recordingId, `The slices could not be listened to: ${error}`, { error: true });
        }
        return;
      }
      if (event.type === 'analysis') {
        client.setQueryData(keys.analysis(event.recordingId), event.progress);
        if (event.progress < 1) return;
        refetch(client, keys.cut(event.recordingId));
      }
      listed.run('recordings', () => refetch(client, keys.recordings));
    };
    channel.onmessage = (message: MessageEvent<ServerEvent | Missed>) => hear(message.data);
    const tell = (event: ServerEvent | Missed) => {
      channel.postMessage(event);
      hear(event);
    };
    const asked = performance.now();
    void navigator.locks
      .request('undercroft-events', { signal: gone.signal }, () => {
        // A tab that waited for the lock, or whose stream broke, has missed events.
        let missed = performance.now() - asked > AT_ONCE_MS;
        let source: EventSource;
        let timer: ReturnType<typeof setTimeout> | undefined;
        const connect = () => {
          source = new EventSource('/api/events');
          source.onmessage = (message: MessageEvent<string>) => tell(JSON.parse(message.data) as ServerEvent);
          source.onerror = () => {
            saving.away();
            // The browser reconnects by itself, except after an answer that is not a stream.
            if (source.readyState === EventSource.CLOSED) timer = setTimeout(connect, RECONNECT_MS);
          };
          source.onopen = () => {
            saving.back();
            if (missed) tell({ type: 'missed' });
            missed = true;
          };
        };
        connect();
        return new Promise<void>((resolve) => {
          gone.signal.addEventListener('abort', () => {
            clearTimeout(timer);
            source.close();
            resolve();
          });
        });
      })
      .catch(() => {
        // The page was closed before it got the lock.
      });
    return () => {
      gone.abort();
      channel.close();
    };
  }, [client]);
}
