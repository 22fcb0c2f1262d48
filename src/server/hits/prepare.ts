import { randomUUID } from 'node:crypto';
import type { Change } from '@/contract/edits';
import type { PrepareRequest } from '@/contract/hits';
import type { StoredHit } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { isLayered } from '@/core/hit/key';
import { prepareHit, type WantedStep } from '@/core/hit/prepare';
import { renderHit } from '@/core/hit/render';
import type { SourceOf } from '@/core/hit/source';
import { newStep } from '@/core/treatment/step';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { readAudio } from '../importing/pcm';
import { LONGEST_TREATED_S, treatedHit } from './treated';

/**
 * Computes the changes of preparing hits, one hit a step; yields the progress, 0..1. Throws where a hit does not exist
 * or is too long.
 */
export function* preparedChanges(db: Db, { ids, ticks }: PrepareRequest): Generator<number, Change[]> {
  const wanted = new Set(ticks);
  const changes: Change[] = [];
  for (const [i, id] of ids.entries()) {
    const hit = treatedHit(db, id);
    if (!hit) throw new UndercroftError('not-found', 'One of the hits is not there (any more).');
    const { dc, sampleRate } = prepared(db, 'SELECT dc, sample_rate AS sampleRate FROM recording WHERE id = ?').get(
      hit.recordingId,
    ) as { dc: string; sampleRate: number };
    if (hit.endFrame - hit.startFrame > LONGEST_TREATED_S * sampleRate) {
      throw new UndercroftError(
        'refused',
        `"${hit.name}" is longer than ${LONGEST_TREATED_S} s; hits up to that length can be prepared.`,
      );
    }
    const read: SourceOf = ({ recordingId, startFrame, endFrame }) => readAudio(db, recordingId, startFrame, endFrame);
    const layered = isLayered(hit);
    const audio = layered ? renderHit({ ...hit, steps: [] }, read).audio : read(hit);
    // The sum of layers has no edges of its own, and the offsets of its recordings are its layers' matter.
    const ticked = layered ? new Set([...wanted].filter((tick) => tick !== 'ends' && tick !== 'dc')) : wanted;
    const { steps, ...set } = prepareHit(hit, audio, ticked, JSON.parse(dc) as number[]);
    if (layered) Object.assign(set, { startFrame: hit.startFrame, endFrame: hit.endFrame });
    changes.push({ op: 'update', doc: 'hit', id, rev: hit.rev, set }, ...steps.map((step) => stepChange(hit, step)));
    yield (i + 1) / ids.length;
  }
  return changes;
}

function stepChange(hit: StoredHit, { id, processor, position, values }: WantedStep): Change {
  const known = hit.steps.find((step) => step.id === id);
  if (!known)
    return { op: 'create', doc: 'step', id: randomUUID(), value: newStep(hit.id, processor, position, values) };
  return { op: 'update', doc: 'step', id: known.id, rev: known.rev, set: { ...values, active: true } };
}
