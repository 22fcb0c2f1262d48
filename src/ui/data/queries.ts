import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Stored } from '@/contract/documents';
import type { HistoryAnswer } from '@/contract/edits';
import type { ScanProgress, WatchedFolder } from '@/contract/imports';
import type { CutView, HitView, KitListEntry, KitView, RecordingView, StoryView } from '@/contract/views';
import type { Plan } from '@/core/recording/plan';
import { browserId, getJson } from './api';
import { fetchSounds, type KnownSounds, unhearable } from './descriptions';
import { byArrival, byName, fetchList } from './lists';

export const keys = {
  recordings: ['recordings'] as const,
  story: (id: string) => ['story', id] as const,
  cut: (id: string) => ['cut', id] as const,
  sounds: (id: string) => ['sounds', id] as const,
  levels: (id: string) => ['levels', id] as const,
  plans: ['plans'] as const,
  hits: ['hits'] as const,
  folders: ['folders'] as const,
  scan: (id: string) => ['scan', id] as const,
  kits: ['kits'] as const,
  kit: (id: string) => ['kit', id] as const,
  history: ['history'] as const,
  wholeHistory: ['history', 'whole'] as const,
  analysis: (id: string) => ['analysis', id] as const,
};

/** What is under way is asked for this often as well, should a word of it be lost. */
const UNDER_WAY_MS = 5000;

export function useRecordings() {
  const client = useQueryClient();
  return useQuery({
    queryKey: keys.recordings,
    queryFn: () => fetchList<RecordingView>(client, keys.recordings, '/api/recordings', byArrival),
    refetchInterval: ({ state }) =>
      state.data?.some(({ analysed, unlistened }) => !analysed && unlistened === null) ? UNDER_WAY_MS : false,
  });
}

/** Those in use, as opposed to those in the bin. */
export function useLiveRecordings(): readonly RecordingView[] {
  const { data } = useRecordings();
  return useMemo(() => (data ?? []).filter((r) => r.binnedAt === null), [data]);
}

export function useHits(enabled = true) {
  const client = useQueryClient();
  return useQuery({
    queryKey: keys.hits,
    queryFn: () => fetchList<HitView>(client, keys.hits, '/api/hits', byName),
    enabled,
  });
}

export function useFolders() {
  return useQuery({ queryKey: keys.folders, queryFn: () => getJson<WatchedFolder[]>('/api/folders') });
}

/** How the last scan of a folder stands, as the event stream tells it; null before the first word. */
export function useScan(folderId: string): ScanProgress | null {
  const { data } = useQuery<ScanProgress | null>({ queryKey: keys.scan(folderId), enabled: false, initialData: null });
  return data;
}

export function useCut(recordingId: string) {
  return useQuery({
    queryKey: keys.cut(recordingId),
    queryFn: () => getJson<CutView>(`/api/recordings/${recordingId}/cut`),
  });
}

/** Several recordings as they are cut, in the order of their ids; undefined where one has not come yet. */
export function useCuts(recordingIds: readonly string[]): readonly (CutView | undefined)[] {
  return useQueries({
    queries: recordingIds.map((id) => ({
      queryKey: keys.cut(id),
      queryFn: () => getJson<CutView>(`/api/recordings/${id}/cut`),
    })),
    combine: dataOf<CutView>,
  });
}

/** What is heard in the slices of recordings, in their order; asking has the rest listened to. */
export function useSoundsOf(views: readonly CutView[], enabled = true): readonly (KnownSounds | undefined)[] {
  const client = useQueryClient();
  return useQueries({
    queries: views.map(({ recording: { id, analysed } }) => ({
      queryKey: keys.sounds(id),
      queryFn: () => fetchSounds(id, client.getQueryData(keys.sounds(id))),
      enabled: analysed && enabled,
      refetchInterval: ({ state }: { state: { data?: KnownSounds } }) =>
        (state.data?.unheard ?? 0) > 0 && !unhearable.has(id) ? UNDER_WAY_MS : false,
    })),
    combine: dataOf<KnownSounds>,
  });
}

function dataOf<T>(results: readonly { readonly data: T | undefined }[]): (T | undefined)[] {
  return results.map(({ data }) => data);
}

export function usePlans() {
  return useQuery({ queryKey: keys.plans, queryFn: () => getJson<Stored<Plan>[]>('/api/plans') });
}

export function useStory(recordingId: string) {
  return useQuery({
    queryKey: keys.story(recordingId),
    queryFn: () => getJson<StoryView>(`/api/recordings/${recordingId}/story`),
  });
}

export function useKits() {
  return useQuery({ queryKey: keys.kits, queryFn: () => getJson<KitListEntry[]>('/api/kits') });
}

export function useKit(kitId: string | null) {
  return useQuery({
    queryKey: keys.kit(kitId ?? ''),
    queryFn: () => getJson<KitView>(`/api/kits/${kitId}`),
    enabled: kitId !== null,
  });
}

export function useHistory() {
  return useQuery({
    queryKey: keys.history,
    queryFn: () => getJson<HistoryAnswer>(`/api/history?browser=${browserId()}`),
  });
}

/** How far the search for onsets is in a recording, 0..1, as the event stream tells it; 0 before the first word. */
export function useAnalysisProgress(recordingId: string): number {
  const { data } = useQuery<number>({ queryKey: keys.analysis(recordingId), enabled: false, initialData: 0 });
  return data;
}
