import { randomFillSync } from 'node:crypto';
import { closeSync, openSync, rmSync, statfsSync, statSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';
import type Database from 'better-sqlite3';
import { UndercroftError } from '@/core/errors';

type Db = Database.Database;

/** Size of the reserve file: on a full disk its room serves edits, opening and deleting. */
const RESERVE_BYTES = 8 * 1024 * 1024;
/** Free space that imports leave for the history and the journal, or a fiftieth of a small disk. */
const MOST_KEPT_FREE = 200 * 1024 * 1024;
const LEAST_KEPT_FREE = 16 * 1024 * 1024;

const reservePath = (path: string) => `${path}-reserve`;

function disk(path: string): { free: number; total: number } {
  const { bavail, blocks, bsize } = statfsSync(dirname(path));
  return { free: bavail * bsize, total: blocks * bsize };
}

function keptFree(total: number): number {
  return Math.max(LEAST_KEPT_FREE, Math.min(MOST_KEPT_FREE, total / 50));
}

/** Allocates the reserve, unless it exists or the disk has too little space. */
export function keepReserve(path: string): void {
  try {
    const there = statSync(reservePath(path), { throwIfNoEntry: false })?.size ?? 0;
    if (there >= RESERVE_BYTES || disk(path).free < RESERVE_BYTES + LEAST_KEPT_FREE) return;
    const handle = openSync(reservePath(path), 'w');
    try {
      // Random data: some file systems do not allocate zeros.
      const piece = randomFillSync(new Uint8Array(1024 * 1024));
      for (let at = 0; at < RESERVE_BYTES; at += piece.length) writeSync(handle, piece);
    } finally {
      closeSync(handle);
    }
  } catch {
    // The folder is read-only or the disk has just filled up; a later attempt may succeed.
    giveReserve(path);
  }
}

export function giveReserve(path: string): void {
  rmSync(reservePath(path), { force: true });
}

/** Whether an error, of SQLite or of the system, means a full disk. */
export function isDiskFull(error: unknown): boolean {
  const code = (error as { code?: string }).code;
  return (
    code === 'SQLITE_FULL' || code === 'ENOSPC' || code === 'SQLITE_IOERR_WRITE' || code === 'SQLITE_IOERR_SHMSIZE'
  );
}

/**
 * Runs work that writes; on a full disk it frees space and runs once more. Space comes from checkpointing the journal
 * and from the reserve.
 */
export function withRoom<T>(db: Db, work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (!isDiskFull(error) || db.inTransaction) throw error;
    giveReserve(db.name);
    try {
      db.pragma('wal_checkpoint(TRUNCATE)');
    } catch {
      // No more space can be freed.
    }
    return work();
  }
}

/** Bytes that can still be imported: the disk's free space beyond the minimum, and the workspace's unused pages. */
export function roomFor(db: Db): number {
  const { free, total } = disk(db.name);
  const unused =
    (db.pragma('freelist_count', { simple: true }) as number) * (db.pragma('page_size', { simple: true }) as number);
  return Math.max(0, free - keptFree(total)) + unused;
}

/** Throws `storage-full` where so many bytes do not fit. */
export function requireSpace(db: Db, bytes: number): void {
  const room = roomFor(db);
  if (bytes <= room) return;
  const size = (n: number) => (n >= 1e9 ? `${(n / 1e9).toFixed(1)} GB` : `${Math.ceil(n / 1e6)} MB`);
  throw new UndercroftError(
    'storage-full',
    `The file has ${size(bytes)}; the disk has room for ${size(room)}. Free some space and import it again.`,
  );
}

/** Throws `storage-full` where the disk has so little left that an import must be aborted. */
export function requireRoomToGoOn(db: Db, bytes: number): void {
  if (bytes <= roomFor(db)) return;
  throw storageFull();
}

export function storageFull(): UndercroftError {
  return new UndercroftError(
    'storage-full',
    'The disk is full. What had arrived of this file was removed; all else is as it was.',
  );
}
