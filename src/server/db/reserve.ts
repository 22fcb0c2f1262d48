import { randomFillSync } from 'node:crypto';
import { closeSync, openSync, rmSync, statfsSync, statSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';
import type Database from 'better-sqlite3';
import { UndercroftError } from '@/core/errors';

type Db = Database.Database;

/** Room that is set aside in a file: a full disk still has it for edits, for opening, and for taking things away. */
const RESERVE_BYTES = 8 * 1024 * 1024;
/** Imports leave this much of a disk free, or a fiftieth of a small one, for the history and the journal. */
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

/** Sets the reserve aside unless it is there already or the disk has too little left. */
export function keepReserve(path: string): void {
  try {
    const there = statSync(reservePath(path), { throwIfNoEntry: false })?.size ?? 0;
    if (there >= RESERVE_BYTES || disk(path).free < RESERVE_BYTES + LEAST_KEPT_FREE) return;
    const handle = openSync(reservePath(path), 'w');
    try {
      // Not noughts: some file systems keep no room for those.
      const piece = randomFillSync(new Uint8Array(1024 * 1024));
      for (let at = 0; at < RESERVE_BYTES; at += piece.length) writeSync(handle, piece);
    } finally {
      closeSync(handle);
    }
  } catch {
    // The folder cannot be written to or the disk has just filled up; the next attempt may do.
    giveReserve(path);
  }
}

export function giveReserve(path: string): void {
  rmSync(reservePath(path), { force: true });
}

/** Whether an error says that the disk is full, in whichever of SQLite's or the system's words. */
export function isDiskFull(error: unknown): boolean {
  const code = (error as { code?: string }).code;
  return (
    code === 'SQLITE_FULL' || code === 'ENOSPC' || code === 'SQLITE_IOERR_WRITE' || code === 'SQLITE_IOERR_SHMSIZE'
  );
}

/**
 * Does work that writes; on a full disk makes room for it and does it once more. Room comes from the journal, whose pages are written
 * to their places, and from the reserve.
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
      // As much as could be has been.
    }
    return work();
  }
}

/** Bytes that can still come in: what the disk has free beyond what is kept, and what the workspace has of unused pages. */
export function roomFor(db: Db): number {
  const { free, total } = disk(db.name);
  const unused =
    (db.pragma('freelist_count', { simple: true }) as number) * (db.pragma('page_size', { simple: true }) as number);
  return Math.max(0, free - keptFree(total)) + unused;
}

/** Throws `storage-full` where so many bytes cannot come in. */
export function requireSpace(db: Db, bytes: number): void {
  const room = roomFor(db);
  if (bytes <= room) return;
  const size = (n: number) => (n >= 1e9 ? `${(n / 1e9).toFixed(1)} GB` : `${Math.ceil(n / 1e6)} MB`);
  throw new UndercroftError(
    'storage-full',
    `The file has ${size(bytes)}; the disk has room for ${size(room)}. Free some space and import it again.`,
  );
}

/** Throws `storage-full` where the disk has so little left that a file on its way must be given up. */
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
