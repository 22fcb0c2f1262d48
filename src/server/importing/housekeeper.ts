import { readdirSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Db } from '../db/open';
import { withRoom } from '../db/reserve';
import { letEditsPass } from '../db/turns';
import { prepared } from '../history/tables';
import { removalSteps } from './removal';
import { SPOOL_MARK, spoolPath } from './spool';

/** Pages returned at a time: some milliseconds of work, after which an edit has its turn. */
const PAGES_A_STEP = 160;
/** Fewer free pages are kept for later use. */
const KEPT_PAGES = 64;
/** Pause between two steps, to leave the disk to others. */
const REST_MS = 2;
/** Delay after a failure, as on a full disk. */
const AGAIN_MS = 10_000;
const MOST_FAILURES = 5;

export interface HousekeeperSays {
  readonly beat: () => void;
  /** Whether free pages may be returned now: running imports reuse them. */
  readonly mayTidy: () => boolean;
  readonly removed: (recordingId: string) => void;
  readonly done: () => void;
}

/**
 * Deletes claimed recordings and returns free pages to the disk, in steps of a few milliseconds between which edits and
 * imports have their turns. Interrupted work continues at the next start.
 */
export class Housekeeper {
  private readonly leaving: string[] = [];
  private readonly failures = new Map<string, number>();
  private steps: Generator<void> | null = null;
  private timer: NodeJS.Timeout | undefined;
  /** Attempts at returning free pages are limited. */
  private tidied = false;

  constructor(
    private readonly db: Db,
    private readonly says: HousekeeperSays,
  ) {}

  get isBusy(): boolean {
    return this.steps !== null || this.leaving.length > 0 || (this.mayTidy && this.freePages > KEPT_PAGES);
  }

  /** Queues the deletion of an unused recording and its files beside the workspace. */
  remove(recordingId: string): void {
    this.leaving.push(recordingId);
    this.tidied = false;
    this.run();
  }

  /** Queues the deletion of everything that never arrived, as after a crash; takes are kept for another attempt. */
  sweep(): void {
    const rows = prepared(
      this.db,
      "SELECT id FROM recording WHERE state = 'arriving' AND id NOT IN (SELECT recording_id FROM take WHERE state = 'running')",
    ).all() as { id: string }[];
    this.leaving.push(...rows.map((row) => row.id));
    const folder = dirname(this.db.name);
    for (const name of readdirSync(folder))
      if (name.startsWith(basename(this.db.name) + SPOOL_MARK)) rmSync(join(folder, name), { force: true });
    this.run();
  }

  /** Continues with the queued work. */
  run(): void {
    if (this.timer === undefined && this.isBusy) this.timer = setTimeout(() => this.step(), 0);
  }

  private get mayTidy(): boolean {
    return !this.tidied && this.says.mayTidy();
  }

  private get freePages(): number {
    return this.db.pragma('freelist_count', { simple: true }) as number;
  }

  private step(): void {
    this.timer = undefined;
    let rest = REST_MS;
    try {
      this.steps ??= this.next();
      letEditsPass();
      if (this.steps?.next().done) this.steps = null;
    } catch (error) {
      console.error('Taking away what is no longer wanted failed:', error);
      this.steps = null;
      rest = AGAIN_MS;
    }
    this.says.beat();
    if (this.isBusy) this.timer = setTimeout(() => this.step(), rest);
    else this.says.done();
  }

  private next(): Generator<void> | null {
    const id = this.leaving.shift();
    if (id !== undefined) return this.removal(id);
    return this.mayTidy ? this.tidying() : null;
  }

  private *removal(id: string): Generator<void> {
    rmSync(spoolPath(this.db, id), { force: true });
    try {
      yield* removalSteps(this.db, id);
    } catch (error) {
      const failures = (this.failures.get(id) ?? 0) + 1;
      this.failures.set(id, failures);
      // Whatever cannot be deleted now is left for the next start.
      if (failures < MOST_FAILURES) this.leaving.push(id);
      throw error;
    }
    this.says.removed(id);
  }

  /** Returns some free pages a step: each is a transaction of its own, so that no edit waits for all of them. */
  private *tidying(): Generator<void> {
    for (let free = this.freePages; free > KEPT_PAGES && this.mayTidy; ) {
      withRoom(this.db, () => this.db.pragma(`incremental_vacuum(${Math.min(PAGES_A_STEP, free - KEPT_PAGES)})`));
      const left = this.freePages;
      if (left >= free) {
        this.tidied = true;
        return;
      }
      free = left;
      yield;
    }
  }
}
