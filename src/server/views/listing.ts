import type { ListPage } from '@/contract/views';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** Rows of the first page, which should appear at once, and of later ones. */
const FIRST_ROWS = 300;
const NEXT_ROWS = 1500;

/** A list that pages show whole and update by its changes. */
export interface Listed<T> {
  readonly list: 'hits' | 'recordings';
  /** Rows by the list's own order, from the one after `after` on; `next` names the last one where there may be more. */
  page(db: Db, after: readonly string[] | null, limit: number): { rows: T[]; next: readonly string[] | null };
  byIds(db: Db, ids: readonly string[]): T[];
}

export interface ListQuery {
  /** The cursor of an earlier answer: only changes since then are requested. */
  readonly since?: string | undefined;
  /** The `next` of the page before. */
  readonly after?: string | undefined;
}

/**
 * A page of a list, or its changes since an earlier answer. Changes made while pages are read are found by asking with
 * the first page's cursor afterwards. A cursor of another workspace is answered with a first page.
 */
export function listPage<T extends { readonly id: string }>(
  db: Db,
  listed: Listed<T>,
  { since, after }: ListQuery,
): ListPage<T> {
  const read = () => {
    const clock = prepared(db, 'SELECT epoch, at FROM list_clock WHERE list = ?').get(listed.list) as Clock;
    const cursor = `${clock.epoch}.${clock.at}`;
    const from = since === undefined ? null : timeOf(since, clock);
    if (from !== null) return { cursor, next: null, whole: false, ...changedSince(db, listed, from) };
    const key = after === undefined ? null : (JSON.parse(after) as string[]);
    const { rows, next } = listed.page(db, key, key === null ? FIRST_ROWS : NEXT_ROWS);
    return { cursor, rows, gone: [], next: next === null ? null : JSON.stringify(next), whole: key === null };
  };
  // One transaction: rows and clock are of the same moment.
  return db.transaction(read).deferred();
}

interface Clock {
  readonly epoch: string;
  readonly at: number;
}

/** The time of a cursor, or null where it belongs to another workspace, as after a backup was restored. */
function timeOf(cursor: string, { epoch, at }: Clock): number | null {
  const [of, time] = cursor.split('.');
  const from = Number(time);
  return of === epoch && Number.isSafeInteger(from) && from <= at ? from : null;
}

function changedSince<T extends { readonly id: string }>(
  db: Db,
  listed: Listed<T>,
  from: number,
): { rows: T[]; gone: string[] } {
  const changed = prepared(db, 'SELECT id FROM list_change WHERE list = ? AND at > ?').all(listed.list, from) as {
    id: string;
  }[];
  const rows =
    changed.length === 0
      ? []
      : listed.byIds(
          db,
          changed.map(({ id }) => id),
        );
  const there = new Set(rows.map(({ id }) => id));
  return { rows, gone: changed.filter(({ id }) => !there.has(id)).map(({ id }) => id) };
}
