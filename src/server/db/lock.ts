import { readFileSync, realpathSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import Database from 'better-sqlite3';
import { UndercroftError } from '@/core/errors';
import { unopened } from './open';

/** The process that has a workspace open. */
export interface Holder {
  readonly pid: number;
  /** Null where it serves no pages, as during a check. */
  readonly port: number | null;
}

/**
 * A workspace that only this process may write to. The operating system releases the lock when the process ends,
 * however it does.
 */
export interface WorkspaceLock {
  readonly path: string;
  /** Records the holder's port, for the error message of other processes. */
  tell(port: number): void;
  release(): void;
}

const lockPath = (path: string) => `${path}-lock`;
const holderPath = (path: string) => `${path}-holder`;

/** The resolved path, so that two names of one file are one workspace. */
export function realPath(path: string): string {
  try {
    return realpathSync(path);
  } catch {
    // The workspace does not exist yet, but its folder does.
    return join(realpathSync(dirname(path)), basename(path));
  }
}

/**
 * Locks a workspace; throws `unavailable`, naming process and port, where another process has it. The lock is SQLite's
 * exclusive lock on an empty file beside the workspace, a lock of the operating system: unlike a file of its own, it
 * cannot outlive its holder.
 */
export function lockWorkspace(path: string): WorkspaceLock {
  const { real, db } = openLock(path);
  try {
    db.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    db.close();
    if ((error as { code?: string }).code !== 'SQLITE_BUSY') throw unopened(path, error);
    throw new UndercroftError('unavailable', `${heldBy(real)} Stop that one first, or choose another workspace.`);
  }
  const tell = (port: number | null) => {
    const holder: Holder = { pid: process.pid, port };
    try {
      writeFileSync(holderPath(real), JSON.stringify(holder));
    } catch {
      // A full disk: the lock holds, only its holder is not recorded.
    }
  };
  tell(null);
  return { path: real, tell, release: () => db.close() };
}

function openLock(path: string): { real: string; db: Database.Database } {
  try {
    const real = realPath(path);
    if (statSync(real, { throwIfNoEntry: false })?.isDirectory()) throw new Error('It is a folder.');
    return { real, db: new Database(lockPath(real), { timeout: 0 }) };
  } catch (error) {
    throw unopened(path, error);
  }
}

function heldBy(path: string): string {
  try {
    const { pid, port } = JSON.parse(readFileSync(holderPath(path), 'utf8')) as Holder;
    const where = port === null ? '' : ` It serves http://127.0.0.1:${port}.`;
    return `The workspace ${path} is in use by process ${pid}.${where}`;
  } catch {
    return `The workspace ${path} is in use by another process.`;
  }
}
