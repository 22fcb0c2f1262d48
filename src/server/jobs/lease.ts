import type { Db } from '../db/open';
import { withRoom } from '../db/reserve';
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
 * when there is no other. A job that was broken off comes after others: should it be what ends the application, it holds up none of them.
 * One that was tried too often is given up, which `gaveUp` is told. Null when there is none.
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

/** Gives up jobs whose worker has died over them too often; part of the caller's transaction. */
function giveUpTired(db: Db, now: number): Job[] {
  const tired = prepared(
    db,
    "SELECT id, kind, recording_id AS recordingId FROM job WHERE state = 'running' AND lease_until < ? AND attempts >= ?",
  ).all(now, MOST_ATTEMPTS) as Job[];
  for (const { id } of tired) prepared(db, "UPDATE job SET state = 'failed', error = ? WHERE id = ?").run(GIVEN_UP, id);
  return tired;
}

/** Whether there is a job to be claimed that nobody waits for. */
export function hasUnhurried(db: Db, now = Date.now()): boolean {
  return prepared(db, `SELECT 1 FROM job WHERE ${FREE} AND kind IN ${UNHURRIED} LIMIT 1`).get(now) !== undefined;
}

export function renewLease(db: Db, job: Job, now = Date.now()): void {
  prepared(db, "UPDATE job SET lease_until = ? WHERE id = ? AND state = 'running'").run(now + LEASE_MS, job.id);
}

/** Writes down how a job ended. One that is done takes the older ones of its kind and recording out of the list. */
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
 * Has everything begun again that was under way when the application last ended: no worker of this workspace lives at its start. That
 * an attempt was broken off does not count against the job.
 */
export function freeLeases(db: Db): void {
  prepared(
    db,
    `UPDATE job SET state = 'waiting', lease_until = 0, attempts = max(0, attempts - 1), interruptions = interruptions + 1
     WHERE state = 'running'`,
  ).run();
}

/** Lets others claim at once what a thread held that has died: the attempt counts. */
export function expireLeases(db: Db): void {
  withRoom(db, () => prepared(db, "UPDATE job SET lease_until = 0 WHERE state = 'running'").run());
}

/**
 * Recordings that are there but were never listened to by the present method, and for which nothing waits to be done: listening to them
 * was given up. With the reason where one is known.
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
