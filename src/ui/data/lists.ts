import type { QueryClient, QueryKey } from '@tanstack/react-query';
import type { ListPage } from '@/contract/views';
import { getJson } from './api';

/** A list as the server returned it last. */
interface Known<T> {
  readonly cursor: string;
  readonly rows: ReadonlyMap<string, T>;
}

const known = new Map<string, Known<{ readonly id: string }>>();
/** First readings under way: further requests wait for the same one. */
const reading = new Map<string, Promise<void>>();

/**
 * A list of the server: read page by page at first, showing the first page at once; later only changes are fetched.
 * Unchanged rows stay the same objects.
 */
export async function fetchList<T extends { readonly id: string }>(
  client: QueryClient,
  queryKey: QueryKey,
  path: string,
  order: (a: T, b: T) => number,
): Promise<readonly T[]> {
  const read = (page: ListPage<T>) => {
    const going = reading.get(path) ?? readAll(client, queryKey, path, page).finally(() => reading.delete(path));
    reading.set(path, going);
    return going;
  };
  if (!known.has(path)) await (reading.get(path) ?? read(await getJson<ListPage<T>>(`${path}?paged=yes`)));
  const before = known.get(path) as Known<T>;
  const page = await getJson<ListPage<T>>(`${path}?paged=yes&since=${before.cursor}`);
  // Another workspace is now served at this address.
  if (page.whole) await read(page);
  else known.set(path, { cursor: page.cursor, rows: merged(before.rows, page) });
  return [...(known.get(path) as Known<T>).rows.values()].sort(order);
}

/**
 * Reads a list page by page and shows the first page where nothing is shown yet. Changes made meanwhile come with the
 * next fetch.
 */
async function readAll<T extends { readonly id: string }>(
  client: QueryClient,
  queryKey: QueryKey,
  path: string,
  first: ListPage<T>,
): Promise<void> {
  const rows = [...first.rows];
  if (first.next !== null && client.getQueryData(queryKey) === undefined) client.setQueryData(queryKey, [...rows]);
  for (let { next } = first; next !== null; ) {
    const page = await getJson<ListPage<T>>(`${path}?paged=yes&after=${encodeURIComponent(next)}`);
    rows.push(...page.rows);
    next = page.next;
  }
  known.set(path, { cursor: first.cursor, rows: new Map(rows.map((row) => [row.id, row])) });
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

const byCase = (text: string) => text.replace(/[A-Z]/g, (letter) => letter.toLowerCase());

/** The server's order of names: case-insensitive for ASCII. */
export function byName(a: { readonly name: string; readonly id: string }, b: typeof a): number {
  const [x, y] = [byCase(a.name), byCase(b.name)];
  return x < y ? -1 : x > y ? 1 : a.id < b.id ? -1 : 1;
}

export function byArrival(a: { readonly arrivedAt: number; readonly id: string }, b: typeof a): number {
  return a.arrivedAt - b.arrivedAt || (a.id < b.id ? -1 : 1);
}
