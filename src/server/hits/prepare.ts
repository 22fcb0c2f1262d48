import type { Change, EditAnswer } from '@/contract/edits';
import type { PrepareRequest } from '@/contract/hits';
import { UndercroftError } from '@/core/errors';
import type { Hit } from '@/core/hit/model';
import { type Prepared, prepareHit } from '@/core/hit/prepare';
import type { Db } from '../db/open';
import { commitEdit } from '../history/commit';
import { prepared, readDoc } from '../history/tables';
import { readAudio } from '../importing/pcm';

/** Longest hit that is prepared: what is longer is hardly a single sound, and would be held whole in memory. */
const LONGEST_SECONDS = 120;

/** Prepares hits as asked, as one edit that can be undone; throws where one of them is not there. */
export function prepareHits(db: Db, { browser, tab, ids, ticks }: PrepareRequest): EditAnswer {
  const wanted = new Set(ticks);
  const changes = ids.map((id): Change => {
    const found = readDoc(db, 'hit', id);
    if (!found) throw new UndercroftError('not-found', 'One of the hits is not there (any more).');
    const hit = found.value as unknown as Hit;
    const { dc, sampleRate } = prepared(db, 'SELECT dc, sample_rate AS sampleRate FROM recording WHERE id = ?').get(
      hit.recordingId,
    ) as { dc: string; sampleRate: number };
    if (hit.endFrame - hit.startFrame > LONGEST_SECONDS * sampleRate) {
      throw new UndercroftError(
        'refused',
        `"${hit.name}" is longer than ${LONGEST_SECONDS} s; hits up to that length can be prepared.`,
      );
    }
    const audio = readAudio(db, hit.recordingId, hit.startFrame, hit.endFrame);
    const set: Prepared = prepareHit(hit, audio, wanted, JSON.parse(dc) as number[]);
    return { op: 'update', doc: 'hit', id, rev: found.rev, set };
  });
  const label = ids.length === 1 ? 'prepared a hit' : `prepared ${ids.length} hits`;
  return commitEdit(db, { browser, tab, label, changes });
}
