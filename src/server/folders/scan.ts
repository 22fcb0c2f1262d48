import { createReadStream } from 'node:fs';
import { relative } from 'node:path';
import type { ScanProgress } from '@/contract/imports';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import type { ImportOptions } from '../importing/options';
import type { Imports } from '../jobs/imports';
import { type Failure, type FoundFile, soundFilesUnder } from './found';
import { readFolder } from './store';

/** What a scan needs to import files. */
export interface ScanHelpers {
  readonly imports: Pick<Imports, 'import'>;
  readonly wake: () => void;
}

/** A scan reports at most this often; failures are reported together. */
const TELL_MS = 250;
/** Attempts at a file whose import the server aborted. */
const MOST_TRIES = 3;

interface Running {
  readonly stop: AbortController;
  /** Settles when the scan has ended. */
  readonly ended: Promise<void>;
}

/** Runs one scan of a folder at a time. */
const running = new Map<string, Running>();

/** Stops a folder's scan; imported files stay. */
export async function cancelScan(folderId: string): Promise<void> {
  const scan = running.get(folderId);
  scan?.stop.abort();
  await scan?.ended;
}

/**
 * Imports new and changed files of a watched folder, one after another, and calls `report` with the progress. Files
 * that cannot be read are listed with the reason and the rest continues; they are tried again once they change, or -
 * where the reason is temporary - by the next scan.
 */
export async function scanFolder(
  db: Db,
  helpers: ScanHelpers,
  folderId: string,
  report: (progress: ScanProgress) => void,
): Promise<void> {
  if (running.has(folderId)) return;
  const stop = new AbortController();
  const scan = new Scan(db, helpers, folderId, report, stop.signal);
  const ended = scan.run().finally(() => running.delete(folderId));
  running.set(folderId, { stop, ended });
  await ended;
}

class Scan {
  private done = 0;
  private total = 0;
  private taken = 0;
  private linked = 0;
  private failedCount = 0;
  /** Not reported yet. */
  private failed: Failure[] = [];
  private toldAt = Number.NEGATIVE_INFINITY;

  constructor(
    private readonly db: Db,
    private readonly helpers: ScanHelpers,
    private readonly folderId: string,
    private readonly report: (progress: ScanProgress) => void,
    private readonly signal: AbortSignal,
  ) {}

  async run(): Promise<void> {
    try {
      const folder = readFolder(this.db, this.folderId);
      const fresh = this.newFiles(folder.path);
      this.total = fresh.length;
      this.tell({ at: 'begin' });
      for (const file of fresh) {
        if (this.signal.aborted) break;
        const { takeAs, prepare } = folder;
        const options: ImportOptions = {
          fileName: relative(folder.path, file.path),
          path: file.path,
          takeAs,
          prepare: [...prepare],
        };
        if (!(await this.takeIn(file, options))) break;
        this.done++;
        this.tell({ at: 'file' });
        this.helpers.wake();
      }
      prepared(this.db, 'UPDATE watched_folder SET scanned_at = ? WHERE id = ?').run(Date.now(), this.folderId);
    } catch (error) {
      this.fail({ path: '', reason: (error as Error).message });
    } finally {
      this.tell({ at: 'end' });
    }
  }

  /** Whether to continue with the next file. */
  private async takeIn(file: FoundFile, options: ImportOptions): Promise<boolean> {
    for (let tries = 1; ; tries++) {
      const pieces = createReadStream(/*turbopackIgnore: true*/ file.place);
      try {
        const answer = await this.helpers.imports.import(options, file.bytes, pieces, {
          signal: this.signal,
          brokenOff: unreadable,
        });
        remember(this.db, this.folderId, file, { recordingId: answer.recordingId });
        if (answer.duplicate) this.linked++;
        else this.taken++;
        return true;
      } catch (error) {
        if (this.signal.aborted) return false;
        const { code } = error as { code?: unknown };
        if (code === 'interrupted' && tries < MOST_TRIES) continue;
        const reason = (error as Error).message;
        this.fail({ path: file.path, reason });
        remember(this.db, this.folderId, file, { error: reason, passing: !isLasting(error) });
        // The next files would fail in the same way.
        return code !== 'storage-full';
      } finally {
        pieces.destroy();
      }
    }
  }

  /** Sound files under a folder that are new or changed, or that failed for a temporary reason. */
  private newFiles(root: string): FoundFile[] {
    const known = new Map(
      (
        prepared(
          this.db,
          'SELECT path, bytes, modified_at AS modifiedAt FROM folder_file WHERE folder_id = ? AND NOT passing',
        ).all(this.folderId) as Omit<FoundFile, 'place'>[]
      ).map((f) => [f.path, f]),
    );
    const failed: Failure[] = [];
    const found = soundFilesUnder(root, failed);
    for (const failure of failed) this.fail(failure);
    return found.filter(({ path, bytes, modifiedAt }) => {
      const before = known.get(path);
      return before?.bytes !== bytes || before.modifiedAt !== modifiedAt;
    });
  }

  private fail(failure: Failure): void {
    this.failedCount++;
    this.failed.push(failure);
  }

  private tell({ at }: { at: 'begin' | 'file' | 'end' }): void {
    if (at === 'file' && performance.now() - this.toldAt < TELL_MS) return;
    this.toldAt = performance.now();
    const { folderId, done, total, taken, linked, failedCount, failed } = this;
    this.failed = [];
    this.report({
      folderId,
      done,
      total,
      taken,
      linked,
      failedCount,
      failed,
      begun: at === 'begin',
      finished: at === 'end',
    });
  }
}

/** Why a file could not be read to its end. */
function unreadable(error: unknown): Error {
  const { code, message } = error as { code?: string; message: string };
  const reason =
    code === 'ENOENT'
      ? 'it is no longer there'
      : code === 'EACCES' || code === 'EPERM'
        ? 'there is no right to read it'
        : message;
  return new UndercroftError('not-found', `The file cannot be read: ${reason}.`);
}

/** Permanent reasons: the file is tried again once it has changed. All others are temporary. */
function isLasting(error: unknown): boolean {
  return (
    error instanceof UndercroftError &&
    ['not-audio', 'unsupported-audio', 'damaged-audio', 'out-of-range', 'too-large'].includes(error.code)
  );
}

interface Outcome {
  readonly recordingId?: string;
  readonly error?: string;
  readonly passing?: boolean;
}

/** Records the result for a file, unless its folder or recording has been removed meanwhile. */
function remember(db: Db, folderId: string, file: FoundFile, { recordingId, error, passing = false }: Outcome): void {
  prepared(
    db,
    `INSERT OR REPLACE INTO folder_file (folder_id, path, bytes, modified_at, recording_id, error, passing)
     SELECT @folderId, @path, @bytes, @modifiedAt, (SELECT id FROM recording WHERE id = @recordingId), @error, @passing
     WHERE EXISTS (SELECT 1 FROM watched_folder WHERE id = @folderId)`,
  ).run({
    folderId,
    path: file.path,
    bytes: file.bytes,
    modifiedAt: file.modifiedAt,
    recordingId: recordingId ?? null,
    error: error ?? null,
    passing: passing ? 1 : 0,
  });
}
