import { readdirSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Db } from '../db/open';

const MARK = '-arriving-';

/** Where a compressed file is laid down while it arrives: beside the workspace, on the same disk. */
export function spoolPath(db: Db, id: string): string {
  return db.name + MARK + id;
}

/** Removes files of imports that a crash left beside the workspace. */
export function sweepSpools(db: Db): void {
  const folder = dirname(db.name);
  for (const name of readdirSync(/*turbopackIgnore: true*/ folder))
    if (name.startsWith(basename(db.name) + MARK)) rmSync(join(folder, name), { force: true });
}
