import { readFileSync, realpathSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import Database from 'better-sqlite3';
import { UndercroftError } from '@/core/errors';
import { unopened } from './open';

/** Who works on a workspace. */
export interface Holder {
  readonly pid: number;
  /** Null where it serves no pages, as a check that mends does. */
  readonly port: number | null;
}

/** A workspace that this process alone may write to. The system lets go of it when the process ends, however it does. */
export interface WorkspaceLock {
  readonly path: string;
  /** Says at which port the holder is reached, for whoever is refused. */
  tell(port: number): void;
  release(): void;
}

const lockPath = (path: string) => `${path}-lock`;
const holderPath = (path: string) => `${path}-holder`;

/** The path without links, so that two names of one file are one workspace. */
export function realPath(path: string): string {
  try {
    return realpathSync(path);
  } catch {
    // It is still to be made, in a folder that is there.
    return join(realpathSync(dirname(path)), basename(path));
  }
}

/**
 * Takes hold of a workspace; throws `unavailable`, naming process and port, where another process has it. The lock is SQLite's
 * exclusive lock on an empty file beside the workspace, a lock of the operating system: unlike a file that says so, it cannot outlive
 * its holder.
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
      // A full disk: the lock holds all the same, only who holds it is not told.
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
