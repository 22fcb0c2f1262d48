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

/** Slices come in batches, several a second: what is new is fetched no oftener than this, and when they are whole. */
const DESCRIBED_MS = 400;
const described = new Throttle(DESCRIBED_MS);

/** Files come in and are listened to several a second: lists are asked for anew no oftener than this. */
const LISTED_MS = 300;
const listed = new Throttle(LISTED_MS);

/** Files that a scan could not take in are named up to so many. */
const SHOWN_FAILURES = 200;

/** The stream was closed for a while: anything may have changed. */
interface Missed {
  readonly type: 'missed';
}

/** What all keys begin with. */
const EVERYTHING = [] as const;

/** A page to which the stream is given within this time was given it as it came. */
const AT_ONCE_MS = 2000;
/** After a stream that was refused another is asked for. */
const RECONNECT_MS = 3000;

/**
 * Listens to what the server tells. One tab of the browser holds the stream (a lock elects it) and passes events on to
 * the others, since browsers allow a server only few open connections.
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
        // A page that has waited for its turn, or whose stream was broken off, has not heard what was told meanwhile.
        let missed = performance.now() - asked > AT_ONCE_MS;
        let source: EventSource;
        let timer: ReturnType<typeof setTimeout> | undefined;
        const connect = () => {
          source = new EventSource('/api/events');
          source.onmessage = (message: MessageEvent<string>) => tell(JSON.parse(message.data) as ServerEvent);
          source.onerror = () => {
            saving.away();
            // The browser tries again by itself unless it was answered with something else than a stream.
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
        // The page went before its turn came.
      });
    return () => {
      gone.abort();
      channel.close();
    };
  }, [client]);
}
