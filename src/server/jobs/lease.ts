import type { Db } from '../db/open';
import { prepared } from '../history/tables';

export type JobKind = 'analyse' | 'describe' | 'rhythm';

export interface Job {
  readonly id: number;
  readonly kind: JobKind;
  readonly recordingId: string;
}

/** How long a claimed job is another's; renewed while it runs, so that a dead worker's job is taken up again. */
export const LEASE_MS = 30_000;
const MOST_ATTEMPTS = 3;

/**
 * Has a job done for a recording, if none of its kind waits already; where `unlessRunning`, nor is being done. Tells whether one was
 * made.
 */
export function queueJob(db: Db, kind: JobKind, recordingId: string, { unlessRunning = false } = {}): boolean {
  const found = prepared(
    db,
    `INSERT INTO job (kind, recording_id, state) SELECT @kind, @recordingId, 'waiting' WHERE NOT EXISTS (
       SELECT 1 FROM job WHERE kind = @kind AND recording_id = @recordingId
         AND (state = 'waiting' OR (@unlessRunning AND state = 'running')))`,
  );
  return found.run({ kind, recordingId, unlessRunning: unlessRunning ? 1 : 0 }).changes > 0;
}

/** Kinds of jobs whose outcome nobody waits for. */
const UNHURRIED = "('rhythm')";
/** Jobs that can be claimed at a time: those that wait, and those whose worker has let its lease run out. */
const FREE = "(state = 'waiting' OR (state = 'running' AND lease_until < ?))";

/**
 * Claims the oldest job that waits, or whose worker has let its lease run out; those that nobody waits for only where `unhurried`, and
 * when there is no other. Null when there is none.
 */
export function claimJob(db: Db, { unhurried = false, now = Date.now() } = {}): Job | null {
  return db
    .transaction(() => {
      prepared(
        db,
        "UPDATE job SET state = 'failed', error = 'given up after three attempts' WHERE state = 'running' AND lease_until < ? AND attempts >= ?",
      ).run(now, MOST_ATTEMPTS);
      const job = prepared(
        db,
        `SELECT id, kind, recording_id AS recordingId FROM job
         WHERE ${FREE} AND (? OR kind NOT IN ${UNHURRIED})
         ORDER BY kind IN ${UNHURRIED}, id LIMIT 1`,
      ).get(now, unhurried ? 1 : 0) as Job | undefined;
      if (!job) return null;
      prepared(db, "UPDATE job SET state = 'running', lease_until = ?, attempts = attempts + 1 WHERE id = ?").run(
        now + LEASE_MS,
        job.id,
      );
      return job;
    })
    .immediate();
}

/** Whether there is a job to be claimed that nobody waits for. */
export function hasUnhurried(db: Db, now = Date.now()): boolean {
  return prepared(db, `SELECT 1 FROM job WHERE ${FREE} AND kind IN ${UNHURRIED} LIMIT 1`).get(now) !== undefined;
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
