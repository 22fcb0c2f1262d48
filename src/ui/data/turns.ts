import type { QueryClient, QueryKey } from '@tanstack/react-query';
import { saving } from './saving';

/** Requests that store something go out one after another, so that each meets what the one before it made. */
let queue: Promise<unknown> = Promise.resolve();
let open = 0;
/** What is to be fetched anew once nothing is on its way any more: sooner, it would show what was before. */
const waiting = new Map<string, QueryKey>();

export function inTurn<T>(client: QueryClient, work: () => Promise<T>): Promise<T> {
  open++;
  saving.begin();
  const done = queue.then(work, work);
  queue = done.catch(() => {});
  const end = () => {
    open--;
    saving.end();
    if (open === 0) fetchWaiting(client);
  };
  done.then(end, end);
  return done;
}

/** Has views fetched anew: at once, or when the edits that are on their way have been answered. */
export function refetch(client: QueryClient, ...queryKeys: readonly QueryKey[]): void {
  for (const key of queryKeys) waiting.set(JSON.stringify(key), key);
  if (open === 0) fetchWaiting(client);
}

function fetchWaiting(client: QueryClient): void {
  const all = [...waiting.values()];
  waiting.clear();
  for (const queryKey of all) void client.invalidateQueries({ queryKey });
}

/**
 * Stops fetches of views that are shown already, since they may bring what was before an edit in hand; they are taken up
 * again afterwards. To be called after the edit has been shown: the query library then falls back to just that.
 */
export function holdFetches(client: QueryClient, places: readonly QueryKey[]): void {
  for (const queryKey of places) {
    for (const query of client.getQueryCache().findAll({ queryKey, fetchStatus: 'fetching' })) {
      if (query.state.data === undefined) continue;
      waiting.set(JSON.stringify(query.queryKey), query.queryKey);
      void query.cancel({ revert: true });
    }
  }
}
