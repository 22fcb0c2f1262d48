import { type QueryClient, type QueryKey, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { DocName, DocOf, Stored } from '@/contract/documents';
import type { Change, EditAnswer, Touched } from '@/contract/edits';
import { kindOf, NAMED, NAMED_DOCS, type ShownIn } from '@/contract/kinds';
import type { CutView, GrooveView, HitDocs, KitDocs, ListedHit, RecordingView, StoryView } from '@/contract/views';
import { complain, tellInstead } from '../parts/notice';
import { browserId, postJson, RequestError, tabId } from './api';
import {
  applyToCut,
  applyToGroove,
  applyToHits,
  applyToKit,
  applyToNamed,
  applyToRecordings,
  applyToStory,
} from './apply';
import { OwnRevisions } from './own-revisions';
import { keys } from './queries';
import { untilAnswered } from './saving';
import { holdFetches, inTurn, refetch } from './turns';

const own = new OwnRevisions();

/** Invalidates the views that show these documents. */
export function refetchTouched(client: QueryClient, touched: readonly Touched[]): void {
  const docs = new Set(touched.map((t) => t.doc));
  for (const scope of new Set(touched.map((t) => t.scope)))
    refetch(client, keys.cut(scope), keys.kit(scope), keys.story(scope), keys.groove(scope));
  refetchLists(client, docs, true);
}

const LISTS: Readonly<Record<ShownIn, QueryKey>> = {
  recordings: keys.recordings,
  hits: keys.hits,
  kits: keys.kits,
  plans: keys.plans,
  recipes: keys.recipes,
  performances: keys.performances,
  layouts: keys.layouts,
  grooves: keys.grooves,
  'every kit': ['kit'],
};

/**
 * Invalidates lists that count documents, as slices of a recording; `others`: also documents that are not updated
 * optimistically.
 */
function refetchLists(client: QueryClient, docs: ReadonlySet<DocName>, others: boolean): void {
  const lists = new Set([...docs].flatMap((doc) => kindOf(doc).shownIn));
  if (!others) {
    // Hits were updated optimistically; whole kits need no fetch for them.
    lists.delete('every kit');
  }
  for (const list of lists) refetch(client, LISTS[list]);
  refetch(client, keys.history);
}

/** Invalidates kits whose optimistic view lacks a recording or a layer's hit that no cached view has. */
function refetchIncomplete(client: QueryClient): void {
  for (const [key, view] of client.getQueriesData<KitDocs>({ queryKey: ['kit'] })) {
    if (!view) continue;
    const recordings = new Set(view.recordings.map((r) => r.id));
    const hits = new Set(view.hits.map((hit) => hit.id));
    const isThere = (hit: HitDocs) =>
      recordings.has(hit.recordingId) && hit.members.every(({ hitId }) => hits.has(hitId));
    if (!view.hits.every(isThere)) refetch(client, key);
  }
}

/** Every recording in a cached view of any page. */
function knownRecordings(client: QueryClient): readonly RecordingView[] {
  const cuts = client.getQueriesData<CutView>({ queryKey: ['cut'] }).flatMap(([, view]) => view?.recording ?? []);
  return [...cuts, ...(client.getQueryData<readonly RecordingView[]>(keys.recordings) ?? [])];
}

/** Updates cached views optimistically, as the server will return them. */
function showAtOnce(client: QueryClient, changes: readonly Change[]): void {
  client.setQueryData<readonly RecordingView[]>(keys.recordings, (list) => list && applyToRecordings(list, changes));
  for (const [key, view] of client.getQueriesData<CutView>({ queryKey: ['cut'] }))
    if (view) client.setQueryData(key, applyToCut(view, changes));
  const recordings = knownRecordings(client);
  const hits = client.setQueryData<readonly ListedHit[]>(
    keys.hits,
    (list) => list && applyToHits(list, changes, recordings),
  );
  for (const [key, view] of client.getQueriesData<StoryView>({ queryKey: ['story'] }))
    if (view) client.setQueryData(key, applyToStory(view, key[1] as string, changes));
  for (const [key, view] of client.getQueriesData<KitDocs>({ queryKey: ['kit'] })) {
    if (view) client.setQueryData(key, applyToKit(view, changes, recordings, hits));
  }
  for (const [key, view] of client.getQueriesData<GrooveView>({ queryKey: ['groove'] }))
    if (view) client.setQueryData(key, applyToGroove(view, changes));
  for (const doc of NAMED_DOCS)
    client.setQueryData<readonly Stored<DocOf<typeof doc>>[]>(
      keys[NAMED[doc]],
      (list) => list && applyToNamed(doc, list, changes),
    );
  holdFetches(client, [
    keys.recordings,
    keys.hits,
    ...NAMED_DOCS.map((doc) => keys[NAMED[doc]]),
    ['cut'],
    ['story'],
    ['kit'],
    ['groove'],
  ]);
}

/** A request that hangs this long, as on a dead connection, is aborted and sent again. */
const GIVE_UP_MS = 10_000;

/** Sends an edit until the server answers; its key makes repeats idempotent. */
function persist(path: string, body: Record<string, unknown>): Promise<EditAnswer> {
  const request = { ...body, browser: browserId(), tab: tabId, key: crypto.randomUUID() };
  return untilAnswered(
    () => postJson<EditAnswer>(path, request, AbortSignal.timeout(GIVE_UP_MS)),
    // An unreachable workspace may come back, as a server may: keep trying.
    (error) => error instanceof RequestError && error.code !== 'unavailable',
  );
}

async function send(client: QueryClient, label: string, wanted: readonly Change[]): Promise<EditAnswer | null> {
  if (wanted.length === 0) return null;
  const changes = own.carryForward(wanted);
  showAtOnce(client, changes);
  return inTurn(client, async () => {
    try {
      const answer = await persist('/api/edits', { label, changes });
      own.confirm(answer.touched);
      refetchLists(client, new Set(changes.map((c) => c.doc)), false);
      refetchIncomplete(client);
      return answer;
    } catch (error) {
      complain((error as Error).message);
      own.forget();
      refetch(client, []);
      return null;
    }
  });
}

/** Undoes or redoes; returns the reason where it was refused, else null. */
async function step(client: QueryClient, direction: 'undo' | 'redo', editId?: number): Promise<string> {
  return inTurn(client, async () => {
    try {
      const answer = await persist('/api/history', { direction, editId });
      own.confirm(answer.touched);
      refetchTouched(client, answer.touched);
      const said = `${direction === 'undo' ? 'Undone' : 'Done again'}: ${answer.label}`;
      const passed = (answer.skipped ?? []).map(({ label, reason }) => `“${label}” stays: ${reason}`);
      // The history itself shows the result for an edit chosen there.
      if (editId === undefined)
        tellInstead('history', [said, ...passed.slice(0, 2)].join('. '), {
          durationMs: passed.length > 0 ? 8000 : 2400,
        });
      return '';
    } catch (error) {
      const { message } = error as Error;
      if (editId === undefined) tellInstead('history', message);
      return message;
    }
  });
}

/** An edit computed by the server, as preparing hits: shown when it is done. */
async function ask(
  client: QueryClient,
  path: string,
  body: Record<string, unknown>,
  signal: AbortSignal | null,
): Promise<EditAnswer | null> {
  return inTurn(client, async () => {
    try {
      const answer = await postJson<EditAnswer>(path, { ...body, browser: browserId(), tab: tabId }, signal);
      own.confirm(answer.touched);
      refetchTouched(client, answer.touched);
      return answer;
    } catch (error) {
      if (!signal?.aborted) complain((error as Error).message);
      return null;
    }
  });
}

export interface Commands {
  /**
   * Shows changes at once and stores them as one edit; null when the server refused them (then all views are fetched
   * again).
   */
  commit(label: string, changes: readonly Change[]): Promise<EditAnswer | null>;
  /** Asks the server for an edit at an address of its own. */
  ask(path: string, body: Record<string, unknown>, signal?: AbortSignal): Promise<EditAnswer | null>;
  undo(): Promise<string>;
  redo(): Promise<string>;
  /** Undoes or redoes one edit of the history, whatever came after; returns the reason where it was refused. */
  turn(direction: 'undo' | 'redo', editId: number): Promise<string>;
}

export function useCommands(): Commands {
  const client = useQueryClient();
  return useMemo(
    () => ({
      commit: (label, changes) => send(client, label, changes),
      ask: (path, body, signal) => ask(client, path, body, signal ?? null),
      undo: () => step(client, 'undo'),
      redo: () => step(client, 'redo'),
      turn: (direction, editId) => step(client, direction, editId),
    }),
    [client],
  );
}
