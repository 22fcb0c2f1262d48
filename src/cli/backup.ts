import { existsSync, renameSync, rmSync, statfsSync, statSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { openWorkspace } from '@/server/db/open';
import { workspacePath } from '@/server/workspace';

/**
 * `undercroft backup FILE`: copies the workspace as of one moment, also while the application runs (SQLite's online
 * backup). The copy is an ordinary workspace; it gets its name once it is complete.
 */
export async function runBackup(file: string, options: { workspace?: string; json: boolean }): Promise<void> {
  const path = options.workspace ?? workspacePath();
  if (!existsSync(path)) throw new Error(`There is no workspace at ${path}.`);
  const target = resolve(file);
  if (existsSync(target)) throw new Error(`There is a file at ${target} already; choose another name.`);
  if (!existsSync(dirname(target))) throw new Error(`There is no folder ${dirname(target)}.`);
  const { bavail, bsize } = statfsSync(dirname(target));
  if (statSync(path).size > bavail * bsize)
    throw new Error(
      `The backup needs ${(statSync(path).size / 1e9).toFixed(1)} GB; the disk has ${((bavail * bsize) / 1e9).toFixed(1)} GB free.`,
    );
  const part = `${target}.part`;
  rmSync(part, { force: true });
  const db = openWorkspace(path, { migrate: false });
  try {
    // All pages at once: a step interrupted by an edit would start again, and readers do not block writers.
    await db.backup(part, { progress: ({ remainingPages }) => Math.max(100, remainingPages) });
    const copy = openWorkspace(part, { migrate: false });
    const [sound] = copy.pragma('quick_check') as { quick_check: string }[];
    copy.pragma('journal_mode = DELETE');
    copy.close();
    if (sound?.quick_check !== 'ok') throw new Error(`The copy is not sound: ${sound?.quick_check}.`);
    renameSync(part, target);
  } finally {
    db.close();
    for (const end of ['', '-wal', '-shm']) rmSync(part + end, { force: true });
  }
  const bytes = statSync(target).size;
  if (options.json) process.stdout.write(`${JSON.stringify({ path, backup: target, bytes })}\n`);
  else process.stdout.write(`Copied ${path} to ${target}, ${(bytes / 1e6).toFixed(1)} MB.\n`);
}
