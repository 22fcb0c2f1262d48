import { isDeepStrictEqual } from 'node:util';
import type { z } from 'zod';
import type { DocName } from '@/contract/documents';
import type { EditAnswer, HistoryAnswer, HistoryEntry, Skipped, UndoRequest } from '@/contract/edits';
import type { Fields } from '@/contract/kinds';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { answered, type ChangeRecord, committing, lastOfEach, pick, readChanges, record, touch } from './commit';
import { checkRules } from './rules';
import { checkDoc, deleteDoc, insertDoc, prepared, readDoc, updateDoc } from './tables';

type Undoing = Pick<z.infer<typeof UndoRequest>, 'browser' | 'direction' | 'key' | 'editId'>;

interface EditRow {
  readonly id: number;
  readonly label: string;
}

/** Most edits that are skipped because later ones depend on them. */
const MOST_SKIPPED = 200;

/**
 * Undoes a browser's last edit that can be undone, or redoes the one undone last; the answer names those skipped
 * because other edits have changed the same fields since. With `editId` it is that edit or none. Throws `not-found`
 * when there is none, and `refused` when none can be; then nothing is changed.
 */
export function undoOrRedo(db: Db, request: Undoing): EditAnswer {
  const before = answered(db, request.key);
  if (before) return before;
  const { direction, editId } = request;
  const edits = editId === undefined ? candidates(db, request) : [named(db, direction, editId)];
  const skipped: Skipped[] = [];
  for (const edit of edits) {
    try {
      const answer = committing(db, () => turn(db, edit, request));
      return skipped.length === 0 ? answer : { ...answer, skipped };
    } catch (error) {
      if (!(error instanceof UndercroftError) || error.code === 'storage-full') throw error;
      skipped.push({ editId: edit.id, label: edit.label, reason: error.message });
    }
  }
  const [first] = skipped;
  if (!first) throw new UndercroftError('not-found', `There is nothing to ${direction}.`);
  throw new UndercroftError('refused', `Cannot ${direction} "${first.label}": ${first.reason}`);
}

/** A browser's edits that could be undone or redone, in the order they are tried. */
function candidates(db: Db, { browser, direction }: Undoing): EditRow[] {
  return prepared(
    db,
    direction === 'undo'
      ? `SELECT id, label FROM edit WHERE browser = ? AND kind = 'edit' AND state = 'done' ORDER BY id DESC LIMIT ${MOST_SKIPPED}`
      : // What was undone last comes back first, in whichever order it was done.
        `SELECT id, label FROM edit e WHERE browser = ? AND kind = 'edit' AND state = 'undone'
         ORDER BY (SELECT max(u.id) FROM edit u WHERE u.reverses = e.id AND u.kind = 'undo') DESC LIMIT ${MOST_SKIPPED}`,
  ).all(browser) as EditRow[];
}

function named(db: Db, direction: 'undo' | 'redo', editId: number): EditRow {
  const state = direction === 'undo' ? 'done' : 'undone';
  const edit = prepared(db, "SELECT id, label FROM edit WHERE id = ? AND kind = 'edit' AND state = ?").get(
    editId,
    state,
  ) as EditRow | undefined;
  if (edit) return edit;
  throw new UndercroftError(
    'not-found',
    direction === 'undo' ? 'This was taken back already.' : 'This cannot be done again: other things were done since.',
  );
}

/** Undoes or redoes one edit; part of the caller's transaction. */
function turn(db: Db, edit: EditRow, { browser, direction, key }: Undoing): EditAnswer {
  const changes = readChanges(db, edit.id);
  const wanted = direction === 'undo' ? changes.map(reversed).reverse() : changes;
  const touched = wanted.map((change) => {
    replay(db, change);
    return touch(db, change);
  });
  checkRules(db, wanted);
  prepared(db, 'UPDATE edit SET state = ? WHERE id = ?').run(direction === 'undo' ? 'undone' : 'done', edit.id);
  const label = `${direction === 'undo' ? 'undid' : 'did again'}: ${edit.label}`;
  const entry = { browser, label, kind: direction, reverses: edit.id, state: 'dropped', key } as const;
  const editId = record(db, entry, wanted);
  return { editId, label: edit.label, touched: lastOfEach(touched) };
}

/** The edits a browser can undo or redo; with `before` those of all browsers, older than that one, newest first. */
export function readHistory(db: Db, browser: string, limit: number, before?: number): HistoryAnswer {
  const rows = prepared(
    db,
    `SELECT id, label, at, state, browser = @browser AS own FROM edit
     WHERE kind = 'edit' AND ${before === undefined ? "browser = @browser AND state <> 'dropped'" : 'id < @before'}
     ORDER BY id DESC LIMIT @limit`,
  ).all({ browser, limit, before }) as (Omit<HistoryEntry, 'own'> & { own: number })[];
  const [next] = candidates(db, { browser, direction: 'redo' });
  return { entries: rows.map((row) => ({ ...row, own: row.own === 1 })), redo: next?.label ?? null };
}

function reversed(change: ChangeRecord): ChangeRecord {
  return { ...change, before: change.after, after: change.before };
}

/** Changes a document from `before` to `after`, provided that the fields concerned still equal `before`. */
function replay(db: Db, { doc, id, before, after }: ChangeRecord): void {
  const now = readDoc(db, doc, id);
  const refuse = (what: string) =>
    new UndercroftError('refused', `${what} Take that back first, or change it by hand.`);
  if (before === null) {
    if (now) throw refuse(`The ${doc} is there already.`);
    // Revisions continue to count, so that a page with an old one cannot overwrite the restored document.
    insertDoc(db, doc, checkDoc(doc, after as Fields), nextRevision(db, doc, id));
  } else if (!now) throw refuse(`The ${doc} was removed since.`);
  else if (!isDeepStrictEqual(pick(now.value, Object.keys(before)), before))
    throw refuse(`The same ${doc} was changed elsewhere since.`);
  else if (after === null) deleteDoc(db, doc, id);
  else {
    const value = checkDoc(doc, { ...now.value, ...after });
    updateDoc(db, doc, value, Object.keys(after), now.rev + 1);
  }
}

function nextRevision(db: Db, doc: DocName, id: string): number {
  const { n } = prepared(db, 'SELECT count(*) AS n FROM change WHERE doc = ? AND doc_id = ?').get(doc, id) as {
    n: number;
  };
  return n + 1;
}
