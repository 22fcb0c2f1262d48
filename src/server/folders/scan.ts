import { createReadStream, type Dirent, readdirSync, statSync } from 'node:fs';
import { join, relative } from 'node:path';
import type { ScanProgress } from '@/contract/imports';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import type { ImportOptions } from '../importing/options';
import type { Threads } from '../jobs/threads';
import { readFolder } from './store';

/** Names that sound files go by: what a scan opens. What they really are, their content tells. */
const NAMES = /\.(wav|wave|rf64|bwf|aif|aiff|aifc|flac|mp3|ogg|oga|opus|m4a|mp4|aac)$/i;
const MOST_FILES = 100_000;

interface FoundFile {
  readonly path: string;
  readonly bytes: number;
  readonly modifiedAt: number;
}

/** One scan of a folder at a time. */
const running = new Map<string, AbortController>();

export function cancelScan(folderId: string): void {
  running.get(folderId)?.abort();
}

/**
 * Takes in what is new or changed in a watched folder since the last scan, one file after another, and tells `report` how
 * it goes. A file that cannot be read is named with its reason and the rest goes on; it is tried again once it changes.
 */
export async function scanFolder(
  db: Db,
  threads: Pick<Threads, 'import' | 'wake'>,
  folderId: string,
  report: (progress: ScanProgress) => void,
): Promise<void> {
  if (running.has(folderId)) return;
  const stop = new AbortController();
  running.set(folderId, stop);
  let done = 0;
  let total = 0;
  let taken = 0;
  let linked = 0;
  const failed: { path: string; reason: string }[] = [];
  const tell = (finished: boolean) => report({ folderId, done, total, taken, linked, failed: [...failed], finished });
  try {
    const folder = readFolder(db, folderId);
    const fresh = newFiles(db, folderId, folder.path, failed);
    total = fresh.length;
    tell(false);
    for (const file of fresh) {
      if (stop.signal.aborted) break;
      const options: ImportOptions = {
        fileName: relative(folder.path, file.path),
        path: file.path,
        takeAs: folder.takeAs,
        prepare: [...folder.prepare],
      };
      try {
        const answer = await threads.import(options, file.bytes, createReadStream(file.path), { signal: stop.signal });
        remember(db, folderId, file, answer.recordingId, null);
        if (answer.duplicate) linked++;
        else taken++;
      } catch (error) {
        if (stop.signal.aborted) break;
        const reason = (error as Error).message;
        failed.push({ path: file.path, reason });
        remember(db, folderId, file, null, reason);
      }
      done++;
      tell(false);
      threads.wake();
    }
    prepared(db, 'UPDATE watched_folder SET scanned_at = ? WHERE id = ?').run(Date.now(), folderId);
  } catch (error) {
    failed.push({ path: '', reason: (error as Error).message });
  } finally {
    running.delete(folderId);
    tell(true);
  }
}

function remember(db: Db, folderId: string, file: FoundFile, recordingId: string | null, error: string | null): void {
  prepared(
    db,
    `INSERT OR REPLACE INTO folder_file (folder_id, path, bytes, modified_at, recording_id, error) VALUES (?, ?, ?, ?, ?, ?)`,
  ).run(folderId, file.path, file.bytes, file.modifiedAt, recordingId, error);
}

/** Sound files under a folder that were not met as they are now. Folders that cannot be opened are named in `failed`. */
function newFiles(db: Db, folderId: string, root: string, failed: { path: string; reason: string }[]): FoundFile[] {
  const known = new Map(
    (
      prepared(db, 'SELECT path, bytes, modified_at AS modifiedAt FROM folder_file WHERE folder_id = ?').all(
        folderId,
      ) as FoundFile[]
    ).map((f) => [f.path, f]),
  );
  const fresh: FoundFile[] = [];
  const folders = [root];
  for (let folder = folders.pop(); folder !== undefined && fresh.length < MOST_FILES; folder = folders.pop()) {
    let entries: Dirent[];
    try {
      entries = readdirSync(/*turbopackIgnore: true*/ folder, { withFileTypes: true });
    } catch (error) {
      failed.push({ path: folder, reason: `The folder cannot be opened: ${(error as Error).message}` });
      continue;
    }
    entries.sort((a, b) => (a.name < b.name ? 1 : -1));
    for (const entry of entries) {
      const path = join(folder, entry.name);
      if (entry.name.startsWith('.')) continue;
      // Links are not followed: they may lead round in a ring.
      if (entry.isDirectory()) folders.push(path);
      else if (entry.isFile() && NAMES.test(entry.name)) {
        const { size, mtimeMs } = statSync(/*turbopackIgnore: true*/ path);
        const file = { path, bytes: size, modifiedAt: Math.round(mtimeMs) };
        const before = known.get(path);
        if (before?.bytes !== file.bytes || before.modifiedAt !== file.modifiedAt) fresh.push(file);
      }
    }
  }
  return fresh.sort((a, b) => (a.path < b.path ? -1 : 1));
}
