import { useEffect, useMemo, useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { contentKey, plainGain, wholeChain } from '@/core/hit/key';
import type { ShownLevel, WaveReader } from '@/picture/levelled-wave';
import { stretchPeak } from '@/picture/wave';
import { draftedHits, useDrafts } from '../data/drafts';
import { useHits } from '../data/queries';
import { loudest } from '../parts/HitMini';
import { openSound } from '../sound/open-sound';
import type { StoredSlice } from './use-marks';

/**
 * The level that slices will have which are treated hits: by the hit's gain, or by the peak of its render. In order of their
 * starts.
 */
export function useSliceLevels(
  recording: RecordingView,
  slices: readonly StoredSlice[],
  source: WaveReader,
): readonly ShownLevel[] {
  const hits = useHits().data;
  const drafts = useDrafts();
  const treated = useMemo(() => {
    const bySlice = new Map(
      draftedHits(drafts, hits ?? [])
        .filter((h) => h.recordingId === recording.id && h.binnedAt === null && wholeChain(h).some((s) => s.active))
        .map((h) => [h.sliceId, h]),
    );
    return slices.flatMap((slice) => bySlice.get(slice.id) ?? []);
  }, [drafts, hits, recording.id, slices]);
  const [peaks, setPeaks] = useState<ReadonlyMap<string, number>>(new Map());
  const unknown = treated.filter((hit) => plainGain(hit) === null && !peaks.has(contentKey(hit)));
  const asked = unknown.map(contentKey).join('\n');
  // biome-ignore lint/correctness/useExhaustiveDependencies: the keys stand for the hits
  useEffect(() => {
    let wanted = true;
    const measure = async (hit: HitView) => {
      const pairs = await (await openSound()).samples.wave(hit, recording, { columns: 1 });
      if (wanted) setPeaks((known) => new Map(known).set(contentKey(hit), loudest(pairs)));
    };
    // What cannot be rendered is told where it is treated.
    for (const hit of unknown) void measure(hit).catch(() => {});
    return () => {
      wanted = false;
    };
  }, [asked]);
  return useMemo(
    () =>
      treated
        .flatMap((hit): ShownLevel[] => {
          const { startFrame, endFrame } = hit;
          const peak = peaks.get(contentKey(hit));
          const was = stretchPeak(source, startFrame, endFrame);
          const gain = plainGain(hit) ?? (peak !== undefined && was > 0 ? peak / was : null);
          return gain === null || gain === 1 ? [] : [{ startFrame, endFrame, gain }];
        })
        .sort((a, b) => a.startFrame - b.startFrame),
    [treated, peaks, source],
  );
}
