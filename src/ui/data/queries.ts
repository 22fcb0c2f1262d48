import { useQuery } from '@tanstack/react-query';
import type { HistoryAnswer } from '@/contract/edits';
import type { CutView, KitListEntry, KitView, RecordingView } from '@/contract/views';
import { browserId, getJson } from './api';

export const keys = {
  recordings: ['recordings'] as const,
  cut: (id: string) => ['cut', id] as const,
  kits: ['kits'] as const,
  kit: (id: string) => ['kit', id] as const,
  history: ['history'] as const,
  analysis: (id: string) => ['analysis', id] as const,
};

export function useRecordings() {
  return useQuery({ queryKey: keys.recordings, queryFn: () => getJson<RecordingView[]>('/api/recordings') });
}

export function useCut(recordingId: string) {
  return useQuery({
    queryKey: keys.cut(recordingId),
    queryFn: () => getJson<CutView>(`/api/recordings/${recordingId}/cut`),
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
