import type { DocName } from '@/contract/documents';
import type { KitView, RecordingView, ResolvedMember, StoredHit } from '@/contract/views';
import { createStore, useStore } from '../parts/store';

type Fields = Readonly<Record<string, unknown>>;
/** Drafts: fields of documents that are being dragged or typed and are not stored yet, by kind and id. */
export type Drafts = ReadonlyMap<string, Fields>;

const NONE: Drafts = new Map();
const store = createStore<Drafts>(NONE);
const keyOf = (doc: DocName, id: string) => `${doc} ${id}`;

/** Sets fields of a document's draft; rows, sound and pictures show them at once. Nothing is stored. */
export function setDraft(doc: DocName, id: string, fields: Fields): void {
  const key = keyOf(doc, id);
  const next = new Map(store.get());
  next.set(key, { ...next.get(key), ...fields });
  store.set(next);
}

/**
 * Drops a document's draft, so that its stored fields show again. Call it after the draft was committed or given up.
 */
export function dropDraft(doc: DocName, id: string): void {
  const key = keyOf(doc, id);
  if (!store.get().has(key)) return;
  const next = new Map(store.get());
  next.delete(key);
  store.set(next.size === 0 ? NONE : next);
}

export function useDrafts(): Drafts {
  return useStore(store);
}

/** Documents with their drafts applied; the same array where there are none. */
function drafted<T extends { readonly id: string }>(drafts: Drafts, doc: DocName, rows: readonly T[]): readonly T[] {
  if (!rows.some(({ id }) => drafts.has(keyOf(doc, id)))) return rows;
  return rows.map((row) => {
    const fields = drafts.get(keyOf(doc, row.id));
    return fields ? { ...row, ...fields } : row;
  });
}

/** Hits with the drafts of their own and of their steps applied. */
export function draftedHits<T extends StoredHit>(drafts: Drafts, hits: readonly T[]): readonly T[] {
  if (drafts.size === 0) return hits;
  return drafted(drafts, 'hit', hits).map((hit) => {
    const steps = drafted(drafts, 'step', hit.steps);
    const inherited = drafted(drafts, 'recordingStep', hit.inherited);
    const members = draftedMembers(drafts, hit.members);
    return steps === hit.steps && inherited === hit.inherited && members === hit.members
      ? hit
      : { ...hit, steps, inherited, members };
  });
}

function draftedMembers(drafts: Drafts, members: readonly ResolvedMember[]): readonly ResolvedMember[] {
  if (members.length === 0) return members;
  return drafted(drafts, 'member', members).map((member) => ({
    ...member,
    steps: drafted(drafts, 'memberStep', member.steps),
    hit: draftedHits(drafts, [member.hit])[0] ?? member.hit,
  }));
}

/** Recordings with the drafts of their steps applied. */
export function draftedRecordings(drafts: Drafts, recordings: readonly RecordingView[]): readonly RecordingView[] {
  if (drafts.size === 0) return recordings;
  return recordings.map((recording) => {
    const steps = drafted(drafts, 'recordingStep', recording.steps);
    return steps === recording.steps ? recording : { ...recording, steps };
  });
}

/** A kit with the drafts of its documents applied. */
export function draftedKit(drafts: Drafts, view: KitView): KitView {
  if (drafts.size === 0) return view;
  return {
    ...view,
    kit: drafted(drafts, 'kit', [view.kit])[0] ?? view.kit,
    pads: drafted(drafts, 'pad', view.pads),
    layers: drafted(drafts, 'layer', view.layers),
    steps: drafted(drafts, 'padStep', view.steps),
    hits: draftedHits(drafts, view.hits),
  };
}
