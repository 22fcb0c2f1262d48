import type { DocName } from '@/contract/documents';
import type { Change, EditAnswer, EditRequest, Touched } from '@/contract/edits';
import { UndercroftError } from '@/core/errors';
import { freeName } from '@/core/naming/names';
import type { Db } from '../db/open';
import { withRoom } from '../db/reserve';
import { ahead } from '../db/turns';
import {
  checkDoc,
  childrenOf,
  deleteDoc,
  type Fields,
  insertDoc,
  prepared,
  readDoc,
  TABLES,
  updateDoc,
} from './tables';

/** What was done to one document: fields before and after; null for "was not there" and "is no more". */
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
    // What was undone and not redone is left behind once something else is done.
    prepared(db, "UPDATE edit SET state = 'dropped' WHERE browser = ? AND state = 'undone'").run(request.browser);
    const { browser, label, key } = request;
    const entry = { browser, label, kind: 'edit', reverses: null, state: 'done', key } as const;
    const editId = record(db, entry, records);
    return { editId, label, touched: lastOfEach(touched) };
  });
}

/** What was answered to a request of this key, where it was done already and its answer was lost; an undo is named by what it undid. */
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
 * Commits ahead of bulk work and, where the disk is full, with the room that is kept for it. What the database itself refuses is said
 * in the job's words.
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
    if (TABLES[doc].lasting)
      throw new UndercroftError('refused', `A ${doc} comes with its audio and cannot be made by an edit.`);
    const value = checkDoc(doc, { ...change.value, id });
    checkStretch(doc, value);
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
    if (TABLES[doc].lasting) throw new UndercroftError('refused', `A ${doc} cannot be removed by an edit.`);
    return removeWithChildren(db, doc, id, now.value);
  }
  for (const field of Object.keys(change.set)) {
    if (field === 'id' || !TABLES[doc].fields.includes(field)) {
      throw new UndercroftError(
        'out-of-range',
        `A ${doc} has no field "${field}" that can be changed.`,
        `${doc}.${field}`,
      );
    }
  }
  const value = checkDoc(doc, { ...now.value, ...change.set });
  checkStretch(doc, value);
  const names = Object.keys(change.set);
  if (names.length === 0) return [];
  const after = pick(value, names);
  updateDoc(db, doc, id, after, now.rev + 1);
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

/** The revision a document now has, and the recording or kit whose view it belongs to. */
export function touch(db: Db, { doc, id, before }: ChangeRecord): Touched {
  const now = readDoc(db, doc, id);
  const value = now?.value ?? before ?? {};
  let scope = String(value[TABLES[doc].scope] ?? id);
  if (doc === 'layer' || doc === 'variation')
    scope = (readDoc(db, 'pad', scope)?.value.kitId as string | undefined) ?? scope;
  return { doc, id, rev: now?.rev ?? null, scope };
}

export function lastOfEach(touched: readonly Touched[]): Touched[] {
  return [...new Map(touched.map((t) => [`${t.doc} ${t.id}`, t])).values()];
}

/** Rules that hold between documents, checked after all changes of an edit: one pad a place, one kit a name, and so on. */
export function checkRules(db: Db, records: readonly ChangeRecord[]): void {
  const kits = new Set<string>();
  const named = new Set<string>();
  const recordings = new Set<string>();
  for (const { doc, id } of records) {
    const value = readDoc(db, doc, id)?.value;
    if (!value) continue;
    if (doc === 'pad') kits.add(value.kitId as string);
    if (doc === 'cut' || doc === 'recording') recordings.add(id);
    else if (typeof value.recordingId === 'string') recordings.add(value.recordingId);
    if (doc === 'slice' || doc === 'hit') checkInside(db, doc, value);
    if (doc === 'kit') named.add(id);
  }
  for (const id of recordings) requireReady(db, id);
  if (named.size > 0) checkKitNames(db, named);
  for (const kitId of kits) {
    const twice = prepared(db, 'SELECT position FROM pad WHERE kit_id = ? GROUP BY position HAVING count(*) > 1').get(
      kitId,
    );
    if (twice)
      throw new UndercroftError(
        'refused',
        'Two sounds cannot lie on one pad; lay the second beside the first as a layer.',
      );
  }
}

/** Nothing is made of a recording that is being removed, or was. */
export function requireReady(db: Db, recordingId: string): void {
  const { n } = prepared(db, "SELECT count(*) AS n FROM recording WHERE id = ? AND state = 'ready'").get(
    recordingId,
  ) as { n: number };
  if (n === 0)
    throw new UndercroftError('refused', 'The recording was removed for good; nothing can be made of it any more.');
}

function checkInside(db: Db, doc: DocName, value: Fields): void {
  const recording = prepared(db, 'SELECT frames FROM recording WHERE id = ?').get(value.recordingId) as
    | { frames: number }
    | undefined;
  if (!recording) throw new UndercroftError('not-found', `The recording of this ${doc} is not there.`);
  if ((value.endFrame as number) > recording.frames) {
    throw new UndercroftError(
      'out-of-range',
      `The recording ends at frame ${recording.frames}; the ${doc} would end at ${value.endFrame}.`,
    );
  }
}

/** A stretch holds a frame at least; checked before the database does, in words. */
function checkStretch(doc: DocName, { startFrame, endFrame }: Fields): void {
  if (typeof startFrame !== 'number' || typeof endFrame !== 'number' || endFrame > startFrame) return;
  throw new UndercroftError(
    'out-of-range',
    `A ${doc} ends after it starts; it would run from ${startFrame} to ${endFrame}.`,
    `${doc}.endFrame`,
  );
}

function checkKitNames(db: Db, changed: ReadonlySet<string>): void {
  const kits = prepared(db, 'SELECT id, name FROM kit').all() as { id: string; name: string }[];
  const count = new Map<string, number>();
  const fold = (name: string) => name.toLocaleLowerCase('en');
  for (const { name } of kits) count.set(fold(name), (count.get(fold(name)) ?? 0) + 1);
  const twice = kits.find(({ id, name }) => changed.has(id) && (count.get(fold(name)) as number) > 1);
  if (!twice) return;
  const free = freeName(twice.name, new Set(kits.filter((k) => k.id !== twice.id).map((k) => k.name)));
  throw new UndercroftError('refused', `There is a kit named "${twice.name}" already. "${free}" is free.`, 'kit.name');
}
