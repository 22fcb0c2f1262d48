import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import Database from 'better-sqlite3';
import { UndercroftError } from '@/core/errors';
import { giveReserve, isDiskFull } from './reserve';

export type Db = Database.Database;

/** Folder of the installed project, with migrations, built workers and pages. */
export function projectRoot(): string {
  return process.env.UNDERCROFT_ROOT ?? process.cwd();
}

/**
 * Opens a workspace, creating or migrating it as needed. Every connection in every thread is opened here, with the same
 * settings. With `file`, the path must hold that very file: another one's journal would be applied to it. Throws
 * `unavailable` with the reason where it cannot be opened; nothing stays open then.
 */
export function openWorkspace(path: string, options: { migrate?: boolean; file?: string } = {}): Db {
  if (options.file !== undefined && fileAt(path) !== options.file)
    throw new UndercroftError('unavailable', `The workspace ${path} is no longer the file that was opened.`);
  try {
    return connect(path, options);
  } catch (error) {
    if (!isDiskFull(error) && (error as { code?: string }).code !== 'SQLITE_CANTOPEN') throw unopened(path, error);
  }
  // A full disk may have no room for the WAL index: free the reserve.
  giveReserve(path);
  try {
    return connect(path, options);
  } catch (error) {
    throw unopened(path, error);
  }
}

function connect(path: string, options: { migrate?: boolean }): Db {
  const db = new Database(path);
  try {
    db.pragma('busy_timeout = 10000');
    const fresh = db.prepare('SELECT count(*) AS n FROM sqlite_master').get() as { n: number };
    if (fresh.n > 0 && !db.prepare("SELECT 1 FROM sqlite_master WHERE name = 'migration'").get())
      throw new UndercroftError(
        'unavailable',
        `The workspace ${path} cannot be opened: it is a database of another program. Choose another file with --workspace.`,
      );
    if (fresh.n === 0) {
      // Only possible before the first table: large pages suit rows of audio.
      db.pragma('page_size = 16384');
      db.pragma('auto_vacuum = INCREMENTAL');
    }
    db.pragma('journal_mode = WAL');
    // FULL: an acknowledged edit is on the disk, not only in the system's memory, when the person is told so.
    db.pragma('synchronous = FULL');
    db.pragma('foreign_keys = ON');
    // A journal that grew during a long import is truncated.
    db.pragma('journal_size_limit = 33554432');
    if (options.migrate ?? true) {
      // Fails here, not at the first edit, where the file is read-only.
      db.transaction(() => {}).immediate();
      migrate(db);
    }
    return db;
  } catch (error) {
    db.close();
    throw error;
  }
}

/** Why a workspace cannot be opened, and what would be right. */
export function unopened(path: string, error: unknown): UndercroftError {
  if (error instanceof UndercroftError) return error;
  const { code, message } = error as { code?: string; message: string };
  const say = (reason: string) =>
    new UndercroftError('unavailable', `The workspace ${path} cannot be opened: ${reason}`);
  if (isFolder(path)) return say(`it is a folder. Name the file in it, for example ${join(path, 'undercroft.db')}.`);
  if (!isFolder(dirname(path))) return say(`there is no folder ${dirname(path)}.`);
  if (code === 'SQLITE_NOTADB') return say('it is a file of another kind. Choose another one with --workspace.');
  if (code?.startsWith('SQLITE_READONLY') || code?.startsWith('SQLITE_CANTOPEN') || code === 'EACCES')
    return say(`it cannot be written to. Give yourself the right to write ${path} and its folder.`);
  if (code?.startsWith('SQLITE_CORRUPT'))
    return say('its file is damaged. Put a backup in its place; what can be read of this one stays in it.');
  if (isDiskFull(error)) return say('the disk is full. Free some space and start again.');
  return say(`${message}.`);
}

/** Identity of a file beyond its path: a replacement has another one. Empty where there is none. */
export function fileAt(path: string): string {
  const found = statSync(/*turbopackIgnore: true*/ path, { throwIfNoEntry: false });
  return found ? `${found.dev}:${found.ino}` : '';
}

function isFolder(path: string): boolean {
  try {
    return statSync(path).isDirectory();
  } catch {
    return false;
  }
}

interface Applied {
  readonly name: string;
  readonly sha256: string;
}

/** Migrations that a workspace lacks. */
export function pendingSteps(db: Db, folder = join(projectRoot(), 'src/server/migrations')): number {
  const { n } = db.prepare('SELECT count(*) AS n FROM migration').get() as { n: number };
  return stepsIn(folder).length - n;
}

function stepsIn(folder: string): string[] {
  return readdirSync(/*turbopackIgnore: true*/ folder)
    .filter((name) => /^\d{3}-[a-z0-9-]+\.sql$/.test(name))
    .sort();
}

/** Applies the numbered SQL files that are missing, after checking that the applied ones are unchanged. */
export function migrate(db: Db, folder = join(projectRoot(), 'src/server/migrations')): void {
  db.exec('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY, sha256 TEXT NOT NULL, at INTEGER NOT NULL)');
  const files = stepsIn(folder);
  const applied = db.prepare('SELECT name, sha256 FROM migration ORDER BY name').all() as Applied[];
  for (const [i, { name, sha256 }] of applied.entries()) {
    if (files[i] !== name)
      throw new UndercroftError(
        'unavailable',
        `The workspace ${db.name} was made by a newer version, which knows the step "${name}". Open it with that version, or with a backup from before.`,
      );
    if (hashOf(join(folder, name)) !== sha256)
      throw new UndercroftError(
        'unavailable',
        `The workspace ${db.name} cannot be opened: the step "${name}" was another one when it was applied. Open it with the version that made it.`,
      );
  }
  const insert = db.prepare('INSERT INTO migration (name, sha256, at) VALUES (?, ?, ?)');
  const wanted = files.slice(applied.length);
  if (wanted.length === 0) return;
  // Rebuilding a table drops it first: with foreign keys on, rows that refer to it would be deleted.
  db.pragma('foreign_keys = OFF');
  try {
    for (const name of wanted) {
      db.transaction(() => {
        db.exec(readFileSync(join(folder, name), 'utf8'));
        const [broken] = db.pragma('foreign_key_check') as { table: string }[];
        if (broken)
          throw new UndercroftError('unavailable', `The step "${name}" would break references in ${broken.table}.`);
        insert.run(name, hashOf(join(folder, name)), Date.now());
      }).immediate();
    }
  } finally {
    db.pragma('foreign_keys = ON');
  }
}

function hashOf(path: string): string {
  return createHash('sha256').update(readFileSync(path)).digest('hex');
}
