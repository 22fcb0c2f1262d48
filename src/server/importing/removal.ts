import type { Db } from '../db/open';
import { withRoom } from '../db/reserve';
import { prepared } from '../history/tables';
import { requireDiscardable } from './discard';

/** Rows deleted in one transaction: some two megabytes, so that a waiting edit waits for milliseconds. */
const BLOCKS_A_STEP = 6;
const TILES_A_STEP = 500;

/**
 * Claims a recording for removal: from here on it is invisible. Checking and claiming are one transaction, so that no
 * edit can use it in between. Throws `refused` while it is in use, `not-found` where it does not exist.
 */
export function claimForRemoval(db: Db, recordingId: string): void {
  db.transaction(() => {
    requireDiscardable(db, recordingId);
    prepared(db, "UPDATE recording SET state = 'arriving', content_hash = NULL WHERE id = ?").run(recordingId);
  }).immediate();
}

/**
 * Deletes what was claimed, or never arrived, in small transactions, one a step; what a crash leaves is still marked
 * and swept at the next start. A recording in use is kept and reported: `undercroft check` has the remedies.
 */
export function* removalSteps(db: Db, id: string): Generator<void> {
  const hits = prepared(db, 'SELECT count(*) AS n FROM hit WHERE recording_id = ?').get(id) as { n: number };
  const state = prepared(db, 'SELECT state FROM recording WHERE id = ?').get(id) as { state: string } | undefined;
  if (state?.state === 'ready') return;
  if (hits.n > 0) {
    console.error(
      `The recording ${id} is not whole and cannot be taken away, since ${hits.n} hits are made of it. Run "undercroft check --mend".`,
    );
    return;
  }
  for (const [table, rows] of [
    ['pcm_block', BLOCKS_A_STEP],
    ['peak_tile', TILES_A_STEP],
  ] as const) {
    const some = prepared(
      db,
      `DELETE FROM ${table} WHERE rowid IN (SELECT rowid FROM ${table} WHERE recording_id = ? LIMIT ${rows})`,
    );
    while (withRoom(db, () => some.run(id)).changes > 0) yield;
  }
  withRoom(db, () => prepared(db, "DELETE FROM recording WHERE id = ? AND state = 'arriving'").run(id));
}

/** The same at once, where nobody waits. */
export function removeArriving(db: Db, id: string): void {
  for (const _ of removalSteps(db, id));
}
