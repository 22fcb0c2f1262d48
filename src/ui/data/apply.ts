import type { DocOf, Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import { type NamedDoc, whole } from '@/contract/kinds';
import type {
  CutView,
  GrooveView,
  HitDocs,
  KitDocs,
  ListedHit,
  RecordingView,
  StoredMember,
  StoryView,
} from '@/contract/views';

type Row = { readonly id: string; readonly rev: number };

/** A list of documents after changes, as the server will return it: each change raises the revision by one. */
function applyTo<T extends Row>(
  rows: readonly T[],
  changes: readonly Change[],
  belongs: (value: Record<string, unknown>) => boolean,
): readonly T[] {
  if (changes.length === 0) return rows;
  const concerned = new Set(changes.map(({ id }) => id));
  // Only the rows that are changed are looked up by their ids: a list may be long.
  const next = new Map<string, T | null>();
  for (const row of rows) if (concerned.has(row.id)) next.set(row.id, row);
  const there = new Set(next.keys());
  for (const change of changes) {
    const row = next.get(change.id);
    if (change.op === 'remove') next.set(change.id, null);
    else if (change.op === 'update' && row) next.set(change.id, { ...row, ...change.set, rev: row.rev + 1 });
    else if (change.op === 'create' && belongs(change.value))
      next.set(change.id, { ...whole(change.doc, change.value), id: change.id, rev: 1 } as unknown as T);
  }
  const made: T[] = [];
  for (const row of rows) {
    const now = concerned.has(row.id) ? next.get(row.id) : row;
    if (now) made.push(now);
  }
  for (const [id, row] of next) if (row && !there.has(id)) made.push(row);
  return made;
}

const of = (changes: readonly Change[], doc: Change['doc']) => changes.filter((c) => c.doc === doc);

export function applyToRecordings(
  list: readonly RecordingView[],
  changes: readonly Change[],
): readonly RecordingView[] {
  const ofSteps = of(changes, 'recordingStep');
  const recordings = applyTo(list, of(changes, 'recording'), () => false);
  if (ofSteps.length === 0) return recordings;
  return recordings.map((recording) => {
    const steps = applyTo(recording.steps, ofSteps, (value) => value.recordingId === recording.id);
    return steps === recording.steps ? recording : { ...recording, steps: inOrder(steps) };
  });
}

/** Hits after changes. `recordings`: all that are known, after the changes, for what the hits inherit. */
export function applyToHits(
  list: readonly ListedHit[],
  changes: readonly Change[],
  recordings: readonly RecordingView[],
): readonly ListedHit[] {
  const hits = withOwn(
    applyTo(list, of(changes, 'hit'), () => true),
    changes,
    recordings,
  );
  return hits === list ? list : hits.map((hit) => (hit.kits ? hit : { ...hit, kits: [] }));
}

/** Hits with their own documents after changes. */
function withOwn<T extends HitDocs>(
  hits: readonly T[],
  changes: readonly Change[],
  recordings: readonly RecordingView[],
): readonly T[] {
  const ofSteps = of(changes, 'step');
  const isNew = (hit: T) => hit.steps === undefined;
  const inherit = changes.some(({ doc }) => doc === 'recordingStep') || hits.some(isNew);
  const isLayering = changes.some(({ doc }) => doc === 'member' || doc === 'memberStep');
  if (ofSteps.length === 0 && !inherit && !isLayering) return hits;
  const known = new Map(inherit ? recordings.map(({ id, steps }) => [id, steps]) : []);
  return hits.map((hit) => {
    const steps = applyTo(hit.steps ?? [], ofSteps, (value) => value.hitId === hit.id);
    const inherited = known.get(hit.recordingId) ?? hit.inherited ?? [];
    const members = membersOf(hit, changes);
    if (steps === hit.steps && inherited === hit.inherited && members === hit.members) return hit;
    return { ...hit, inherited, members, steps: inOrder(steps) };
  });
}

/** A hit's layers after changes. */
function membersOf({ id, members = [] }: HitDocs, changes: readonly Change[]): readonly StoredMember[] {
  const ofSteps = of(changes, 'memberStep');
  const changed = applyTo(members, of(changes, 'member'), (value) => value.layeredId === id);
  if (changed === members && ofSteps.length === 0) return members;
  return inOrder(
    changed.map((member) => {
      const steps = applyTo(member.steps ?? [], ofSteps, (value) => value.memberId === member.id);
      return { ...member, steps: inOrder(steps) };
    }),
  );
}

function inOrder<T extends { readonly id: string; readonly position: number }>(steps: readonly T[]): readonly T[] {
  return [...steps].sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1));
}

/** A list of all documents of a kind after changes. */
export function applyToNamed<D extends NamedDoc>(
  doc: D,
  list: readonly Stored<DocOf<D>>[],
  changes: readonly Change[],
): readonly Stored<DocOf<D>>[] {
  return applyTo(list as readonly Row[], of(changes, doc), () => true) as unknown as typeof list;
}

export function applyToStory(story: StoryView, recordingId: string, changes: readonly Change[]): StoryView {
  const bookmarks = applyTo(story.bookmarks, of(changes, 'bookmark'), (value) => value.recordingId === recordingId);
  if (bookmarks === story.bookmarks) return story;
  return { ...story, bookmarks: [...bookmarks].sort((a, b) => a.frame - b.frame) };
}

export function applyToCut(view: CutView, changes: readonly Change[]): CutView {
  const { id } = view.recording;
  const slices = applyTo(view.slices, of(changes, 'slice'), (value) => value.recordingId === id);
  const inOrder =
    slices === view.slices
      ? slices
      : [...slices].sort((a, b) => a.startFrame - b.startFrame || a.endFrame - b.endFrame);
  return {
    ...view,
    recording: applyToRecordings([view.recording], changes)[0] ?? view.recording,
    cut: view.cut && (applyTo([view.cut], of(changes, 'cut'), () => false)[0] ?? view.cut),
    slices: inOrder,
    story: applyToStory(view.story, id, changes),
  };
}

/** Notes by time; those that are in order already are left as they lie. */
function inTime(notes: GrooveView['notes']): GrooveView['notes'] {
  const before = (a: GrooveView['notes'][number], b: GrooveView['notes'][number]) =>
    a.tick - b.tick || (a.id < b.id ? -1 : 1);
  const isSorted = notes.every((note, i) => i === 0 || before(notes[i - 1] as typeof note, note) < 0);
  return isSorted ? notes : notes.toSorted(before);
}

/** A groove after changes. */
export function applyToGroove(view: GrooveView, changes: readonly Change[]): GrooveView {
  const rows = applyTo(view.rows, of(changes, 'grooveRow'), (value) => value.grooveId === view.groove.id);
  const ids = new Set(rows.map(({ id }) => id));
  const own = (value: Record<string, unknown>) => ids.has(String(value.rowId));
  const notes = applyTo(view.notes, of(changes, 'grooveNote'), own);
  const hasLost = rows.length < view.rows.length;
  const kept = hasLost ? notes.filter(({ rowId }) => ids.has(rowId)) : notes;
  return {
    groove: applyTo([view.groove], of(changes, 'groove'), () => false)[0] ?? view.groove,
    rows: rows === view.rows ? rows : inOrder(rows),
    lanes: applyTo(view.lanes, of(changes, 'grooveLane'), (value) => value.grooveId === view.groove.id),
    notes: kept === view.notes ? kept : inTime(kept),
  };
}

/** A kit after changes. `recordings` and `hits`: all that are known, after the changes, for sounds new to the kit. */
export function applyToKit(
  view: KitDocs,
  changes: readonly Change[],
  recordings: readonly RecordingView[],
  hits: readonly ListedHit[] = [],
): KitDocs {
  const pads = applyTo(view.pads, of(changes, 'pad'), (value) => value.kitId === view.kit.id);
  const padIds = new Set(pads.map((pad) => pad.id));
  const layers = applyTo(view.layers, of(changes, 'layer'), (value) => padIds.has(String(value.padId))).filter((l) =>
    padIds.has(l.padId),
  );
  const steps = applyTo(view.steps, of(changes, 'padStep'), (value) => padIds.has(String(value.padId))).filter((s) =>
    padIds.has(s.padId),
  );
  const buses = applyTo(view.buses, of(changes, 'bus'), (value) => value.kitId === view.kit.id);
  const busIds = new Set(buses.map((bus) => bus.id));
  const busSteps = applyTo(view.busSteps, of(changes, 'busStep'), (value) => busIds.has(String(value.busId))).filter(
    ({ busId }) => busIds.has(busId),
  );
  const variations = applyTo(view.variations, of(changes, 'variation'), (value) =>
    padIds.has(String(value.padId)),
  ).filter((v) => padIds.has(v.padId));
  const used = new Set([...layers, ...variations].map(({ hitId }) => hitId));
  const carried = applyToRecordings(view.recordings, changes);
  // The kit's own recordings overwrite the others, which may be older.
  const known = new Map([...recordings, ...carried].map((r) => [r.id, r]));
  const changed = withOwn(
    applyTo<HitDocs>(view.hits, of(changes, 'hit'), () => true),
    changes,
    [...known.values()],
  );
  const played = withLayers([...used], changed, hits);
  return {
    kit: applyTo([view.kit], of(changes, 'kit'), () => false)[0] ?? view.kit,
    pads: [...pads].sort((a, b) => a.position - b.position),
    layers: [...layers].sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1)),
    steps: inOrder(steps),
    buses: inOrder(buses),
    busSteps: inOrder(busSteps),
    variations: [...variations].sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1)),
    hits: played,
    recordings: [...new Set(played.map((h) => h.recordingId))].flatMap((id) => known.get(id) ?? []),
  };
}

/** The hits of these ids and of their layers, at any depth, from a kit's own, or else from the list, which is changed already. */
function withLayers(ids: readonly string[], own: readonly HitDocs[], listed: readonly ListedHit[]): HitDocs[] {
  const byId = new Map<string, HitDocs>(own.map((hit) => [hit.id, hit]));
  const others = new Map(listed.map((hit) => [hit.id, hit]));
  const find = (id: string): HitDocs | undefined => {
    const other = others.get(id);
    if (byId.has(id) || !other) return byId.get(id);
    const { kits: _kits, ...hit } = other;
    return hit;
  };
  const found = new Map<string, HitDocs>();
  for (let wanted = ids; wanted.length > 0; ) {
    const next = wanted.flatMap((id) => find(id) ?? []);
    for (const hit of next) found.set(hit.id, hit);
    wanted = next.flatMap((hit) => hit.members.map(({ hitId }) => hitId)).filter((id) => !found.has(id));
  }
  return [...found.values()];
}
