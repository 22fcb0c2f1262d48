import { type QueryClient, type QueryKey, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { DocName, Stored } from '@/contract/documents';
import type { Change, EditAnswer, Touched } from '@/contract/edits';
import { kindOf, type ShownIn } from '@/contract/kinds';
import type { CutView, HitView, KitView, RecordingView, StoryView } from '@/contract/views';
import type { Plan } from '@/core/recording/plan';
import { complain, tellInstead } from '../parts/notice';
import { browserId, postJson, RequestError, tabId } from './api';
import { applyToCut, applyToHits, applyToKit, applyToPlans, applyToRecordings, applyToStory } from './apply';
import { OwnRevisions } from './own-revisions';
import { keys } from './queries';
import { untilAnswered } from './saving';
import { holdFetches, inTurn, refetch } from './turns';

const own = new OwnRevisions();

/** Has the views that show these documents fetched anew. */
export function refetchTouched(client: QueryClient, touched: readonly Touched[]): void {
  const docs = new Set(touched.map((t) => t.doc));
  for (const scope of new Set(touched.map((t) => t.scope)))
    refetch(client, keys.cut(scope), keys.kit(scope), keys.story(scope));
  refetchLists(client, docs, true);
}

const LISTS: Readonly<Record<ShownIn, QueryKey>> = {
  recordings: keys.recordings,
  hits: keys.hits,
  kits: keys.kits,
  plans: keys.plans,
  'every kit': ['kit'],
};

/** Lists count what belongs to their entries, as slices of a recording; `others` where documents are not shown changed yet. */
function refetchLists(client: QueryClient, docs: ReadonlySet<DocName>, others: boolean): void {
  const lists = new Set([...docs].flatMap((doc) => kindOf(doc).shownIn));
  if (!others) {
    // Hits are shown as they were changed; whole kits need not be fetched for that.
    lists.delete('every kit');
  }
  for (const list of lists) refetch(client, LISTS[list]);
  refetch(client, keys.history);
}

/** Kits that were shown at once without a recording that no view of the page knew. */
function refetchIncomplete(client: QueryClient): void {
  for (const [key, view] of client.getQueriesData<KitView>({ queryKey: ['kit'] })) {
    const known = new Set(view?.recordings.map((r) => r.id));
    if (view?.hits.some((hit) => !known.has(hit.recordingId))) refetch(client, key);
  }
}

/** Every recording that some view of the page knows, whichever pages were opened before. */
function knownRecordings(client: QueryClient): readonly RecordingView[] {
  const cuts = client.getQueriesData<CutView>({ queryKey: ['cut'] }).flatMap(([, view]) => view?.recording ?? []);
  return [...cuts, ...(client.getQueryData<readonly RecordingView[]>(keys.recordings) ?? [])];
}

/** Views as they will be once the server has taken the changes. */
function showAtOnce(client: QueryClient, changes: readonly Change[]): void {
  client.setQueryData<readonly RecordingView[]>(keys.recordings, (list) => list && applyToRecordings(list, changes));
  const recordings = knownRecordings(client);
  const hits = client.setQueryData<readonly HitView[]>(keys.hits, (list) => list && applyToHits(list, changes));
  for (const [key, view] of client.getQueriesData<StoryView>({ queryKey: ['story'] }))
    if (view) client.setQueryData(key, applyToStory(view, key[1] as string, changes));
  for (const [key, view] of client.getQueriesData<CutView>({ queryKey: ['cut'] }))
    if (view) client.setQueryData(key, applyToCut(view, changes));
  for (const [key, view] of client.getQueriesData<KitView>({ queryKey: ['kit'] })) {
    if (view) client.setQueryData(key, applyToKit(view, changes, recordings, hits));
  }
  client.setQueryData<readonly Stored<Plan>[]>(keys.plans, (list) => list && applyToPlans(list, changes));
  holdFetches(client, [keys.recordings, keys.hits, keys.plans, ['cut'], ['story'], ['kit']]);
}

/** A request that hangs for so long, as on a connection that was lost unseen, is given up and sent again. */
const GIVE_UP_MS = 10_000;

/** Sends an edit until the server answers it; the key has it done once, however often it arrives. */
function persist(path: string, body: Record<string, unknown>): Promise<EditAnswer> {
  const request = { ...body, browser: browserId(), tab: tabId, key: crypto.randomUUID() };
  return untilAnswered(
    () => postJson<EditAnswer>(path, request, AbortSignal.timeout(GIVE_UP_MS)),
    // A workspace that is out of reach may come back, as a server may: what was done waits for it.
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

/** Undoes or does again; gives why it could not be, or nothing. */
async function step(client: QueryClient, direction: 'undo' | 'redo', editId?: number): Promise<string> {
  return inTurn(client, async () => {
    try {
      const answer = await persist('/api/history', { direction, editId });
      own.confirm(answer.touched);
      refetchTouched(client, answer.touched);
      const said = `${direction === 'undo' ? 'Undone' : 'Done again'}: ${answer.label}`;
      const passed = (answer.skipped ?? []).map(({ label, reason }) => `“${label}” stays: ${reason}`);
      // The history itself shows what became of the one that was named.
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

/** An edit that the server works out itself, as preparing hits: shown when it is done. */
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
  /** Shows changes at once and stores them as one edit; null when the server refused (then all is fetched anew). */
  commit(label: string, changes: readonly Change[]): Promise<EditAnswer | null>;
  /** Has the server make an edit at an address of its own. */
  ask(path: string, body: Record<string, unknown>, signal?: AbortSignal): Promise<EditAnswer | null>;
  undo(): Promise<string>;
  redo(): Promise<string>;
  /** Takes one edit back, or does it again, whatever was done since; gives why it could not be, or nothing. */
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
