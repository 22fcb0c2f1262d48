import { randomUUID } from 'node:crypto';
import { statSync } from 'node:fs';
import { isAbsolute, normalize } from 'node:path';
import type { WatchedFolder, WatchRequest } from '@/contract/imports';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** The watched folders, in order of addition. */
export function listFolders(db: Db): WatchedFolder[] {
  const rows = prepared(
    db,
    `SELECT f.id, f.path, f.take_as AS takeAs, f.prepare, f.scanned_at AS scannedAt,
            (SELECT count(*) FROM folder_file x WHERE x.folder_id = f.id AND x.error IS NULL) AS fileCount,
            (SELECT count(*) FROM folder_file x WHERE x.folder_id = f.id AND x.error IS NOT NULL) AS failedCount
     FROM watched_folder f ORDER BY f.added_at, f.id`,
  ).all() as (Omit<WatchedFolder, 'prepare'> & { prepare: string })[];
  return rows.map((row) => ({ ...row, prepare: JSON.parse(row.prepare) as WatchedFolder['prepare'] }));
}

export function readFolder(db: Db, id: string): WatchedFolder {
  const folder = listFolders(db).find((f) => f.id === id);
  if (!folder) throw new UndercroftError('not-found', 'This folder is not on the list (any more).');
  return folder;
}

/** Adds a folder, or changes how its files are imported. Throws where there is no such folder. */
export function watchFolder(db: Db, request: WatchRequest): string {
  const path = normalize(request.path.trim()).replace(/(.)[\\/]+$/, '$1');
  if (!isAbsolute(path))
    throw new UndercroftError(
      'out-of-range',
      `The whole path of the folder is needed, from the root on; "${request.path}" is only a part of one.`,
      'path',
    );
  let isFolder = false;
  try {
    isFolder = statSync(/*turbopackIgnore: true*/ path).isDirectory();
  } catch {
    throw new UndercroftError('not-found', `There is no folder "${path}" on the machine that runs the server.`, 'path');
  }
  if (!isFolder) throw new UndercroftError('out-of-range', `"${path}" is a file; a folder is needed.`, 'path');
  prepared(
    db,
    `INSERT INTO watched_folder (id, path, take_as, prepare, added_at) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT (path) DO UPDATE SET take_as = excluded.take_as, prepare = excluded.prepare`,
  ).run(randomUUID(), path, request.takeAs, JSON.stringify(request.prepare), Date.now());
  return (prepared(db, 'SELECT id FROM watched_folder WHERE path = ?').get(path) as { id: string }).id;
}

/** Removes a folder from the list; imported recordings stay. */
export function forgetFolder(db: Db, id: string): void {
  prepared(db, 'DELETE FROM watched_folder WHERE id = ?').run(id);
}
