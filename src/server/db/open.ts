import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';

export type Db = Database.Database;

/** Folder of the installed project: where migrations, built workers and pages lie. */
export function projectRoot(): string {
  return process.env.UNDERCROFT_ROOT ?? process.cwd();
}

/**
 * Opens a workspace, making or migrating it as needed. Every connection, in whatever thread, is opened here, so that all
 * share the same settings.
 */
export function openWorkspace(path: string, options: { migrate?: boolean } = {}): Db {
  const db = new Database(path);
  db.pragma('busy_timeout = 10000');
  const fresh = db.prepare('SELECT count(*) AS n FROM sqlite_master').get() as { n: number };
  if (fresh.n === 0) {
    // Only possible before the first table: large pages suit rows of audio.
    db.pragma('page_size = 16384');
    db.pragma('auto_vacuum = INCREMENTAL');
  }
  db.pragma('journal_mode = WAL');
  // FULL: an acknowledged edit is on the disk, not only in the system's memory, when the person is told so.
  db.pragma('synchronous = FULL');
  db.pragma('foreign_keys = ON');
  if (options.migrate ?? true) migrate(db);
  return db;
}

interface Applied {
  readonly name: string;
  readonly sha256: string;
}

/** Applies the numbered SQL files that have not been applied, after checking that the applied ones are unchanged. */
export function migrate(db: Db, folder = join(projectRoot(), 'src/server/migrations')): void {
  db.exec('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY, sha256 TEXT NOT NULL, at INTEGER NOT NULL)');
  const files = readdirSync(/*turbopackIgnore: true*/ folder)
    .filter((name) => /^\d{3}-[a-z0-9-]+\.sql$/.test(name))
    .sort();
  const applied = db.prepare('SELECT name, sha256 FROM migration ORDER BY name').all() as Applied[];
  for (const [i, { name, sha256 }] of applied.entries()) {
    if (files[i] !== name)
      throw new Error(`The workspace was made by a newer version: it knows the migration ${name}.`);
    if (hashOf(join(folder, name)) !== sha256)
      throw new Error(`The migration ${name} was changed after it was applied.`);
  }
  const insert = db.prepare('INSERT INTO migration (name, sha256, at) VALUES (?, ?, ?)');
  for (const name of files.slice(applied.length)) {
    db.transaction(() => {
      db.exec(readFileSync(join(folder, name), 'utf8'));
      insert.run(name, hashOf(join(folder, name)), Date.now());
    }).immediate();
  }
}

function hashOf(path: string): string {
  return createHash('sha256').update(readFileSync(path)).digest('hex');
}
