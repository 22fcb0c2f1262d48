import type { Change } from '@/contract/edits';
import type { PrepareRequest } from '@/contract/hits';
import { UndercroftError } from '@/core/errors';
import type { Hit } from '@/core/hit/model';
import { type Prepared, prepareHit } from '@/core/hit/prepare';
import type { Db } from '../db/open';
import { prepared, readDoc } from '../history/tables';
import { readAudio } from '../importing/pcm';

/** Longest hit that is prepared: what is longer is hardly a single sound, and would be held whole in memory. */
export const LONGEST_PREPARED_S = 120;

/**
 * The changes that preparing hits as asked comes to, one hit a step; yields how much is done, 0..1. Throws where one of them is not there
 * or is too long.
 */
export function* preparedChanges(db: Db, { ids, ticks }: PrepareRequest): Generator<number, Change[]> {
  const wanted = new Set(ticks);
  const changes: Change[] = [];
  for (const [i, id] of ids.entries()) {
    const found = readDoc(db, 'hit', id);
    if (!found) throw new UndercroftError('not-found', 'One of the hits is not there (any more).');
    const hit = found.value as unknown as Hit;
    const { dc, sampleRate } = prepared(db, 'SELECT dc, sample_rate AS sampleRate FROM recording WHERE id = ?').get(
      hit.recordingId,
    ) as { dc: string; sampleRate: number };
    if (hit.endFrame - hit.startFrame > LONGEST_PREPARED_S * sampleRate) {
      throw new UndercroftError(
        'refused',
        `"${hit.name}" is longer than ${LONGEST_PREPARED_S} s; hits up to that length can be prepared.`,
      );
    }
    const audio = readAudio(db, hit.recordingId, hit.startFrame, hit.endFrame);
    const set: Prepared = prepareHit(hit, audio, wanted, JSON.parse(dc) as number[]);
    changes.push({ op: 'update', doc: 'hit', id, rev: found.rev, set });
    yield (i + 1) / ids.length;
  }
  return changes;
}
