'use client';

import { type ReactNode, useMemo, useState } from 'react';
import type { Stored } from '@/contract/documents';
import { MAX_POINTS, MAX_STEPS } from '@/core/live/limits';
import { initialValues } from '@/core/parameter/values';
import { POINT, type Point } from '@/core/treatment/equaliser';
import { LIVE_NAMES, LIVE_PARAMETERS, type LiveStep, liveValues } from '@/core/treatment/live';
import { ParameterRows } from '../parts/ParameterRows';
import { EqualiserView } from '../treatment/EqualiserView';
import { PointEditor } from '../treatment/PointEditor';
import { AddStep, type OfferedStep, offer, StepRows } from '../treatment/StepList';
import type { StoredStep } from '../treatment/subject';
import { type StepEdits, useSteps } from '../treatment/use-steps';

const filter = (label: string, help: string, point: Partial<Point>): OfferedStep => ({
  processor: 'equaliser',
  label,
  help,
  values: { points: [{ ...initialValues(POINT), ...point }] },
});

const OFFERED: readonly OfferedStep[] = [
  ...LIVE_NAMES.map(offer),
  filter('Low-pass', 'takes the highs off, as an equaliser of one point', {
    kind: 'low-pass',
    frequencyHz: 4000,
    steepDb: 24,
  }),
  filter('High-pass', 'takes the lows off, as an equaliser of one point', {
    kind: 'high-pass',
    frequencyHz: 120,
    steepDb: 24,
  }),
];

/** What runs live: the steps of a pad, or of a bus. */
type Subject = {
  readonly owner: Readonly<Record<string, string>>;
  readonly name: string;
  readonly steps: readonly Stored<LiveStep>[];
  readonly sampleRate: number;
  /** What is said while there are none. */
  readonly nothing: string;
  /** What else can be done with a step. */
  readonly besides?: (step: Stored<LiveStep>) => ReactNode;
} & ({ readonly doc: 'padStep' } | { readonly doc: 'busStep' });

/** The steps that a sound goes through while it runs. */
export function LiveSteps({ doc, owner, name, steps, sampleRate, nothing, besides }: Subject) {
  const id = Object.values(owner)[0];
  // biome-ignore lint/correctness/useExhaustiveDependencies: the owner is made anew at each render, its id is not
  const edits = useSteps(useMemo(() => ({ doc, owner, name, steps }), [doc, id, name, steps]));
  const [chosenId, setChosenId] = useState<string | null>(null);
  const step = steps.find(({ id }) => id === chosenId) ?? steps[0];
  return (
    <section aria-label={doc === 'padStep' ? 'Steps of the pad' : 'Steps of the bus'} className="mt-1">
      <header className="-mt-[22px] mb-1 flex items-center text-[12px]">
        {steps.length < MAX_STEPS ? (
          <AddStep offered={OFFERED} onAdd={({ processor, values }) => setChosenId(edits.add(processor, values))} />
        ) : (
          <span className="ml-auto text-soft">all {MAX_STEPS} in use</span>
        )}
      </header>
      {steps.length === 0 && <p className="text-[12px] text-soft">{nothing}</p>}
      <StepRows {...{ steps, edits }} chosenId={step?.id ?? null} onChoose={setChosenId} />
      {step && (
        <StepSettings key={step.id} {...{ step, edits, sampleRate }}>
          {besides?.(step)}
        </StepSettings>
      )}
    </section>
  );
}

/** The settings of the chosen step. */
function StepSettings({
  step,
  edits,
  sampleRate,
  children,
}: {
  step: Stored<LiveStep>;
  edits: StepEdits;
  sampleRate: number;
  children: ReactNode;
}) {
  const [point, setPoint] = useState(0);
  const values = liveValues(step);
  const of = LIVE_PARAMETERS[step.processor];
  const points = step.processor === 'equaliser' ? (values as unknown as { points: readonly Point[] }).points : null;
  const setPoints = (next: readonly Point[], said: string, done: boolean) =>
    done ? edits.set(step, said, { points: next }) : edits.preview(step, { points: next });
  return (
    <div className="border-verdigris border-l-2 pl-2" data-testid="live-step">
      {points && (
        <>
          <div className="h-[96px]">
            <EqualiserView
              recording={{ sampleRate }}
              before={null}
              after={null}
              points={points}
              most={MAX_POINTS}
              chosen={point}
              onChoose={setPoint}
              onPoints={setPoints}
            />
          </div>
          <PointEditor points={points} index={point} onChoose={setPoint} onPoints={setPoints} />
        </>
      )}
      <ParameterRows
        of={of}
        keys={Object.keys(of) as never[]}
        values={values as never}
        onPreview={(key, value) => edits.preview(step, value === null ? null : { [key]: value })}
        onSet={(said, set) => edits.set(step, said, set as Record<string, unknown>)}
      />
      <div className="my-1 flex items-center gap-3">
        <button
          type="button"
          className="rounded text-[12px] text-soft hover:text-madder"
          onClick={() => edits.remove(step as StoredStep)}
        >
          Take this step off
        </button>
        {children}
      </div>
    </div>
  );
}
