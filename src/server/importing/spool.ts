import { closeSync, openSync, readdirSync, rmSync, writeSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Db } from '../db/open';

const MARK = '-arriving-';

/** Where a compressed file is laid down while it arrives: beside the workspace, on the same disk. */
export function spoolPath(db: Db, id: string): string {
  return db.name + MARK + id;
}

/** A compressed file while it arrives. */
export class Spool {
  /** Null once it is closed: a descriptor closed twice may by then be someone else's. */
  private handle: number | null;

  constructor(readonly path: string) {
    this.handle = openSync(path, 'w');
  }

  write(bytes: Uint8Array): void {
    if (this.handle === null) throw new Error('The file has been closed.');
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

/** Removes files of imports that a crash left beside the workspace. */
export function sweepSpools(db: Db): void {
  const folder = dirname(db.name);
  for (const name of readdirSync(/*turbopackIgnore: true*/ folder))
    if (name.startsWith(basename(db.name) + MARK)) rmSync(join(folder, name), { force: true });
}
