import type { QueryClient, QueryKey } from '@tanstack/react-query';
import type { ListPage } from '@/contract/views';
import { getJson } from './api';

/** A list as the server had it when it was last asked. */
interface Known<T> {
  readonly cursor: string;
  readonly rows: ReadonlyMap<string, T>;
}

const known = new Map<string, Known<{ readonly id: string }>>();

/**
 * A list of the server's: at first page by page, the first of which is shown at once, then only what has changed since. Rows that have
 * not changed stay the same objects.
 */
export async function fetchList<T extends { readonly id: string }>(
  client: QueryClient,
  queryKey: QueryKey,
  path: string,
  order: (a: T, b: T) => number,
  signal: AbortSignal,
): Promise<readonly T[]> {
  const before = known.get(path) as Known<T> | undefined;
  const first = await getJson<ListPage<T>>(`${path}?paged=yes${before ? `&since=${before.cursor}` : ''}`);
  if (before && !first.whole) return keep(path, first.cursor, merged(before.rows, first), order);
  const rows = [...first.rows];
  for (let { next } = first; next !== null; ) {
    if (signal.aborted) throw signal.reason;
    if (client.getQueryData(queryKey) === undefined) client.setQueryData(queryKey, [...rows]);
    const page = await getJson<ListPage<T>>(`${path}?paged=yes&after=${encodeURIComponent(next)}`);
    rows.push(...page.rows);
    next = page.next;
  }
  const whole = new Map(rows.map((row) => [row.id, row]));
  // What changed while the pages came.
  const since = first.next === null ? null : await getJson<ListPage<T>>(`${path}?paged=yes&since=${first.cursor}`);
  return keep(path, (since ?? first).cursor, since ? merged(whole, since) : whole, order);
}

function merged<T extends { readonly id: string }>(
  rows: ReadonlyMap<string, T>,
  { rows: changed, gone }: ListPage<T>,
): ReadonlyMap<string, T> {
  if (changed.length === 0 && gone.length === 0) return rows;
  const next = new Map(rows);
  for (const id of gone) next.delete(id);
  for (const row of changed) next.set(row.id, row);
  return next;
}

function keep<T extends { readonly id: string }>(
  path: string,
  cursor: string,
  rows: ReadonlyMap<string, T>,
  order: (a: T, b: T) => number,
): readonly T[] {
  known.set(path, { cursor, rows });
  return [...rows.values()].sort(order);
}

const byCase = (text: string) => text.replace(/[A-Z]/g, (letter) => letter.toLowerCase());

/** As the server orders names: without regard to the case of ASCII letters. */
export function byName(a: { readonly name: string; readonly id: string }, b: typeof a): number {
  const [x, y] = [byCase(a.name), byCase(b.name)];
  return x < y ? -1 : x > y ? 1 : a.id < b.id ? -1 : 1;
}

export function byArrival(a: { readonly arrivedAt: number; readonly id: string }, b: typeof a): number {
  return a.arrivedAt - b.arrivedAt || (a.id < b.id ? -1 : 1);
}
