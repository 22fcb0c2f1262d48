import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { toast } from 'sonner';
import type { Change, EditAnswer, Touched } from '@/contract/edits';
import type { CutView, KitView, RecordingView } from '@/contract/views';
import { browserId, postJson, tabId } from './api';
import { applyToCut, applyToKit } from './apply';
import { keys } from './queries';
import { saving } from './saving';

/** Requests go out one after another, so that each names the revisions that the one before it made. */
let queue: Promise<unknown> = Promise.resolve();

function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const done = queue.then(work, work);
  queue = done.catch(() => {});
  saving.begin();
  done.then(saving.end, saving.end);
  return done;
}

/** Has the views that show these documents fetched anew. */
export function refetchTouched(client: QueryClient, touched: readonly Touched[]): void {
  const scopes = new Set(touched.map((t) => t.scope));
  for (const scope of scopes) {
    void client.invalidateQueries({ queryKey: keys.cut(scope) });
    void client.invalidateQueries({ queryKey: keys.kit(scope) });
  }
  if (touched.some((t) => t.doc === 'hit')) void client.invalidateQueries({ queryKey: ['kit'] });
  if (touched.some((t) => t.doc === 'kit' || t.doc === 'pad')) void client.invalidateQueries({ queryKey: keys.kits });
  if (touched.some((t) => t.doc === 'recording' || t.doc === 'slice' || t.doc === 'layer'))
    void client.invalidateQueries({ queryKey: keys.recordings });
  void client.invalidateQueries({ queryKey: keys.history });
}

function showAtOnce(client: QueryClient, changes: readonly Change[]): void {
  const recordings = client.getQueryData<RecordingView[]>(keys.recordings) ?? [];
  for (const [key, view] of client.getQueriesData<CutView>({ queryKey: ['cut'] }))
    if (view) client.setQueryData(key, applyToCut(view, changes));
  for (const [key, view] of client.getQueriesData<KitView>({ queryKey: ['kit'] })) {
    if (view) client.setQueryData(key, applyToKit(view, changes, recordings));
  }
}

async function send(client: QueryClient, label: string, changes: readonly Change[]): Promise<EditAnswer | null> {
  if (changes.length === 0) return null;
  // A fetch that is on its way shows what was before; it must not land on top.
  await Promise.all([client.cancelQueries({ queryKey: ['cut'] }), client.cancelQueries({ queryKey: ['kit'] })]);
  showAtOnce(client, changes);
  return inTurn(async () => {
    try {
      const answer = await postJson<EditAnswer>('/api/edits', { browser: browserId(), tab: tabId, label, changes });
      void client.invalidateQueries({ queryKey: keys.history });
      if (changes.some((c) => c.doc === 'kit' || c.doc === 'pad'))
        void client.invalidateQueries({ queryKey: keys.kits });
      if (changes.some((c) => c.doc !== 'pad' && c.doc !== 'kit'))
        void client.invalidateQueries({ queryKey: keys.recordings });
      return answer;
    } catch (error) {
      toast.error((error as Error).message);
      void client.invalidateQueries();
      return null;
    }
  });
}

async function step(client: QueryClient, direction: 'undo' | 'redo'): Promise<void> {
  await inTurn(async () => {
    try {
      const answer = await postJson<EditAnswer>('/api/history', { browser: browserId(), tab: tabId, direction });
      refetchTouched(client, answer.touched);
      toast(direction === 'undo' ? `Undone: ${answer.label}` : `Done again: ${answer.label}`, {
        id: 'history',
        duration: 1800,
      });
    } catch (error) {
      toast((error as Error).message, { id: 'history' });
    }
  });
}

export interface Commands {
  /** Shows changes at once and stores them as one edit; null when the server refused (then all is fetched anew). */
  commit(label: string, changes: readonly Change[]): Promise<EditAnswer | null>;
  undo(): Promise<void>;
  redo(): Promise<void>;
}

export function useCommands(): Commands {
  const client = useQueryClient();
  return useMemo(
    () => ({
      commit: (label, changes) => send(client, label, changes),
      undo: () => step(client, 'undo'),
      redo: () => step(client, 'redo'),
    }),
    [client],
  );
}
