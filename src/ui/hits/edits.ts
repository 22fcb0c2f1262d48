import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { HitView, RecordingView, StoredHit, StoredMember } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import { freeName, LONGEST_NAME } from '@/core/naming/names';
import { LEAST_FRAMES } from '@/core/onset/marks';
import type { Step } from '@/core/treatment/step';

/** Updates the same fields of several hits. */
export function setHits(hits: readonly Stored<Hit>[], set: Partial<Hit>): Change[] {
  return hits.map(({ id, rev }): Change => ({ op: 'update', doc: 'hit', id, rev, set }));
}

/**
 * Cuts a hit with several strikes into one hit each: the first keeps its id, so that pads go on playing it, and each
 * runs to the next start.
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
    const id = newId();
    const { id: _id, rev: _rev, kits: _kits, inherited: _inherited, members: _members, steps, ...all } = hit;
    const value = {
      ...all,
      name,
      startFrame,
      endFrame: ends[i] ?? hit.endFrame,
      strikes: [],
      doubt: '',
      binnedAt: null,
    };
    changes.push({ op: 'create', doc: 'hit', id, value }, ...copiesOfSteps(steps, id, newId));
  }
  return changes;
}

/** A copy of a hit with its steps and layers, under a name that is free. */
export function copyOf(
  { id: _id, rev: _rev, kits: _kits, inherited: _inherited, members, steps, ...fields }: StoredHit & Partial<HitView>,
  id: string,
  wanted: string,
  taken: ReadonlySet<string>,
  newId: () => string,
): { readonly changes: Change[]; readonly name: string } {
  const name = freeName([...wanted].slice(0, LONGEST_NAME).join(''), taken);
  const value = { ...fields, name, binnedAt: null };
  const changes: Change[] = [
    { op: 'create', doc: 'hit', id, value },
    ...copiesOfSteps(steps, id, newId),
    ...copiesOfMembers(members, id, newId),
  ];
  return { changes, name };
}

/** Copies of layers with their own steps for another layered hit; they play the same hits. */
export function copiesOfMembers(members: readonly StoredMember[], layeredId: string, newId: () => string): Change[] {
  return members.flatMap((member): Change[] => {
    const memberId = newId();
    const { id: _id, rev: _rev, steps, ...rest } = member;
    const { hit: _hit, ...value } = rest as typeof rest & { readonly hit?: unknown };
    return [
      { op: 'create', doc: 'member', id: memberId, value: { ...value, layeredId } },
      ...steps.map((step): Change => {
        const { id: _stepId, rev: _stepRev, ...fields } = step;
        return { op: 'create', doc: 'memberStep', id: newId(), value: { ...fields, memberId } };
      }),
    ];
  });
}

/** Copies of a hit's steps for another hit. */
export function copiesOfSteps(steps: readonly Stored<Step>[], hitId: string, newId: () => string): Change[] {
  return steps.map((step) => {
    const { id: _id, rev: _rev, ...value } = step;
    return { op: 'create', doc: 'step', id: newId(), value: { ...value, hitId } };
  });
}

export type Edge = 'start' | 'end';

/** The field to set when an edge of a hit moves to a frame: within the recording, and no shorter than the least length. */
export function trimmed(
  { startFrame, endFrame }: Pick<Hit, 'startFrame' | 'endFrame'>,
  { frames }: Pick<RecordingView, 'frames'>,
  edge: Edge,
  frame: number,
): Partial<Hit> {
  return edge === 'start'
    ? { startFrame: Math.max(0, Math.min(endFrame - LEAST_FRAMES, Math.round(frame))) }
    : { endFrame: Math.max(startFrame + LEAST_FRAMES, Math.min(frames, Math.round(frame))) };
}

/** Removes a hit's steps, and extends it to the whole file where that is one sound. */
export function setBack(hit: HitView, recording: RecordingView | undefined): Change[] {
  const whole = recording?.what === 'one-shot' && hit.sliceId === null;
  const ends = whole && recording ? { startFrame: 0, endFrame: recording.frames } : {};
  return [
    { op: 'update', doc: 'hit', id: hit.id, rev: hit.rev, set: ends },
    ...hit.steps.map(({ id, rev }): Change => ({ op: 'remove', doc: 'step', id, rev })),
  ];
}
