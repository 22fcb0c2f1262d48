'use client';

import type { RecordingView } from '@/contract/views';
import type { Cancelled } from '@/core/describe/spectrum';
import type { Point } from '@/core/treatment/equaliser';
import { type ProcessorName, processorOf } from '@/core/treatment/processors';
import { valuesOf } from '@/core/treatment/step';
import type { LearntTone } from '@/worker/pool.worker';
import { ParameterRows } from '../parts/ParameterRows';
import { toldBands } from './Figures';
import { LearnNoise } from './LearnNoise';
import { LevelSteps } from './LevelSteps';
import type { RoomStretch } from './learn-room';
import { levelKeys } from './level-keys';
import { PointEditor } from './PointEditor';
import { isRecording, type StoredStep, type Subject } from './subject';
import { TuneTo } from './TuneTo';
import type { StepEdits } from './use-steps';

interface StepEditorProps {
  readonly subject: Subject;
  readonly step: StoredStep;
  readonly recording: RecordingView;
  readonly edits: StepEdits;
  /** The hit's pitch as it was, in hertz; null where none is heard. */
  readonly rootHz: number | null;
  /** The bands of the sound before its steps that cancel in mono. */
  readonly cancelled: readonly Cancelled[];
  /** The stretch of the recording that the wave shows. */
  readonly inSight: () => RoomStretch;
  /** The equaliser's point that is chosen. */
  readonly point: number;
  readonly onPoint: (index: number) => void;
  readonly onHearBand: () => void;
}

/** The settings of the step that is chosen. */
export function StepEditor(props: StepEditorProps) {
  const { subject, step, recording, edits, rootHz, cancelled, inSight, point, onPoint, onHearBand } = props;
  const { label, help, parameters } = processorOf(step.processor);
  const values = valuesOf(step);
  const keys = shownKeys(step.processor, subject, values as never) ?? Object.keys(parameters);
  return (
    <section aria-label={label} className="flex min-h-0 min-w-0 flex-1 flex-col border-line border-l px-4 py-1">
      <header className="flex h-7 flex-none items-center gap-2 text-[12px]">
        <h2 className="truncate font-semibold text-soft" title={help}>
          {label}
        </h2>
        {step.processor === 'equaliser' && (
          <button type="button" className="rounded px-1 text-verdigris hover:underline" onClick={onHearBand}>
            hear this band
          </button>
        )}
        <button
          type="button"
          className="ml-auto rounded px-1 text-soft hover:text-madder"
          title="Delete"
          onClick={() => edits.remove(step)}
        >
          remove
        </button>
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto">
        {step.processor === 'tune' && (
          <TuneTo
            rootHz={rootHz}
            hit={subject.hit}
            {...(values as unknown as { semitones: number; cents: number })}
            onMove={({ semitones, cents }) =>
              edits.set(step, 'tuning', {
                semitones: Math.max(-48, Math.min(48, semitones)),
                cents: Math.round(cents * 10) / 10,
              })
            }
          />
        )}
        <ParameterRows
          of={parameters}
          keys={keys}
          values={values as never}
          onPreview={(key, value) => edits.preview(step, value === null ? null : { [key]: value })}
          onSet={(said, set) => edits.set(step, said, set as Record<string, unknown>)}
        />
        {step.processor === 'level' && <LevelSteps {...{ step, subject, recording, edits }} />}
        {step.processor === 'channels' && cancelled.length > 0 && (
          <p className="border-line border-b py-1 text-[12px] text-madder" role="note">
            Folded to mono its sides cancel: {toldBands(cancelled)}. Take one side, or turn the polarity of one.
          </p>
        )}
        {step.processor === 'noise' && (
          <LearnNoise
            recording={recording}
            inSight={inSight}
            learnt={values as unknown as LearntTone}
            onLearn={(tone) => edits.set(step, 'room tone', { ...tone })}
          />
        )}
        {step.processor === 'equaliser' && (
          <PointEditor
            points={(values as unknown as { points: readonly Point[] }).points}
            index={point}
            onChoose={onPoint}
            onPoints={(points, said, done) =>
              done ? edits.set(step, said, { points }) : edits.preview(step, { points })
            }
          />
        )}
      </div>
    </section>
  );
}

/** A level shows the figure it goes to, and no other; that of a recording is a gain. */
function shownKeys(
  processor: ProcessorName,
  subject: Subject,
  values: { readonly to?: string },
): readonly string[] | null {
  if (processor !== 'level') return null;
  if (isRecording(subject)) return ['gainDb'];
  return levelKeys(values);
}
