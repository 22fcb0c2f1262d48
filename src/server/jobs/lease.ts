import type { Db } from '../db/open';
import { withRoom } from '../db/reserve';
import { prepared } from '../history/tables';

export type JobKind = 'analyse' | 'describe' | 'rhythm';

export interface Job {
  readonly id: number;
  readonly kind: JobKind;
  readonly recordingId: string;
}

/** Length of a job's lease. It is renewed while the job runs; when it expires, another worker may claim the job. */
export const LEASE_MS = 30_000;
const MOST_ATTEMPTS = 3;

/**
 * Queues a job for a recording unless one of its kind is waiting already or, with `unlessRunning`, is running. Returns whether a
 * job was added.
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

/** Low-priority kinds: nobody waits for their result. */
const UNHURRIED = "('rhythm')";
/** SQL condition for claimable jobs: waiting, or running with an expired lease. */
const FREE = "(state = 'waiting' OR (state = 'running' AND lease_until < ?))";

/**
 * Claims the oldest job that is waiting or whose lease has expired; low-priority jobs only with `unhurried`, and only when there is no
 * other. A job that was interrupted comes after the others, so that a job which crashes the application cannot block them. A job
 * that was tried too often is given up, and `gaveUp` is called with it. Returns null when there is nothing to claim.
 */
export function claimJob(
  db: Db,
  { unhurried = false, now = Date.now(), gaveUp = (_: Job, _error: string) => {} } = {},
): Job | null {
  const claim = db.transaction(() => {
    const tired = giveUpTired(db, now);
    const job = prepared(
      db,
      `SELECT id, kind, recording_id AS recordingId FROM job
       WHERE ${FREE} AND (? OR kind NOT IN ${UNHURRIED})
       ORDER BY kind IN ${UNHURRIED}, interruptions, id LIMIT 1`,
    ).get(now, unhurried ? 1 : 0) as Job | undefined;
    if (job)
      prepared(db, "UPDATE job SET state = 'running', lease_until = ?, attempts = attempts + 1 WHERE id = ?").run(
        now + LEASE_MS,
        job.id,
      );
    return { tired, job: job ?? null };
  });
  const { tired, job } = withRoom(db, () => claim.immediate());
  for (const one of tired) gaveUp(one, GIVEN_UP);
  return job;
}

const GIVEN_UP = `given up after ${MOST_ATTEMPTS} attempts`;

/** Gives up jobs whose workers have crashed too often. Part of the caller's transaction. */
function giveUpTired(db: Db, now: number): Job[] {
  const tired = prepared(
    db,
    "SELECT id, kind, recording_id AS recordingId FROM job WHERE state = 'running' AND lease_until < ? AND attempts >= ?",
  ).all(now, MOST_ATTEMPTS) as Job[];
  for (const { id } of tired) prepared(db, "UPDATE job SET state = 'failed', error = ? WHERE id = ?").run(GIVEN_UP, id);
  return tired;
}

/** Whether a low-priority job can be claimed. */
export function hasUnhurried(db: Db, now = Date.now()): boolean {
  return prepared(db, `SELECT 1 FROM job WHERE ${FREE} AND kind IN ${UNHURRIED} LIMIT 1`).get(now) !== undefined;
}

export function renewLease(db: Db, job: Job, now = Date.now()): void {
  prepared(db, "UPDATE job SET lease_until = ? WHERE id = ? AND state = 'running'").run(now + LEASE_MS, job.id);
}

/** Records how a job ended. A finished job also closes older jobs of its kind and recording. */
export function settleJob(db: Db, job: Job, error: string | null): void {
  const settle = db.transaction(() => {
    prepared(db, 'UPDATE job SET state = ?, error = ? WHERE id = ?').run(
      error === null ? 'done' : 'failed',
      error,
      job.id,
    );
    prepared(db, "DELETE FROM job WHERE recording_id = ? AND kind = ? AND id < ? AND state IN ('done', 'failed')").run(
      job.recordingId,
      job.kind,
      job.id,
    );
  });
  withRoom(db, () => settle.immediate());
}

/**
 * Frees all leases at start-up, when no worker of this workspace can be alive, so that interrupted jobs start again. An interrupted
 * attempt does not count against the job.
 */
export function freeLeases(db: Db): void {
  prepared(
    db,
    `UPDATE job SET state = 'waiting', lease_until = 0, attempts = max(0, attempts - 1), interruptions = interruptions + 1
     WHERE state = 'running'`,
  ).run();
}

/** Expires the leases of a crashed thread at once. The attempt counts. */
export function expireLeases(db: Db): void {
  withRoom(db, () => prepared(db, "UPDATE job SET lease_until = 0 WHERE state = 'running'").run());
}

/**
 * Recordings without an analysis of the current version and without a waiting job: their analysis was given up. With the reason
 * where it is known.
 */
export function unlistened(db: Db, version: number): { id: string; title: string; error: string | null }[] {
  return prepared(
    db,
    `SELECT r.id, r.title,
            (SELECT j.error FROM job j WHERE j.recording_id = r.id AND j.kind = 'analyse' ORDER BY j.id DESC LIMIT 1) AS error
     FROM recording r
     WHERE r.state = 'ready'
       AND NOT EXISTS (SELECT 1 FROM analysis a WHERE a.recording_id = r.id AND a.version = ?)
       AND NOT EXISTS (SELECT 1 FROM job j WHERE j.recording_id = r.id AND j.kind = 'analyse' AND j.state IN ('waiting', 'running'))
     ORDER BY r.arrived_at, r.id`,
  ).all(version) as { id: string; title: string; error: string | null }[];
}
