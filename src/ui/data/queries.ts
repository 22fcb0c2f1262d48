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
