import type { Db } from '../db/open';
import { prepared } from '../history/tables';

export interface Job {
  readonly id: number;
  readonly kind: 'analyse' | 'describe';
  readonly recordingId: string;
}

/** How long a claimed job is another's; renewed while it runs, so that a dead worker's job is taken up again. */
export const LEASE_MS = 30_000;
const MOST_ATTEMPTS = 3;

/** Claims the oldest job that waits, or whose worker has let its lease run out. Null when there is none. */
export function claimJob(db: Db, now = Date.now()): Job | null {
  return db
    .transaction(() => {
      prepared(
        db,
        "UPDATE job SET state = 'failed', error = 'given up after three attempts' WHERE state = 'running' AND lease_until < ? AND attempts >= ?",
      ).run(now, MOST_ATTEMPTS);
      const job = prepared(
        db,
        `SELECT id, kind, recording_id AS recordingId FROM job
         WHERE state = 'waiting' OR (state = 'running' AND lease_until < ?) ORDER BY id LIMIT 1`,
      ).get(now) as Job | undefined;
      if (!job) return null;
      prepared(db, "UPDATE job SET state = 'running', lease_until = ?, attempts = attempts + 1 WHERE id = ?").run(
        now + LEASE_MS,
        job.id,
      );
      return job;
    })
    .immediate();
}

export function renewLease(db: Db, job: Job, now = Date.now()): void {
  prepared(db, "UPDATE job SET lease_until = ? WHERE id = ? AND state = 'running'").run(now + LEASE_MS, job.id);
}

export function settleJob(db: Db, job: Job, error: string | null): void {
  prepared(db, 'UPDATE job SET state = ?, error = ? WHERE id = ?').run(
    error === null ? 'done' : 'failed',
    error,
    job.id,
  );
}

/** At start-up no worker of this workspace lives: what was running is free to be claimed at once. */
export function freeLeases(db: Db): void {
  prepared(db, "UPDATE job SET lease_until = 0 WHERE state = 'running'").run();
}
