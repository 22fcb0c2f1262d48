import { useMemo } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { draftedHits, useDrafts } from './drafts';
import { useHits, useRecordings } from './queries';

/** A hit that has a page of its own, its drafts applied, with the recording that its list names. */
export interface OpenedHit {
  readonly hit: HitView | undefined;
  readonly recordings: readonly RecordingView[];
  readonly recording: RecordingView | undefined;
  /** The library. */
  readonly hits: readonly HitView[];
  readonly error: Error | null;
  /** Neither there nor known to be missing. */
  readonly isPending: boolean;
}

export function useOpenedHit(hitId: string): OpenedHit {
  const hits = useHits();
  const recordings = useRecordings();
  const drafts = useDrafts();
  const stored = hits.data?.find((h) => h.id === hitId);
  const hit = useMemo(() => stored && draftedHits(drafts, [stored])[0], [stored, drafts]);
  const error = hits.error ?? recordings.error;
  return {
    hit,
    recordings: recordings.data ?? [],
    recording: recordings.data?.find((r) => r.id === hit?.recordingId),
    hits: hits.data ?? [],
    error,
    isPending: !error && (hits.isPending || recordings.isPending),
  };
}
