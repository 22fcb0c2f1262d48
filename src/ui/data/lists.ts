import type { QueryClient, QueryKey } from '@tanstack/react-query';
import type { ListPage } from '@/contract/views';
import { getJson } from './api';

/** A list as the server had it when it was last asked. */
interface Known<T> {
  readonly cursor: string;
  readonly rows: ReadonlyMap<string, T>;
}

const known = new Map<string, Known<{ readonly id: string }>>();
/** Lists that are being read from their first page: who asks meanwhile waits for that, however often it is asked. */
const reading = new Map<string, Promise<void>>();

/**
 * A list of the server's: at first page by page, the first of which is shown at once, then only what has changed since. Rows that have
 * not changed stay the same objects.
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
  // Another workspace is served at this address by now.
  if (page.whole) await read(page);
  else known.set(path, { cursor: page.cursor, rows: merged(before.rows, page) });
  return [...(known.get(path) as Known<T>).rows.values()].sort(order);
}

/** Reads a list page by page; the first is shown where nothing is yet. What changes meanwhile is for who asks next. */
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

/** As the server orders names: without regard to the case of ASCII letters. */
export function byName(a: { readonly name: string; readonly id: string }, b: typeof a): number {
  const [x, y] = [byCase(a.name), byCase(b.name)];
  return x < y ? -1 : x > y ? 1 : a.id < b.id ? -1 : 1;
}

export function byArrival(a: { readonly arrivedAt: number; readonly id: string }, b: typeof a): number {
  return a.arrivedAt - b.arrivedAt || (a.id < b.id ? -1 : 1);
}
