import type { QueryClient, QueryKey } from '@tanstack/react-query';
import { saving } from './saving';

/** Serialises requests that store something, so that each builds on the one before. */
let queue: Promise<unknown> = Promise.resolve();
let open = 0;
/** Views to invalidate once no edit is on its way: sooner, they would show an older state. */
const waiting = new Map<string, QueryKey>();

export function inTurn<T>(client: QueryClient, work: () => Promise<T>): Promise<T> {
  open++;
  saving.begin();
  const done = queue.then(work, work);
  queue = done.catch(() => {});
  const end = () => {
    open--;
    saving.end(open === 0 ? fetchWaiting(client) : Promise.resolve());
  };
  done.then(end, end);
  return done;
}

/** Invalidates views: at once, or when the edits on their way have been answered. */
export function refetch(client: QueryClient, ...queryKeys: readonly QueryKey[]): void {
  for (const key of queryKeys) waiting.set(JSON.stringify(key), key);
  if (open === 0) void fetchWaiting(client);
}

async function fetchWaiting(client: QueryClient): Promise<void> {
  const all = [...waiting.values()];
  waiting.clear();
  await Promise.all(all.map((queryKey) => client.invalidateQueries({ queryKey })));
}

/**
 * Cancels fetches of cached views, which may return the state before an edit, and repeats them afterwards. Call it
 * after the optimistic update: the query library reverts to the cached state.
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
