import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import type { Change } from '../../src/contract/edits';
import { openWorkspace } from '../../src/server/db/open';
import { commitEdit } from '../../src/server/history/commit';
import { readHistory, undoOrRedo } from '../../src/server/history/undo';
import { remove, scratch } from '../harness';

let folder: string;

beforeAll(() => {
  folder = scratch();
});

afterAll(() => remove(folder));

describe('an edit that cannot be undone', () => {
  const kit = (id: string, name: string) => ({ op: 'create', doc: 'kit', id, value: { name } }) as const;
  const rename = (id: string, rev: number, name: string) =>
    ({ op: 'update', doc: 'kit', id, rev, set: { name } }) as const;

  /** Three edits of one browser, the middle one's field changed since by another. */
  function workspace() {
    const db = openWorkspace(join(folder, `skip-${randomUUID()}.db`));
    const mine = (label: string, change: Change) =>
      commitEdit(db, { browser: 'browser-mine', label, changes: [change] });
    mine('made one', kit('kit-one-01', 'One'));
    mine('made two', kit('kit-two-01', 'Two'));
    mine('renamed two', rename('kit-two-01', 1, 'Mine'));
    commitEdit(db, { browser: 'browser-other', label: 'theirs', changes: [rename('kit-two-01', 2, 'Theirs')] });
    const undo = (editId?: number) =>
      undoOrRedo(db, { browser: 'browser-mine', direction: 'undo', key: undefined, editId });
    const names = () => (db.prepare('SELECT name FROM kit ORDER BY id').all() as { name: string }[]).map((k) => k.name);
    return { db, undo, names };
  }

  test('is passed over and said; earlier ones are undone, later ones done again in the order in which they were undone', () => {
    const { db, undo, names } = workspace();
    const answer = undo();
    expect([answer.label, answer.skipped?.map((s) => s.label)]).toEqual(['made one', ['renamed two', 'made two']]);
    expect(answer.skipped?.[0]?.reason).toMatch(/The same kit was changed elsewhere since/);
    expect(names()).toEqual(['Theirs']);
    expect(() => undo()).toThrow(/Cannot undo "renamed two": The same kit was changed elsewhere/);
    undoOrRedo(db, { browser: 'browser-mine', direction: 'redo', key: undefined });
    expect(names()).toEqual(['One', 'Theirs']);
    db.close();
  });

  test('sent again since its answer was lost, an undo is answered as it was and done once', () => {
    const { db, names } = workspace();
    const request = { browser: 'browser-mine', direction: 'undo', key: 'key-of-the-undo', editId: undefined } as const;
    const first = undoOrRedo(db, request);
    const { skipped: _, ...same } = first;
    expect(undoOrRedo(db, request)).toEqual(same);
    expect(names()).toEqual(['Theirs']);
    db.close();
  });

  test('half of a character in it holds nothing up', () => {
    const { db, undo, names } = workspace();
    expect(() =>
      commitEdit(db, { browser: 'browser-mine', label: 'x', changes: [kit('kit-half-1', 'a\ud83e')] }),
    ).toThrow(/half of a character/);
    // As an earlier version took it: what is stored differs from what was kept for undo.
    db.prepare("INSERT INTO kit (id, name) VALUES ('kit-half-1', ?)").run('a\ufffd');
    const { lastInsertRowid } = db
      .prepare("INSERT INTO edit (browser, label, at, kind, state) VALUES ('browser-mine', 'half', 1, 'edit', 'done')")
      .run();
    db.prepare(
      "INSERT INTO change (edit_id, ordinal, doc, doc_id, before, after) VALUES (?, 0, 'kit', 'kit-half-1', NULL, ?)",
    ).run(lastInsertRowid, '{"id":"kit-half-1","name":"a\\ud83e"}');
    expect(undo().skipped?.[0]?.label).toBe('half');
    expect(names()).toEqual(['a\ufffd', 'Theirs']);
    db.close();
  });

  test('single edits are taken back from the history, whoever made them, where nothing stands on them', () => {
    const { db, undo, names } = workspace();
    const { entries } = readHistory(db, 'browser-mine', 10, Number.MAX_SAFE_INTEGER);
    expect(entries.map(({ label, own }) => [label, own])).toEqual([
      ['theirs', false],
      ['renamed two', true],
      ['made two', true],
      ['made one', true],
    ]);
    const id = (label: string) => entries.find((e) => e.label === label)?.id as number;
    expect(() => undo(id('renamed two'))).toThrow(/changed elsewhere since/);
    undo(id('theirs'));
    undo(id('renamed two'));
    expect(names()).toEqual(['One', 'Two']);
    expect(() => undo(id('renamed two'))).toThrow(/taken back already/);
    undoOrRedo(db, { browser: 'browser-mine', direction: 'redo', key: undefined, editId: id('renamed two') });
    expect(names()).toEqual(['One', 'Mine']);
    db.close();
  });
});
