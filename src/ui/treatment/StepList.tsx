'use client';

import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { RecordingView } from '@/contract/views';
import { PROCESSOR_NAMES, type ProcessorName, processorOf } from '@/core/treatment/processors';
import { valuesOf } from '@/core/treatment/step';
import { minus } from '../parts/figures';
import { Inherited } from './Inherited';
import { QuickSteps } from './QuickSteps';
import type { Known } from './quick-steps';
import { isRecording, type StoredStep, type Subject } from './subject';
import type { StepEdits } from './use-steps';

interface StepListProps {
  readonly subject: Subject;
  readonly recording: RecordingView;
  readonly edits: StepEdits;
  readonly chosenId: string | null;
  readonly onChoose: (id: string) => void;
  readonly known: Known;
}

/** The steps in order: chosen, switched, dragged to another place; before a hit's own those that it inherits. */
export function StepList({ subject, recording, edits, chosenId, onChoose, known }: StepListProps) {
  const { steps, hit } = subject;
  return (
    <section aria-label="Steps" className="flex min-h-0 w-[290px] flex-none flex-col px-2 py-1">
      <header className="flex h-7 flex-none items-center px-2 text-[12px]">
        <h2 className="font-semibold text-soft">Steps</h2>
        <AddStep
          offered={PROCESSOR_NAMES.filter((name) => !isRecording(subject) || !processorOf(name).singleSound).map(offer)}
          onAdd={({ processor, values }) => onChoose(edits.add(processor, values))}
        />
      </header>
      {hit && hit.inherited.length > 0 && <Inherited hit={hit} recording={recording} />}
      {steps.length === 0 && (
        <p className="px-2 py-2 text-soft">
          {isRecording(subject)
            ? 'Nothing is done to this recording yet. Its hits inherit the steps that you add; its samples stay as they are.'
            : subject.doc === 'memberStep'
              ? 'Nothing is done to this layer yet. The steps that you add are heard in this layered hit only.'
              : 'Nothing is done to this hit yet. Add a step; the recording stays as it is.'}
        </p>
      )}
      <StepRows {...{ steps, edits, chosenId, onChoose }} className="min-h-0 flex-1 overflow-y-auto" />
      <QuickSteps {...{ subject, recording, edits, known, onChoose }} />
    </section>
  );
}

/** Steps that are chosen, switched, and dragged to another place. */
export function StepRows({
  steps,
  edits,
  chosenId,
  onChoose,
  className,
}: Pick<StepListProps, 'edits' | 'chosenId' | 'onChoose'> & {
  steps: readonly StoredStep[];
  className?: string;
}) {
  // A click chooses; only a drag of some pixels moves.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => over && edits.move(String(active.id), String(over.id))}
    >
      <SortableContext items={steps.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        <ul className={className}>
          {steps.map((step) => (
            <StepRow
              key={step.id}
              step={step}
              chosen={step.id === chosenId}
              onChoose={() => onChoose(step.id)}
              onToggle={() => edits.toggle(step)}
            />
          ))}
        </ul>
      </SortableContext>
    </DndContext>
  );
}

function StepRow({
  step,
  chosen,
  onChoose,
  onToggle,
}: {
  step: StoredStep;
  chosen: boolean;
  onChoose: () => void;
  onToggle: () => void;
}) {
  const { setNodeRef, listeners, transform, transition } = useSortable({ id: step.id });
  const { label, told } = processorOf(step.processor);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys of the page choose steps
    <li
      ref={setNodeRef}
      {...listeners}
      data-testid="step"
      data-chosen={chosen || undefined}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
      className={`flex h-[26px] cursor-grab items-center gap-2 border-line border-b px-2 ${chosen ? 'bg-selection shadow-[inset_3px_0_0_var(--verdigris)]' : 'hover:bg-paper'}`}
      onClick={onChoose}
    >
      <input
        type="checkbox"
        aria-label={`${label} on`}
        checked={step.active}
        onPointerDown={(event) => event.stopPropagation()}
        onClick={(event) => event.stopPropagation()}
        onChange={onToggle}
      />
      <span className={`flex-1 truncate ${step.active ? '' : 'text-soft'} ${chosen ? 'font-semibold' : ''}`}>
        {label}
      </span>
      <span className="figure truncate text-[12px] text-soft">{told && minus(told(valuesOf(step) as never))}</span>
    </li>
  );
}

/** A step that can be added. */
export interface OfferedStep {
  readonly processor: ProcessorName;
  readonly label: string;
  readonly help: string;
  /** Values that it begins with; missing for those it has anyway. */
  readonly values?: Readonly<Record<string, unknown>>;
}

/** A processor with the values that it begins with anyway. */
export function offer(processor: ProcessorName): OfferedStep {
  const { label, help } = processorOf(processor);
  return { processor, label, help };
}

/** The steps to choose from, each with what it does. */
export function AddStep({ offered, onAdd }: { offered: readonly OfferedStep[]; onAdd: (step: OfferedStep) => void }) {
  return (
    <Menu>
      <MenuButton className="ml-auto rounded px-1 text-verdigris hover:underline">add …</MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-30 max-h-[420px] w-[430px] overflow-y-auto rounded-lg border border-edge bg-sheet p-1 shadow-lg [--anchor-gap:4px]"
      >
        {offered.map((step) => (
          <MenuItem key={step.label}>
            <button
              type="button"
              className="flex w-full items-baseline gap-2 rounded px-2 py-1 text-left data-focus:bg-selection"
              onClick={() => onAdd(step)}
            >
              <span className="w-[124px] flex-none">{step.label}</span>
              <span className="text-[12px] text-soft">{step.help}</span>
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
