import { isDeepStrictEqual } from 'node:util';
import type { z } from 'zod';
import type { DocName } from '@/contract/documents';
import type { EditAnswer, HistoryAnswer, UndoRequest } from '@/contract/edits';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import {
  answered,
  type ChangeRecord,
  checkRules,
  keepingReferences,
  lastOfEach,
  pick,
  readChanges,
  record,
  touch,
} from './commit';
import { checkDoc, deleteDoc, type Fields, insertDoc, prepared, readDoc, updateDoc } from './tables';

type Undoing = Pick<z.infer<typeof UndoRequest>, 'browser' | 'direction' | 'key'>;

interface EditRow {
  readonly id: number;
  readonly label: string;
}

/**
 * Reverses a browser's last edit, or brings back the last one reversed. Throws `not-found` when there is none, and
 * `refused` when something has changed the same fields since; then nothing is changed.
 */
export function undoOrRedo(db: Db, { browser, direction, key }: Undoing): EditAnswer {
  return keepingReferences(() =>
    db
      .transaction(() => {
        const before = answered(db, key);
        if (before) return before;
        const edit = prepared(
          db,
          direction === 'undo'
            ? "SELECT id, label FROM edit WHERE browser = ? AND kind = 'edit' AND state = 'done' ORDER BY id DESC LIMIT 1"
            : "SELECT id, label FROM edit WHERE browser = ? AND kind = 'edit' AND state = 'undone' ORDER BY id LIMIT 1",
        ).get(browser) as EditRow | undefined;
        if (!edit) throw new UndercroftError('not-found', `There is nothing to ${direction}.`);
        const changes = readChanges(db, edit.id);
        const wanted = direction === 'undo' ? changes.map(reversed).reverse() : changes;
        const touched = wanted.map((change) => {
          replay(db, change, direction, edit.label);
          return touch(db, change);
        });
        checkRules(db, wanted);
        prepared(db, 'UPDATE edit SET state = ? WHERE id = ?').run(direction === 'undo' ? 'undone' : 'done', edit.id);
        const label = `${direction === 'undo' ? 'undid' : 'did again'}: ${edit.label}`;
        const entry = { browser, label, kind: direction, reverses: edit.id, state: 'dropped', key } as const;
        const editId = record(db, entry, wanted);
        return { editId, label: edit.label, touched: lastOfEach(touched) };
      })
      .immediate(),
  );
}

export function readHistory(db: Db, browser: string, limit: number): HistoryAnswer {
  const entries = prepared(
    db,
    "SELECT id, label, at, state FROM edit WHERE browser = ? AND kind = 'edit' AND state <> 'dropped' ORDER BY id DESC LIMIT ?",
  ).all(browser, limit) as HistoryAnswer['entries'];
  return { entries };
}

function reversed(change: ChangeRecord): ChangeRecord {
  return { ...change, before: change.after, after: change.before };
}

/** Takes a document from `before` to `after`, provided that it still is as `before` says in the fields concerned. */
function replay(db: Db, { doc, id, before, after }: ChangeRecord, direction: string, label: string): void {
  const now = readDoc(db, doc, id);
  const refuse = () =>
    new UndercroftError(
      'refused',
      `Cannot ${direction} "${label}": the same ${doc} was changed elsewhere since. Undo that first, or change it by hand.`,
    );
  if (before === null) {
    if (now) throw refuse();
    // Revisions go on counting, so that a page holding the old one cannot write over the document that came back.
    insertDoc(db, doc, checkDoc(doc, after as Fields), nextRevision(db, doc, id));
  } else if (!now || !isDeepStrictEqual(pick(now.value, Object.keys(before)), before)) {
    throw refuse();
  } else if (after === null) deleteDoc(db, doc, id);
  else {
    checkDoc(doc, { ...now.value, ...after });
    updateDoc(db, doc, id, after, now.rev + 1);
  }
}

function nextRevision(db: Db, doc: DocName, id: string): number {
  const { n } = prepared(db, 'SELECT count(*) AS n FROM change WHERE doc = ? AND doc_id = ?').get(doc, id) as {
    n: number;
  };
  return n + 1;
}
