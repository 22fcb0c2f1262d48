import type { Change } from '@/contract/edits';
import type { HitView } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import { freeName } from '@/core/naming/names';
import { nameOfStretch, type Stretch } from '../pads/laying';
import { hitSubject, type Subject } from './subject';

/** What steps are to be added to, and the changes that make those hits which do not exist yet. */
export interface Targets {
  readonly subjects: readonly Subject[];
  readonly changes: readonly Change[];
}

/** Stretches of recordings as hits: the one that a slice became already, or a new one. */
export function targetsOf(stretches: readonly Stretch[], hits: readonly HitView[], newId: () => string): Targets {
  const taken = new Set(hits.map(({ name }) => name));
  const changes: Change[] = [];
  const subjects = stretches.map((stretch): Subject => {
    const known = hitOf(stretch, hits);
    if (known) return hitSubject(known);
    const { recording, startFrame, endFrame, sliceId, family } = stretch;
    const name = freeName(nameOfStretch(stretch), taken);
    taken.add(name);
    const id = newId();
    const value = { ...HIT_INITIAL, name, family, recordingId: recording.id, startFrame, endFrame, sliceId };
    changes.push({ op: 'create', doc: 'hit', id, value });
    return hitSubject({ ...value, id, rev: 1, steps: [], members: [], inherited: recording.steps, kits: [] });
  });
  return { subjects, changes };
}

/** The hit that a stretch is, or that its slice became with the same edges; undefined where there is none. */
export function hitOf({ hit, sliceId, startFrame, endFrame }: Stretch, hits: readonly HitView[]): HitView | undefined {
  if (hit) return hits.find(({ id }) => id === hit.id);
  return hits.find(
    (h) =>
      h.sliceId !== null &&
      h.sliceId === sliceId &&
      h.startFrame === startFrame &&
      h.endFrame === endFrame &&
      h.binnedAt === null,
  );
}
