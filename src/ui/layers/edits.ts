import type { Change } from '@/contract/edits';
import type { HitView, ResolvedMember, StoredHit } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import { stretchesOf } from '@/core/hit/key';
import type { Member } from '@/core/layering/model';
import { MEMBER_INITIAL, OUT_DB } from '@/core/layering/parameters';
import type { Shared } from '@/core/layering/share';
import { freeName, LONGEST_NAME } from '@/core/naming/names';
import type { LinedUp } from '@/worker/layers';

/** The changes that make a layered hit of some hits, the first of which gives it its family and its place in the library. */
export function layered(
  hits: readonly StoredHit[],
  taken: ReadonlySet<string>,
  id: string,
  newId: () => string,
): { readonly changes: Change[]; readonly name: string } {
  const first = hits[0] as StoredHit;
  const name = freeName([...`${first.name} layered`].slice(0, LONGEST_NAME - 4).join(''), taken);
  const { recordingId, startFrame, endFrame } = stretchesOf(first)[0] as StoredHit;
  const value = { ...HIT_INITIAL, name, family: first.family, recordingId, startFrame, endFrame, sliceId: null };
  return {
    name,
    changes: [
      { op: 'create', doc: 'hit', id, value },
      ...hits.map((hit, position): Change => addMember(id, { hitId: hit.id, position }, newId)),
    ],
  };
}

/** The change that adds a layer to a layered hit. */
export function addMember(
  layeredId: string,
  member: Partial<Member> & Pick<Member, 'hitId' | 'position'>,
  newId: () => string,
): Change {
  return { op: 'create', doc: 'member', id: newId(), value: { ...MEMBER_INITIAL, ...member, layeredId } };
}

export function setMember({ id, rev }: Pick<ResolvedMember, 'id' | 'rev'>, set: Partial<Member>): Change {
  return { op: 'update', doc: 'member', id, rev, set };
}

/** The changes that lay layers as they were lined up; empty where they lie so already. */
export function linedUpChanges({ members }: HitView, { layers }: LinedUp): Change[] {
  return members.flatMap((member, n): Change[] => {
    const to = layers[n];
    if (!to || (to.movedFrames === 0 && to.inverted === member.inverted)) return [];
    return [setMember(member, { offsetFrames: to.offsetFrames, inverted: to.inverted })];
  });
}

/** The changes that share the spectrum as proposed. */
export function sharedChanges({ id, rev, members }: HitView, { edgesHz, gains }: Shared): Change[] {
  return [
    { op: 'update', doc: 'hit', id, rev, set: { edgesHz } },
    ...members.map((member, n) =>
      setMember(member, { bandsDb: (gains[n] ?? []).map((gain) => (gain === 0 ? OUT_DB : 0)) }),
    ),
  ];
}

/** The changes that give every layer the whole spectrum again. */
export function unsharedChanges({ id, rev, members }: HitView): Change[] {
  return [
    { op: 'update', doc: 'hit', id, rev, set: { edgesHz: [] } },
    ...members.flatMap((member) => (member.bandsDb.length > 0 ? [setMember(member, { bandsDb: [] })] : [])),
  ];
}
