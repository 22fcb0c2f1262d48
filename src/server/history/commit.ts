import type { DocName } from '@/contract/documents';
import type { Change, EditAnswer, EditRequest, Touched } from '@/contract/edits';
import { type Fields, kindOf } from '@/contract/kinds';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { withRoom } from '../db/reserve';
import { ahead } from '../db/turns';
import { checkOwnRules, checkRules } from './rules';
import { checkDoc, childrenOf, deleteDoc, insertDoc, isField, prepared, readDoc, scopeOf, updateDoc } from './tables';

/** Change of one document: its fields before and after; null where it did not exist, or no longer does. */
export interface ChangeRecord {
  readonly doc: DocName;
  readonly id: string;
  readonly before: Fields | null;
  readonly after: Fields | null;
}

/**
 * Commits one gesture: all its changes and its place in the history, in one transaction. Throws `stale` where a document
 * has another revision than the sender saw, `not-found`, `out-of-range` (schema) or `refused` (a rule between documents);
 * then nothing is changed.
 */
export function commitEdit(db: Db, request: EditRequest): EditAnswer {
  return committing(db, () => {
    const before = answered(db, request.key);
    if (before) return before;
    const records = request.changes.flatMap((change) => apply(db, change));
    const touched = records.map((record) => touch(db, record));
    checkRules(db, records);
    // A new edit discards edits that were undone and could be redone.
    prepared(db, "UPDATE edit SET state = 'dropped' WHERE browser = ? AND state = 'undone'").run(request.browser);
    const { browser, label, key } = request;
    const entry = { browser, label, kind: 'edit', reverses: null, state: 'done', key } as const;
    const editId = record(db, entry, records);
    return { editId, label, touched: lastOfEach(touched) };
  });
}

/**
 * The answer to an earlier request with this key, where it was committed and the answer was lost; an undo is identified
 * by the edit it undid.
 */
export function answered(db: Db, key: string | undefined): EditAnswer | null {
  if (key === undefined) return null;
  const edit = prepared(
    db,
    'SELECT e.id, ifnull(o.label, e.label) AS label FROM edit e LEFT JOIN edit o ON o.id = e.reverses WHERE e.key = ?',
  ).get(key) as { id: number; label: string } | undefined;
  if (!edit) return null;
  return { editId: edit.id, label: edit.label, touched: lastOfEach(readChanges(db, edit.id).map((c) => touch(db, c))) };
}

export function readChanges(db: Db, editId: number): ChangeRecord[] {
  const rows = prepared(db, 'SELECT doc, doc_id, before, after FROM change WHERE edit_id = ? ORDER BY ordinal').all(
    editId,
  ) as {
    doc: DocName;
    doc_id: string;
    before: string | null;
    after: string | null;
  }[];
  return rows.map((row) => ({
    doc: row.doc,
    id: row.doc_id,
    before: row.before === null ? null : (JSON.parse(row.before) as Fields),
    after: row.after === null ? null : (JSON.parse(row.after) as Fields),
  }));
}

/**
 * Commits with priority over bulk work and, on a full disk, with the reserve's room. Errors of the database are worded
 * for people.
 */
export function committing<T>(db: Db, commit: () => T): T {
  try {
    return ahead(() => withRoom(db, () => db.transaction(commit).immediate()));
  } catch (error) {
    const { code, message } = error as { code?: string; message: string };
    if (!code?.startsWith('SQLITE_CONSTRAINT')) throw error;
    if (code === 'SQLITE_CONSTRAINT_FOREIGNKEY')
      throw new UndercroftError(
        'refused',
        'Something else still needs what would be removed, or names what is not there.',
      );
    throw new UndercroftError('out-of-range', `The workspace does not take this: ${message}.`);
  }
}

/** Writes an edit with its changes into the history; part of the caller's transaction. */
export function record(
  db: Db,
  edit: {
    browser: string;
    label: string;
    kind: 'edit' | 'undo' | 'redo';
    reverses: number | null;
    state: 'done' | 'dropped';
    key?: string | undefined;
  },
  records: readonly ChangeRecord[],
): number {
  const { lastInsertRowid } = prepared(
    db,
    'INSERT INTO edit (browser, label, at, kind, reverses, state, key) VALUES (?, ?, ?, ?, ?, ?, ?)',
  ).run(edit.browser, edit.label, Date.now(), edit.kind, edit.reverses, edit.state, edit.key ?? null);
  const insert = prepared(
    db,
    'INSERT INTO change (edit_id, ordinal, doc, doc_id, before, after) VALUES (?, ?, ?, ?, ?, ?)',
  );
  for (const [i, { doc, id, before, after }] of records.entries()) {
    insert.run(lastInsertRowid, i, doc, id, before && JSON.stringify(before), after && JSON.stringify(after));
  }
  return Number(lastInsertRowid);
}

function apply(db: Db, change: Change): ChangeRecord[] {
  const { doc, id } = change;
  if (change.op === 'create') {
    if (kindOf(doc).lasting)
      throw new UndercroftError('refused', `A ${doc} comes with its audio and cannot be made by an edit.`);
    const value = checkDoc(doc, { ...change.value, id });
    checkOwnRules(doc, value);
    if (readDoc(db, doc, id)) throw new UndercroftError('refused', `There is a ${doc} with the id ${id} already.`);
    insertDoc(db, doc, value, 1);
    return [{ doc, id, before: null, after: value }];
  }
  const now = readDoc(db, doc, id);
  if (!now) throw new UndercroftError('not-found', `The ${doc} ${id} is not there (any more).`);
  if (now.rev !== change.rev) {
    throw new UndercroftError(
      'stale',
      `The ${doc} was changed elsewhere in the meantime. It is shown as it is now; try again.`,
    );
  }
  if (change.op === 'remove') {
    if (kindOf(doc).lasting) throw new UndercroftError('refused', `A ${doc} cannot be removed by an edit.`);
    return removeWithChildren(db, doc, id, now.value);
  }
  for (const field of Object.keys(change.set)) {
    if (!isField(doc, now.value, field)) {
      throw new UndercroftError(
        'out-of-range',
        `A ${doc} has no field "${field}" that can be changed.`,
        `${doc}.${field}`,
      );
    }
  }
  const value = checkDoc(doc, { ...now.value, ...change.set });
  checkOwnRules(doc, value);
  const names = Object.keys(change.set);
  if (names.length === 0) return [];
  const after = pick(value, names);
  updateDoc(db, doc, value, names, now.rev + 1);
  return [{ doc, id, before: pick(now.value, names), after }];
}

function removeWithChildren(db: Db, doc: DocName, id: string, value: Fields): ChangeRecord[] {
  const below = childrenOf(db, doc, id).flatMap((child) => {
    const found = readDoc(db, child.doc, child.id);
    return found ? removeWithChildren(db, child.doc, child.id, found.value) : [];
  });
  deleteDoc(db, doc, id);
  return [...below, { doc, id, before: value, after: null }];
}

export function pick(value: Fields, names: readonly string[]): Fields {
  return Object.fromEntries(names.map((name) => [name, value[name]]));
}

/** The current revision of a document, and the recording or kit whose view it belongs to. */
export function touch(db: Db, { doc, id, before }: ChangeRecord): Touched {
  const now = readDoc(db, doc, id);
  const scope = scopeOf(db, doc, id, now?.value ?? before ?? {});
  return { doc, id, rev: now?.rev ?? null, scope };
}

export function lastOfEach(touched: readonly Touched[]): Touched[] {
  return [...new Map(touched.map((t) => [`${t.doc} ${t.id}`, t])).values()];
}
