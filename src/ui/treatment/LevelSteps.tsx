import type { RecordingView } from '@/contract/views';
import { number } from '@/core/parameter/parameter';
import { clip } from '@/core/parameter/values';
import { toDb } from '@/core/signal/units';
import { level } from '@/core/treatment/level';
import { decibels } from '../parts/figures';
import { NumberField } from '../parts/NumberField';
import { LEVEL_FIGURE } from './level-keys';
import { levelStep, useLevelStep } from './level-step';
import { isRecording, type StoredStep, type Subject } from './subject';
import type { StepEdits } from './use-steps';

const STEP_SIZE = number({ label: 'One step', unit: 'dB', low: 0.1, high: 24, step: 0.1, initial: 1 });
/** Where a recording's peak is brought to, in dBFS. */
const PEAK_DBFS = -1;

interface LevelStepsProps {
  readonly step: StoredStep;
  readonly subject: Subject;
  readonly recording: RecordingView;
  readonly edits: StepEdits;
}

/** One step up or down, of a size that a person chooses; for a recording also the gain that its peak needs. */
export function LevelSteps({ step, subject, recording, edits }: LevelStepsProps) {
  const size = useLevelStep();
  const key = LEVEL_FIGURE[(step.to as keyof typeof LEVEL_FIGURE | undefined) ?? 'gain'];
  const p = level.parameters[key];
  const now = (step[key] as number | undefined) ?? p.initial;
  const set = (value: number) => edits.set(step, 'level', { [key]: clip(p, value, 0.1) });
  const peakGain = PEAK_DBFS - toDb(recording.peak);
  return (
    <p className="flex h-8 items-center gap-2 border-line border-b text-[12px]">
      <NumberField inline of={STEP_SIZE} value={size} onCommit={levelStep.set} />
      {[-1, 1].map((by) => (
        <button
          key={by}
          type="button"
          className="h-6 rounded border border-line px-2 hover:border-edge"
          onClick={() => set(now + by * size)}
        >
          {by < 0 ? 'down' : 'up'}
        </button>
      ))}
      {isRecording(subject) && Number.isFinite(peakGain) && (
        <button
          type="button"
          className="h-6 rounded border border-line px-2 hover:border-edge"
          title={`The recording's peak is ${decibels(toDb(recording.peak))}FS`}
          onClick={() => set(peakGain)}
        >
          its peak to {decibels(PEAK_DBFS)}FS
        </button>
      )}
    </p>
  );
}
