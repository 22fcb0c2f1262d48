import { keepPreviousData, type QueryClient, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { DocOf, Stored } from '@/contract/documents';
import type { HistoryAnswer } from '@/contract/edits';
import type { ScanProgress, WatchedFolder } from '@/contract/imports';
import { NAMED, type NamedDoc } from '@/contract/kinds';
import { resolvedHits, resolvedKit } from '@/contract/resolved';
import type {
  CutView,
  GrooveListEntry,
  GrooveView,
  HitView,
  KitDocs,
  KitListEntry,
  ListedHit,
  RecordingTempo,
  RecordingView,
  StoryView,
} from '@/contract/views';
import type { Levels } from '@/core/onset/silence';
import { browserId, getJson, getLevels } from './api';
import { fetchSounds, type KnownSounds, unhearable } from './descriptions';
import { byArrival, byName, fetchList } from './lists';

export const keys = {
  recordings: ['recordings'] as const,
  tempos: ['tempos'] as const,
  story: (id: string) => ['story', id] as const,
  cut: (id: string) => ['cut', id] as const,
  sounds: (id: string) => ['sounds', id] as const,
  levels: (id: string) => ['levels', id] as const,
  plans: ['plans'] as const,
  recipes: ['recipes'] as const,
  performances: ['performances'] as const,
  layouts: ['layouts'] as const,
  hits: ['hits'] as const,
  folders: ['folders'] as const,
  scan: (id: string) => ['scan', id] as const,
  kits: ['kits'] as const,
  kit: (id: string) => ['kit', id] as const,
  grooves: ['grooves'] as const,
  groove: (id: string) => ['groove', id] as const,
  history: ['history'] as const,
  wholeHistory: ['history', 'whole'] as const,
  analysis: (id: string) => ['analysis', id] as const,
};

/** Polling interval for work under way, in case an event is lost. */
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

/** Those not in the bin. */
export function useLiveRecordings(): readonly RecordingView[] {
  const { data } = useRecordings();
  return useMemo(() => (data ?? []).filter((r) => r.binnedAt === null), [data]);
}

const resolvedList = (hits: readonly ListedHit[]): readonly HitView[] => resolvedHits(hits);

export function useHits(enabled = true) {
  const client = useQueryClient();
  return useQuery({
    queryKey: keys.hits,
    queryFn: () => fetchList<ListedHit>(client, keys.hits, '/api/hits', byName),
    select: resolvedList,
    enabled,
  });
}

/** The hits as they are shown now, also those of an edit that no component has rendered yet. */
export function hitsNow(client: QueryClient): readonly HitView[] {
  return resolvedList(client.getQueryData<readonly ListedHit[]>(keys.hits) ?? []);
}

export function useFolders() {
  return useQuery({ queryKey: keys.folders, queryFn: () => getJson<WatchedFolder[]>('/api/folders') });
}

/** State of the last scan of a folder, from the event stream; null before its first event. */
export function useScan(folderId: string): ScanProgress | null {
  const { data } = useQuery<ScanProgress | null>({ queryKey: keys.scan(folderId), enabled: false, initialData: null });
  return data;
}

/** How the cut view of a recording is asked for. */
export function cutQuery(recordingId: string) {
  return {
    queryKey: keys.cut(recordingId),
    queryFn: () => getJson<CutView>(`/api/recordings/${recordingId}/cut`),
  };
}

export function useCut(recordingId: string) {
  return useQuery(cutQuery(recordingId));
}

/** Cut views of several recordings, in the order of their ids; undefined until loaded. */
export function useCuts(recordingIds: readonly string[]): readonly (CutView | undefined)[] {
  return useQueries({
    queries: recordingIds.map(cutQuery),
    combine: dataOf<CutView>,
  });
}

/** Descriptions of the slices of recordings, in order; asking starts the missing analysis. */
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

/** All documents of a kind that is listed whole. */
export function useNamed<D extends NamedDoc>(doc: D) {
  const list = NAMED[doc];
  return useQuery({ queryKey: keys[list], queryFn: () => getJson<Stored<DocOf<D>>[]>(`/api/${list}`) });
}

/** Levels of a recording for finding where its sounds end; null before they are there. */
export function useLevels(recordingId: string, analysed: boolean): Levels | null {
  const { data } = useQuery({
    queryKey: keys.levels(recordingId),
    queryFn: () => getLevels(recordingId),
    enabled: analysed,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ?? null;
}

export function useStory(recordingId: string) {
  return useQuery({
    queryKey: keys.story(recordingId),
    queryFn: () => getJson<StoryView>(`/api/recordings/${recordingId}/story`),
  });
}

const kitsThemselves = (list: readonly KitListEntry[]) => list.filter(({ versionOf }) => versionOf === null);

/** All kits, without their versions. */
export function useKits() {
  return useQuery({
    queryKey: keys.kits,
    queryFn: () => getJson<readonly KitListEntry[]>('/api/kits'),
    select: kitsThemselves,
  });
}

/** The versions of a kit that were kept, the latest first. */
export function useVersions(kitId: string): readonly KitListEntry[] {
  const { data } = useQuery({
    queryKey: keys.kits,
    queryFn: () => getJson<readonly KitListEntry[]>('/api/kits'),
  });
  return useMemo(
    () => (data ?? []).filter(({ versionOf }) => versionOf === kitId).sort((a, b) => (b.keptAt ?? 0) - (a.keptAt ?? 0)),
    [data, kitId],
  );
}

export function useKit(kitId: string | null) {
  return useQuery({
    queryKey: keys.kit(kitId ?? ''),
    queryFn: () => getJson<KitDocs>(`/api/kits/${kitId}`),
    select: resolvedKit,
    enabled: kitId !== null,
    // The one before stays until the next is there: what plays goes over from one to the other without a gap.
    placeholderData: kitId === null ? undefined : keepPreviousData,
  });
}

/** Recordings that have a tempo, by title; fetched anew whenever it is asked for. */
export function useTempos(isAsked = true): readonly RecordingTempo[] {
  const { data } = useQuery({
    queryKey: keys.tempos,
    queryFn: () => getJson<readonly RecordingTempo[]>('/api/recordings/tempos'),
    enabled: isAsked,
    staleTime: 0,
  });
  return data ?? NO_TEMPOS;
}
const NO_TEMPOS: readonly RecordingTempo[] = [];

/** All grooves by name. */
export function useGrooves() {
  return useQuery({ queryKey: keys.grooves, queryFn: () => getJson<readonly GrooveListEntry[]>('/api/grooves') });
}

export function useGroove(id: string | null) {
  return useQuery({
    queryKey: keys.groove(id ?? ''),
    queryFn: () => getJson<GrooveView>(`/api/grooves/${id}`),
    // Thousands of notes would be compared at every stroke.
    structuralSharing: false,
    enabled: id !== null,
  });
}

export function useHistory() {
  return useQuery({
    queryKey: keys.history,
    queryFn: () => getJson<HistoryAnswer>(`/api/history?browser=${browserId()}`),
  });
}

/** Progress of the onset analysis of a recording, 0..1, from the event stream; 0 before its first event. */
export function useAnalysisProgress(recordingId: string): number {
  const { data } = useQuery<number>({ queryKey: keys.analysis(recordingId), enabled: false, initialData: 0 });
  return data;
}
