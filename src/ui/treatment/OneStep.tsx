import { useState } from 'react';
import { initialValues } from '@/core/parameter/values';
import type { ChainStep } from '@/core/treatment/chain';
import { PROCESSOR_NAMES, type ProcessorName, processorOf } from '@/core/treatment/processors';
import { Choice } from '../parts/Choice';
import { ParameterRows } from '../parts/ParameterRows';
import { levelKeys } from './level-keys';
import { firstValues } from './use-steps';

/** An equaliser's points are drawn on a hit of their own. */
const OFFERED = PROCESSOR_NAMES.filter((name) =>
  Object.values(processorOf(name).parameters).every(({ kind }) => kind !== 'list'),
);

/** One step with its values, to be added to several hits at once. */
export function OneStep({ onAdd }: { onAdd: (name: string, step: ChainStep) => void }) {
  const [processor, setProcessor] = useState<ProcessorName>('level');
  const [values, setValues] = useState<Readonly<Record<string, unknown>>>(firstValues('level', 'step'));
  const { label, parameters } = processorOf(processor);
  const all = { ...initialValues(parameters), ...values };
  const keys = (processor === 'level' && levelKeys(all as { to?: string })) || Object.keys(parameters);
  return (
    <section aria-label="One step" className="mt-2 flex-none border-line border-t px-2 pt-2">
      <p className="flex items-center gap-2">
        One step
        <Choice
          label="Step to add to those chosen"
          className="h-7 w-[160px]"
          value={processor}
          options={OFFERED.map((name) => [name, processorOf(name).label] as const)}
          onChoose={(name) => {
            setProcessor(name);
            setValues(firstValues(name, 'step'));
          }}
        />
        <button
          type="button"
          className="quiet-button ml-auto"
          onClick={() => onAdd(label.toLowerCase(), { processor, ...values })}
        >
          Add
        </button>
      </p>
      <div className="max-h-[130px] overflow-y-auto">
        <ParameterRows
          of={parameters}
          keys={keys}
          values={all as never}
          onSet={(_said, set) => setValues({ ...values, ...(set as Record<string, unknown>) })}
        />
      </div>
    </section>
  );
}
