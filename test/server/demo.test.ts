import { execFile } from 'node:child_process';
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import Database from 'better-sqlite3';
import { demoRecordings } from '../../src/demo/scenario';
import { PROGRAM, remove, scratch, undercroft } from '../harness';

let folder: string;

beforeEach(() => {
  folder = scratch();
});

afterEach(() => {
  remove(folder);
});

test('two that make the demo workspace at once, where a third was ended in the midst: one whole workspace, nothing beside it', async () => {
  const path = join(folder, 'demo.db');
  // No process has this number: the system's highest is 2^22.
  const left = `${path}.making-99999999`;
  mkdirSync(left);
  writeFileSync(join(left, 'demo.db'), 'half');
  const make = () => promisify(execFile)(PROGRAM, ['demo', '--only-make', '--workspace', path]);
  await Promise.all([make(), make()]);
  expect(undercroft('check', '--workspace', path)).toMatch(/all sound/);
  const db = new Database(path, { readonly: true });
  const titles = db.prepare('SELECT title FROM recording').pluck().all();
  db.close();
  expect(titles).toEqual(expect.arrayContaining(demoRecordings().map((recording) => recording.title)));
  expect(readdirSync(folder).filter((name) => name.includes('making'))).toEqual([]);
});
