import type { Db } from '../db/open';
import { withRoom } from '../db/reserve';
import { prepared } from '../history/tables';
import { requireDiscardable } from './discard';

/**
 * Rows that are deleted in one transaction: a few megabytes, so that an edit which must wait for it waits for milliseconds.
 */
const BLOCKS_A_STEP = 12;
const TILES_A_STEP = 1000;

/**
 * Claims a recording for its removal: from here on it is not there for anyone. Checking and claiming are one transaction, so that no
 * edit can make something of it in between. Throws `refused` while anything is made of it, `not-found` where it is not there.
 */
export function claimForRemoval(db: Db, recordingId: string): void {
  db.transaction(() => {
    requireDiscardable(db, recordingId);
    prepared(db, "UPDATE recording SET state = 'arriving', content_hash = NULL WHERE id = ?").run(recordingId);
  }).immediate();
}

/**
 * Removes what was claimed, or never arrived, in small transactions, one a step; what a crash leaves over is still marked and swept at
 * the next start. A recording that hits are made of is left as it is, and that is said: `undercroft check` tells what can be done.
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
