import { useEffect, useMemo, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { contentKey, type TreatedHit } from '@/core/hit/key';
import type { Inspected } from '@/worker/pool.worker';
import { openSound } from '../sound/sound';

export type Inspection = Inspected | { readonly error: string } | null;

/**
 * Wave, figures and spectrum of a hit as it sounds, the wave in `columns`; the last ones until those of a change are there.
 * Null before the first.
 */
export function useInspected(hit: TreatedHit, recording: RecordingView, columns: number): Inspection {
  const [found, setFound] = useState<Inspection>(null);
  const key = contentKey(hit);
  const latest = useRef('');
  latest.current = `${key} ${columns}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for the hit and its recording
  useEffect(() => {
    if (columns === 0) return;
    const asked = latest.current;
    openSound()
      .then((sound) => sound.samples.inspect(hit, recording, columns))
      .then(
        (inspected) => latest.current === asked && setFound(inspected),
        (error: Error) => latest.current === asked && setFound({ error: error.message }),
      );
  }, [key, columns]);
  return found;
}

/** The hit as it was: the stretch of its recording with nothing done to it. */
export function useUntreated(hit: TreatedHit): TreatedHit {
  const { id, recordingId, startFrame, endFrame } = hit;
  // biome-ignore lint/correctness/useExhaustiveDependencies: only where the hit lies matters
  return useMemo(() => ({ ...hit, steps: [] }), [id, recordingId, startFrame, endFrame]);
}

/** The gain over time in dB that a step makes, in `columns`; null where it makes none. */
export function useGainCurve(
  hit: TreatedHit,
  recording: RecordingView,
  stepId: string | null,
  columns: number,
): Float32Array | null {
  const [curve, setCurve] = useState<{ readonly of: string; readonly values: Float32Array | null } | null>(null);
  const at = hit.steps.findIndex((step) => step.id === stepId);
  const key =
    at < 0 ? '' : contentKey({ ...hit, steps: hit.steps.slice(0, at + 1).map((step) => ({ ...step, active: true })) });
  const latest = useRef('');
  latest.current = key;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for the hit and its recording
  useEffect(() => {
    if (columns === 0 || key === '' || stepId === null) return;
    openSound()
      .then((sound) => sound.samples.gainCurve(hit, recording, stepId, columns))
      .then(
        (values) => latest.current === key && setCurve({ of: stepId, values }),
        () => {
          // The wave says what is wrong.
        },
      );
  }, [key, columns]);
  return curve?.of === stepId ? curve.values : null;
}
