import { closeSync, openSync, rmSync, writeSync } from 'node:fs';
import type { Db } from '../db/open';
import { requireRoomToGoOn } from '../db/reserve';
import type { ImportOptions } from './options';

export const SPOOL_MARK = '-arriving-';
/** Bytes between two checks of the disk's free space. */
const BYTES_BETWEEN_LOOKS = 4 * 1024 * 1024;

/** Where a compressed file is spooled while it arrives: beside the workspace, on the same disk. */
export function spoolPath(db: Db, recordingId: string): string {
  return db.name + SPOOL_MARK + recordingId;
}

/** A compressed file that has arrived. */
export interface SpooledFile {
  readonly recordingId: string;
  readonly options: ImportOptions;
}

/** A compressed file while it arrives. */
export class Spool {
  /** Null once it is closed: a descriptor closed twice may by then belong to another file. */
  private handle: number | null;
  private sinceLook = 0;
  private readonly path: string;

  constructor(
    private readonly db: Db,
    recordingId: string,
  ) {
    this.path = spoolPath(db, recordingId);
    this.handle = openSync(this.path, 'w');
  }

  write(bytes: Uint8Array): void {
    if (this.handle === null) throw new Error('The file has been closed.');
    this.sinceLook += bytes.length;
    if (this.sinceLook >= BYTES_BETWEEN_LOOKS) {
      this.sinceLook = 0;
      requireRoomToGoOn(this.db, BYTES_BETWEEN_LOOKS);
    }
    for (let at = 0; at < bytes.length; ) at += writeSync(this.handle, bytes, at);
  }

  close(): void {
    if (this.handle === null) return;
    const handle = this.handle;
    this.handle = null;
    closeSync(handle);
  }

  remove(): void {
    this.close();
    rmSync(this.path, { force: true });
  }
}
