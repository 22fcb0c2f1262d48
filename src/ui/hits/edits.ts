import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { HitView, RecordingView } from '@/contract/views';
import { HIT_DEFAULTS, type Hit } from '@/core/hit/model';
import { freeName } from '@/core/naming/names';

/** The fields of a hit that an edit may set, for a list of hits. */
export function setHits(hits: readonly Stored<Hit>[], set: Partial<Hit>): Change[] {
  return hits.map(({ id, rev }): Change => ({ op: 'update', doc: 'hit', id, rev, set }));
}

/**
 * Cuts a hit that holds several strikes into as many hits: the first keeps its id, so that pads go on playing it, and each
 * runs to the start of the next.
 */
export function cutAtStrikes(hit: HitView, taken: ReadonlySet<string>, newId: () => string): Change[] {
  const inside = hit.strikes.filter((f) => f > hit.startFrame && f < hit.endFrame);
  const ends = [...inside.slice(1), hit.endFrame];
  const names = new Set(taken);
  const changes: Change[] = [
    {
      op: 'update',
      doc: 'hit',
      id: hit.id,
      rev: hit.rev,
      set: { endFrame: inside[0] ?? hit.endFrame, strikes: [] },
    },
  ];
  for (const [i, startFrame] of inside.entries()) {
    const name = freeName(hit.name, names);
    names.add(name);
    const { family, recordingId, sliceId, gainDb, dc, rootHz, tempoBpm, tags } = hit;
    changes.push({
      op: 'create',
      doc: 'hit',
      id: newId(),
      value: {
        ...HIT_DEFAULTS,
        name,
        family,
        recordingId,
        sliceId,
        startFrame,
        endFrame: ends[i] ?? hit.endFrame,
        gainDb,
        dc,
        rootHz,
        tempoBpm,
        tags,
      },
    });
  }
  return changes;
}

/** Takes back what was prepared: level and offset as they came, and the whole file where it is one sound. */
export function setBack(hit: HitView, recording: RecordingView | undefined): Change {
  const whole = recording?.what === 'one-shot' && hit.sliceId === null;
  const ends = whole && recording ? { startFrame: 0, endFrame: recording.frames } : {};
  return { op: 'update', doc: 'hit', id: hit.id, rev: hit.rev, set: { gainDb: 0, dc: [], ...ends } };
}
