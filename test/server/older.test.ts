import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import Database from 'better-sqlite3';
import { whole } from '../../src/contract/kinds';
import type { CutView, HitView, KitView } from '../../src/contract/views';
import { FULL_VELOCITY_DB } from '../../src/core/play/gains';
import { openWorkspace } from '../../src/server/db/open';
import { remove, type Server, scratch, startServer } from '../harness';
import { Client, errorOf } from './client';

/**
 * A workspace with everything in it that could be made before parameters were declared and hits had steps (009), with what
 * that version showed of it, and SHA-256 of the pads that it printed.
 */
const OLDER = join(process.cwd(), 'test/server/older/workspace-009');
type Row = Readonly<Record<string, unknown>> & { readonly id: string };
const then = JSON.parse(readFileSync(`${OLDER}.json`, 'utf8')) as Readonly<
  Record<'pads' | 'layers' | 'variations' | 'hits' | 'slices' | 'bookmarks' | 'plans' | 'recordings', readonly Row[]>
> & { readonly sums: Readonly<Record<string, string>>; readonly cut: Row };

let folder: string;
let server: Server;
let client: Client;

beforeAll(async () => {
  folder = scratch();
  const workspace = join(folder, 'workspace.db');
  writeFileSync(workspace, gunzipSync(readFileSync(`${OLDER}.db.gz`)));
  server = await startServer(workspace);
  client = new Client(server.address);
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

const kit = () => client.get<KitView>('/api/kits/kit-old-0001');
const hits = () => client.get<HitView[]>('/api/hits');
/** A pad as it is now: a number of voices, and still struck by the whole curve of velocity, each time alike. */
function padNow({ oneVoice, ...pad }: Row) {
  const steady = { velocityDb: FULL_VELOCITY_DB, driftCents: 0, driftDb: 0 };
  return whole('pad', { ...pad, ...steady, voices: oneVoice === true ? 1 : null });
}

/** Everything that documents say, in the order of their ids, without revisions. */
async function everything(): Promise<unknown> {
  const db = new Database(server.workspace, { readonly: true });
  const tables = ['recording', 'cut', 'slice', 'bookmark', 'hit', 'step', 'kit', 'pad', 'layer', 'variation', 'plan'];
  const all = tables.map((name) =>
    (db.prepare(`SELECT * FROM ${name} ORDER BY id`).all() as Row[]).map(({ rev: _rev, settings, ...row }) => ({
      ...row,
      settings: settings === undefined ? null : JSON.parse(settings as string),
    })),
  );
  db.close();
  return all;
}

test('every document is there with every value', async () => {
  const now = await kit();
  // What has been declared since has its initial value.
  expect(now.pads).toEqual(then.pads.map(padNow));
  expect(now.layers).toEqual(then.layers.map((layer) => whole('layer', layer)));
  expect(now.variations).toEqual(then.variations);
  const cut = await client.get<CutView>(`/api/recordings/${then.cut.id}/cut`);
  expect(cut.cut).toEqual(whole('cut', then.cut));
  expect(cut.slices).toEqual(then.slices);
  expect(cut.story.bookmarks).toEqual(then.bookmarks);
  expect(await client.get('/api/plans')).toEqual(then.plans);
  expect(await client.recordings()).toMatchObject(then.recordings);
});

test('a gain and a constant offset have become steps with the same figures, to the last digit', async () => {
  const now = await hits();
  expect(now.map((h) => h.id)).toEqual(then.hits.map((h) => h.id));
  for (const [i, { gainDb, dc, ...rest }] of then.hits.entries()) {
    const hit = now[i] as HitView;
    expect(hit).toMatchObject(rest);
    const offsets = (dc as number[]).map((offset, c) => [`offset${c + 1}`, offset]);
    const wanted = [
      ...(offsets.length > 0 ? [{ processor: 'dc', ...Object.fromEntries(offsets) }] : []),
      ...(gainDb === 0 ? [] : [{ processor: 'level', to: 'gain', gainDb }]),
    ];
    expect(hit.steps).toMatchObject(wanted);
    expect(hit.steps).toHaveLength(wanted.length);
  }
});

test('every pad prints the same bytes', async () => {
  const zip = join(folder, 'kit.zip');
  const answer = await fetch(`${server.address}/api/kits/kit-old-0001/export`);
  writeFileSync(zip, new Uint8Array(await answer.arrayBuffer()));
  execFileSync('unzip', ['-qo', zip, '-d', join(folder, 'kit')]);
  const samples = join(folder, 'kit/samples');
  const sums = readdirSync(samples).map((name) => [
    name,
    createHash('sha256')
      .update(readFileSync(join(samples, name)))
      .digest('hex'),
  ]);
  expect(Object.fromEntries(sums)).toEqual(then.sums);
});

test('every edit of before is undone and done again, and nothing differs then', async () => {
  await client.step('redo');
  const last = await everything();
  const labels: string[] = [];
  for (;;) {
    const { status, body } = await client.post('/api/history', { browser: 'test-browser-0001', direction: 'undo' });
    if (status !== 200) {
      expect(errorOf(body).message).toBe('There is nothing to undo.');
      break;
    }
    const { label, skipped = [] } = body as { label: string; skipped?: unknown[] };
    expect(skipped).toEqual([]);
    labels.push(label);
  }
  expect(labels.length).toBe(30);
  expect(await hits()).toEqual([]);
  for (const label of labels.reverse()) expect((await client.step('redo')).label).toBe(label);
  expect(await everything()).toEqual(last);
});

test('a workspace in which everything is so made is sound', () => {
  const db = openWorkspace(server.workspace);
  expect(db.pragma('foreign_key_check')).toEqual([]);
  expect(db.pragma('integrity_check')).toEqual([{ integrity_check: 'ok' }]);
  db.close();
});
