import { useMemo } from 'react';
import type { RecordingView } from '@/contract/views';
import type { PitchMoment } from '@/core/describe/pitch-track';
import { contentKey, type TreatedHit } from '@/core/hit/key';
import type { WaveView } from '@/worker/columns';
import type { Inspected } from '@/worker/pool.worker';
import { answered, useAnswer } from '../sound/use-answer';

export interface Inspection {
  /** Figures and spectrum; the last ones until those of a change are there, null before the first. */
  readonly value: Inspected | null;
  /** Why it could not be rendered; null where it could. */
  readonly error: string | null;
}

/** Figures and spectrum of a hit as it sounds. */
export function useInspected(hit: TreatedHit, recording: RecordingView): Inspection {
  const answer = useAnswer(contentKey(hit), async (samples) => {
    // The wave is asked for first: it is what the eye follows while a bar is turned.
    await new Promise((done) => setTimeout(done, 0));
    return samples.inspect(hit, recording);
  });
  return answered(answer);
}

/** The wave of a hit as it sounds, in the columns of a view; null before it is there, and for no view. */
export function useWaveIn(hit: TreatedHit, recording: RecordingView, view: WaveView | null): Float32Array | null {
  const key = view && view.columns > 0 ? `${contentKey(hit)} ${viewKey(view)}` : null;
  const answer = useAnswer(key, (samples) => samples.wave(hit, recording, view as WaveView));
  return key === null ? null : answered(answer).value;
}

const viewKey = ({ columns, start, end }: WaveView) => `${columns} ${start} ${end}`;

/** The pitch over time of a hit as it sounds; null before it is known, and while `wanted` is false. */
export function usePitchTrack(
  hit: TreatedHit,
  recording: RecordingView,
  wanted: boolean,
): readonly PitchMoment[] | null {
  const answer = useAnswer(wanted ? contentKey(hit) : null, (samples) => samples.pitchTrack(hit, recording));
  return answered(answer).value;
}

/** The hit as it was: what it is made of, with no steps of its own. */
export function useUntreated(hit: TreatedHit): TreatedHit {
  const untreated = { ...hit, steps: [] };
  const key = `${hit.id} ${contentKey(untreated)}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for what it is made of
  return useMemo(() => untreated, [key]);
}

/** The gain over time in dB that a step makes, in the columns of a view; null where it makes none. */
export function useGainCurve(
  hit: TreatedHit,
  recording: RecordingView,
  stepId: string | null,
  view: WaveView,
): Float32Array | null {
  const at = hit.steps.findIndex((step) => step.id === stepId);
  const until = { ...hit, steps: hit.steps.slice(0, at + 1).map((step) => ({ ...step, active: true })) };
  const isAsked = view.columns > 0 && at >= 0 && stepId !== null;
  const key = isAsked ? `${stepId} ${viewKey(view)} ${contentKey(until)}` : null;
  const answer = useAnswer(key, (samples) => samples.gainCurve(hit, recording, stepId as string, view));
  // The wave says what is wrong.
  return answer?.of.startsWith(`${stepId} `) ? answered(answer).value : null;
}
