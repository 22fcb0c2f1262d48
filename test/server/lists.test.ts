import { join } from 'node:path';
import type { ListedHit, ListPage, RecordingView } from '../../src/contract/views';
import { HIT_INITIAL } from '../../src/core/hit/initial';
import { LAYER_INITIAL, PAD_INITIAL } from '../../src/core/kit/parameters';
import { type Db, openWorkspace } from '../../src/server/db/open';
import { commitEdit } from '../../src/server/history/commit';
import { undoOrRedo } from '../../src/server/history/undo';
import { HITS, listHits } from '../../src/server/views/hits';
import { type Listed, listPage } from '../../src/server/views/listing';
import { listRecordings, RECORDINGS } from '../../src/server/views/recordings';
import { remove, scratch } from '../harness';
import { manyRows } from '../many';

let folder: string;
let db: Db;
const browser = 'test-browser-0001';
const MANY = 10_000;

beforeAll(() => {
  folder = scratch();
  db = openWorkspace(join(folder, 'many.db'));
  manyRows(db, MANY);
});

afterAll(() => {
  db.close();
  remove(folder);
});

/** A list as a page of the application keeps it: read page by page, then by what has changed. */
class Kept<T extends { readonly id: string }> {
  rows = new Map<string, T>();
  cursor = '';
  sent = 0;

  constructor(private readonly listed: Listed<T>) {}

  ask(query: { since?: string; after?: string } = {}): ListPage<T> {
    const page = listPage(db, this.listed, query);
    this.sent += page.rows.length;
    return page;
  }

  readAll(): this {
    let page = this.ask();
    this.cursor = page.cursor;
    for (;;) {
      for (const row of page.rows) this.rows.set(row.id, row);
      if (page.next === null) return this;
      page = this.ask({ after: page.next });
    }
  }

  refresh(): number {
    const page = this.ask({ since: this.cursor });
    expect(page.whole).toBe(false);
    for (const id of page.gone) this.rows.delete(id);
    for (const row of page.rows) this.rows.set(row.id, row);
    this.cursor = page.cursor;
    return page.rows.length + page.gone.length;
  }
}

const sorted = <T extends { id: string }>(rows: Iterable<T>) => [...rows].sort((a, b) => (a.id < b.id ? -1 : 1));

function expectSame(hits: Kept<ListedHit>, recordings: Kept<RecordingView>): void {
  expect(sorted(hits.rows.values())).toEqual(sorted(listHits(db)));
  expect(sorted(recordings.rows.values())).toEqual(sorted(listRecordings(db)));
}

test('a list of ten thousand comes page by page in its own order, each row once', () => {
  const hits = new Kept(HITS).readAll();
  expect([...hits.rows.keys()]).toEqual(listHits(db).map((h) => h.id));
  expect(hits.sent).toBe(MANY);
  const recordings = new Kept(RECORDINGS).readAll();
  expect([...recordings.rows.keys()]).toEqual(listRecordings(db).map((r) => r.id));
});

test('whatever changes a row is sent with it, and nothing else is sent again', () => {
  const hits = new Kept(HITS).readAll();
  const recordings = new Kept(RECORDINGS).readAll();
  const steps: [string, () => unknown, number, number][] = [
    ['nothing', () => {}, 0, 0],
    [
      'a hit renamed',
      () =>
        commitEdit(db, {
          browser,
          label: 'x',
          changes: [{ op: 'update', doc: 'hit', id: 'hit-000007-x', rev: 1, set: { name: 'Other' } }],
        }),
      1,
      1,
    ],
    [
      'a kit with a pad that plays it',
      () =>
        commitEdit(db, {
          browser,
          label: 'x',
          changes: [
            { op: 'create', doc: 'kit', id: 'kit-0001', value: { name: 'Mill' } },
            {
              op: 'create',
              doc: 'pad',
              id: 'pad-0001',
              value: { ...PAD_INITIAL, kitId: 'kit-0001', position: 0, name: 'P', family: null },
            },
            {
              op: 'create',
              doc: 'layer',
              id: 'layer-0001',
              value: { ...LAYER_INITIAL, padId: 'pad-0001', hitId: 'hit-000007-x', position: 0 },
            },
            {
              op: 'create',
              doc: 'variation',
              id: 'variation-1',
              value: { padId: 'pad-0001', hitId: 'hit-000008-x', position: 0 },
            },
          ],
        }),
      2,
      1,
    ],
    [
      'the kit renamed',
      () =>
        commitEdit(db, {
          browser,
          label: 'x',
          changes: [{ op: 'update', doc: 'kit', id: 'kit-0001', rev: 1, set: { name: 'Weir' } }],
        }),
      2,
      1,
    ],
    ['that undone', () => undoOrRedo(db, { browser, direction: 'undo', key: undefined }), 2, 1],
    [
      'the pad removed',
      () => commitEdit(db, { browser, label: 'x', changes: [{ op: 'remove', doc: 'pad', id: 'pad-0001', rev: 1 }] }),
      2,
      1,
    ],
    [
      'a hit made and a hit removed',
      () =>
        commitEdit(db, {
          browser,
          label: 'x',
          changes: [
            { op: 'remove', doc: 'hit', id: 'hit-000009-x', rev: 1 },
            {
              op: 'create',
              doc: 'hit',
              id: 'hit-new-0001',
              value: {
                ...HIT_INITIAL,
                name: 'New',
                family: null,
                recordingId: 'rec-000003-x',
                startFrame: 0,
                endFrame: 4,
                sliceId: null,
              },
            },
          ],
        }),
      2,
      2,
    ],
    ['a recording removed for good', () => db.prepare("DELETE FROM recording WHERE id = 'rec-000009-x'").run(), 0, 1],
    [
      'one that is to be listened to',
      () =>
        db.prepare("INSERT INTO job (kind, recording_id, state) VALUES ('analyse', 'rec-000005-x', 'waiting')").run(),
      0,
      1,
    ],
    ['one given up', () => db.prepare("UPDATE job SET state = 'failed', error = 'why'").run(), 0, 1],
    [
      'another name of a file',
      () => db.prepare("INSERT INTO recording_file VALUES ('rec-000006-x', 'b.wav', '', 1)").run(),
      0,
      1,
    ],
    [
      'slices',
      () =>
        db
          .prepare(
            "INSERT INTO slice (id, recording_id, start_frame, end_frame, origin) VALUES ('slice-0001', 'rec-000002-x', 0, 9, 'hand')",
          )
          .run(),
      0,
      1,
    ],
  ];
  for (const [what, change, changedHits, changedRecordings] of steps) {
    change();
    expect([what, hits.refresh(), recordings.refresh()]).toEqual([what, changedHits, changedRecordings]);
  }
  expectSame(hits, recordings);
});

test('a cursor of another workspace, or from after a backup was made, begins the list anew', () => {
  for (const since of ['0123456789abcdef.1', 'nonsense', '']) expect(listPage(db, HITS, { since }).whole).toBe(true);
  const { cursor } = listPage(db, HITS, {});
  const [epoch, at] = cursor.split('.');
  expect(listPage(db, HITS, { since: `${epoch}.${Number(at) + 1}` }).whole).toBe(true);
});
